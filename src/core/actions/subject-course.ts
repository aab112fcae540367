import type { CarriedPose } from '../carry/carry-poses';
import { applyChanges, poseAtFrame } from '../document/document';
import {
  type CrossingDocument,
  type EdgeSettings,
  type OutlineRow,
  plainEdge,
  plainPose,
  poseId,
  type PoseRow,
} from '../document/tables';
import { changeRow, type RowChange, sameRow } from '../document/edit';
import { numbersPerPoint as N } from '../model/choices';
import type { SubjectPart } from '../subject/subject-parts';
import { deleteOutline, pointIds, setPose } from './actions';
import { putCarried } from './carry-actions';
import { newPart, partsOf } from './subject-actions';

/** A further part or hole as it lies on a frame; one whose id no outline has came to be. */
type Part = Pick<SubjectPart, 'id' | 'coordinates' | 'hole'>;

/** Where a subject's parts lie, by frame: those that are not there have left. */
type PartsOn = ReadonlyMap<number, readonly Part[]>;

/**
 * Puts carried poses of an outline, and with a subject those of its further parts and holes: a part that came to be becomes an outline
 * for the frames on which it is there, and one that left ends there. What a hand has made or settled stays.
 */
export function putCarriedSubject(
  document: CrossingDocument,
  outlineId: string,
  poses: readonly (CarriedPose & { parts?: readonly Part[] })[],
  newId: () => string,
): RowChange[] {
  const own = poses.map(({ frame, coordinates, doubt, unsure, offBy }) => ({
    ...{ frame, coordinates, doubt, unsure, offBy },
  }));
  const partsOn = new Map<number, readonly Part[]>();
  for (const { frame, parts } of poses) {
    const before = poseAtFrame(document, outlineId, frame);
    if (parts && (!before || before.origin === 'carried')) partsOn.set(frame, parts);
  }
  return [
    ...putCarried(document, outlineId, own),
    ...putParts(document, outlineId, partsOn, 'carried', newId),
  ];
}

/** Puts a subject's pose by hand on a frame, and those of its parts, as {@link putCarriedSubject} does. */
export function putSubject(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  { coordinates, parts }: { coordinates: readonly number[]; parts: readonly Part[] },
  newId: () => string,
): RowChange[] {
  const partsOn = new Map([[frame, parts]]);
  return [
    ...setPose(document, outlineId, frame, coordinates),
    ...putParts(document, outlineId, partsOn, 'by hand', newId),
  ];
}

function putParts(
  document: CrossingDocument,
  subjectId: string,
  partsOn: PartsOn,
  origin: PoseRow['origin'],
  newId: () => string,
): RowChange[] {
  const known = partsOf(document, subjectId);
  const changes: RowChange[] = [];
  let now = document;
  const put = (made: readonly RowChange[]) => {
    now = applyChanges(now, made);
    changes.push(...made);
  };
  for (const part of known) if (!part.locked) put(putPart(now, part, partsOn, origin, newId));
  const began = new Map<string, PoseOf[]>();
  for (const [frame, parts] of partsOn)
    for (const part of parts) {
      if (document.outlines[part.id]) continue;
      // By hand there is one frame, and each part without an id is one of its own.
      const id = part.id || `${began.size}`;
      began.set(id, [...(began.get(id) ?? []), { ...part, frame }]);
    }
  const look = lookOf(document, document.outlines[subjectId]);
  for (const poses of began.values()) {
    const [{ coordinates, hole }] = poses;
    const points = pointIds(coordinates.length / N, newId);
    const row = { ...newPart(now, subjectId, hole, points, newId), ...look, ...endsOf(true, true) };
    put([
      changeRow('outline', null, row),
      ...poses.map((pose) => changeRow('pose', null, poseRow(null, row.id, pose, origin))),
    ]);
  }
  return changes;
}

type PoseOf = Part & { frame: number };

/** The edge and blur that a subject's further parts share with it. */
function lookOf(
  { edges }: CrossingDocument,
  outline: OutlineRow,
): EdgeSettings & Pick<OutlineRow, 'shutter' | 'phase'> {
  const first: EdgeSettings = edges[outline.id]?.[0] ?? outline;
  const { featherInside, featherOutside, spread, roundness } = first;
  const { shutter, phase } = outline;
  return { ...plainEdge, featherInside, featherOutside, spread, roundness, shutter, phase };
}

const endsOf = (before: boolean, after: boolean): Partial<Pick<OutlineRow, 'beforeFirst' | 'afterLast'>> => ({
  ...(before && { beforeFirst: 'empty' }),
  ...(after && { afterLast: 'empty' }),
});

function poseRow(
  before: PoseRow | null,
  outlineId: string,
  { frame, coordinates }: Pick<PoseOf, 'frame' | 'coordinates'>,
  origin: PoseRow['origin'],
): PoseRow {
  const { onward } = before ?? plainPose;
  return {
    ...plainPose,
    ...{ onward, id: poseId(outlineId, frame), outlineId, frame, origin, coordinates: coordinates.slice() },
  };
}

/** One part's poses: where it is not there it ends, and what is left of it behind that becomes an outline of its own. */
function putPart(
  document: CrossingDocument,
  part: OutlineRow,
  partsOn: PartsOn,
  origin: PoseRow['origin'],
  newId: () => string,
): RowChange[] {
  const before = document.poses[part.id] ?? [];
  const after = new Map(before.map((pose) => [pose.frame, pose]));
  const away: number[] = [];
  for (const [frame, parts] of partsOn) {
    const own = after.get(frame) ?? null;
    if (origin === 'carried' && own && own.origin !== 'carried') continue;
    const found = parts.find(({ id }) => id === part.id);
    if (!found) {
      after.delete(frame);
      away.push(frame);
    } else if (found.coordinates.length === part.points.length * N)
      after.set(frame, poseRow(own, part.id, { ...found, frame }, origin));
  }
  if (after.size === 0) return deleteOutline(document, part.id);
  const [first, ...later] = stretchesOf(
    [...after.values()].sort((a, b) => a.frame - b.frame),
    away,
  );
  const endsHere = (stretch: readonly PoseRow[], follows: boolean, goesOn: boolean) =>
    endsOf(
      follows || away.some((frame) => frame < stretch[0].frame),
      goesOn || away.some((frame) => frame > stretch[stretch.length - 1].frame),
    );
  const row = { ...part, ...endsHere(first, false, later.length > 0) };
  const stays = new Set(first.map(({ frame }) => frame));
  const changes: RowChange[] = [
    ...(sameRow(part, row) ? [] : [changeRow('outline', part, row)]),
    ...before.filter(({ frame }) => !stays.has(frame)).map((pose) => changeRow('pose', pose, null)),
    ...first.flatMap((pose) => {
      const was = before.find(({ frame }) => frame === pose.frame) ?? null;
      return sameRow(was, pose) ? [] : [changeRow('pose', was, pose)];
    }),
  ];
  for (const [k, stretch] of later.entries()) {
    const now = applyChanges(document, changes);
    const points = pointIds(part.points.length, newId);
    const { id, name, position } = newPart(now, part.subjectId!, part.combine === 'take away', points, newId);
    const ends = endsHere(stretch, true, k + 1 < later.length);
    changes.push(
      changeRow('outline', null, { ...part, id, name, position, points, hinge: null, ...ends }),
      ...stretch.map((pose) =>
        changeRow('pose', null, { ...pose, id: poseId(id, pose.frame), outlineId: id }),
      ),
    );
  }
  return changes;
}

/** Poses in a row, parted where the part is away between two of them. */
function stretchesOf(poses: readonly PoseRow[], away: readonly number[]): PoseRow[][] {
  const out: PoseRow[][] = [];
  let last = -Infinity;
  for (const pose of poses) {
    const parted = away.some((frame) => frame > last && frame < pose.frame);
    if (out.length === 0 || parted) out.push([]);
    out[out.length - 1].push(pose);
    last = pose.frame;
  }
  return out;
}
