import { mirroredPose, reversedPose, startingCoordinates } from '../outline';
import { pointIds, setOutline } from './actions';
import { otherSide } from '../model/choices';
import { outlinesOfLayer, strokesOf } from '../document/document';
import {
  type CrossingDocument,
  plainPose,
  edgeId,
  type EdgeRow,
  type OutlineRow,
  poseId,
  type PoseRow,
} from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { usualEnds } from '../document/plans';
import { type Combine, numbersPerPoint as N } from '../model/choices';

/** What one action does to whole outlines; each returns the row changes of one edit, none when nothing is to do. */

export function setCombine(document: CrossingDocument, outlineId: string, combine: Combine): RowChange[] {
  return setOutline(document, outlineId, {
    combine,
    ...usualEnds(document.crossing.plan, combine),
  });
}

/** Moves an outline one place up (−1) or down (1) in the order in which those of its layer combine. */
export function moveInOrder(document: CrossingDocument, outlineId: string, by: -1 | 1): RowChange[] {
  const outline = document.outlines[outlineId];
  const all = outline ? outlinesOfLayer(document, outline.layerId) : [];
  const at = all.findIndex(({ id }) => id === outlineId);
  const other = all[at + by];
  if (!outline || !other) return [];
  return [
    changeRow('outline', outline, { ...outline, position: other.position }),
    changeRow('outline', other, { ...other, position: outline.position }),
  ];
}

/** An outline with all that belongs to it, apart from any crossing: what is copied and put elsewhere. */
export interface LooseOutline {
  outline: OutlineRow;
  poses: readonly PoseRow[];
  edges: readonly EdgeRow[];
}

export function looseOutline(document: CrossingDocument, outlineId: string): LooseOutline | null {
  const outline = document.outlines[outlineId];
  if (!outline) return null;
  return { outline, poses: document.poses[outlineId] ?? [], edges: document.edges[outlineId] ?? [] };
}

/** Puts a copied outline on a layer, as one of its own, last in order; it is no part of a subject any more. */
export function placeOutline(
  document: CrossingDocument,
  layerId: string,
  { outline, poses, edges }: LooseOutline,
  id: string,
): RowChange[] {
  const position = 1 + Math.max(-1, ...Object.values(document.outlines).map((row) => row.position));
  const cutsLayerId =
    outline.cutsLayerId && document.layers[outline.cutsLayerId] ? outline.cutsLayerId : null;
  return [
    changeRow('outline', null, {
      ...outline,
      id,
      layerId,
      cutsLayerId,
      position,
      purpose: 'any',
      subjectId: null,
    }),
    ...poses.map((pose) => changeRow('pose', null, { ...pose, id: poseId(id, pose.frame), outlineId: id })),
    ...edges.map((edge) => changeRow('edge', null, { ...edge, id: edgeId(id, edge.frame), outlineId: id })),
  ];
}

/** The outline with every pose reshaped alike and its points in another order. */
function reshaped(
  { outline, poses, edges }: LooseOutline,
  settings: Partial<OutlineRow>,
  reshape: (coordinates: readonly number[]) => number[],
  reorder: <V>(values: readonly V[]) => V[],
): LooseOutline {
  return {
    outline: { ...outline, ...settings, points: reorder(outline.points), factors: reorder(outline.factors) },
    poses: poses.map((pose) => ({
      ...pose,
      coordinates: reshape(pose.coordinates),
      offBy: pose.offBy.length === outline.points.length ? reorder(pose.offBy) : [],
    })),
    edges: edges.map((edge) => ({ ...edge, factors: reorder(edge.factors) })),
  };
}

/** The row changes from an outline to another of the same id and frames. */
function exchanged(before: LooseOutline, after: LooseOutline): RowChange[] {
  return [
    changeRow('outline', before.outline, after.outline),
    ...before.poses.map((pose, k) => changeRow('pose', pose, after.poses[k])),
    ...before.edges.map((edge, k) => changeRow('edge', edge, after.edges[k])),
  ];
}

/** The outline walked the other way; what it cuts stays the same. */
export function reverseOutline(document: CrossingDocument, outlineId: string): RowChange[] {
  const loose = looseOutline(document, outlineId);
  return loose ? exchanged(loose, reversed(loose)) : [];
}

function reversed(loose: LooseOutline): LooseOutline {
  const { points, hinge } = loose.outline;
  const sweptSide = otherSide(loose.outline.sweptSide);
  // Walked the other way a side begins where it ended.
  const begins = hinge === null ? null : points[(points.indexOf(hinge) + 1) % points.length];
  const settings = { sweptSide, hinge: begins };
  return reshaped(loose, settings, reversedPose, (values) => [...values].reverse());
}

/** The outline mirrored left to right in its shot, `width` px wide. */
export function mirrorOutline(document: CrossingDocument, outlineId: string, width: number): RowChange[] {
  const loose = looseOutline(document, outlineId);
  if (!loose) return [];
  const sweptSide = otherSide(loose.outline.sweptSide);
  const mirror = (coordinates: readonly number[]) => mirroredPose(coordinates, width);
  return exchanged(
    loose,
    reshaped(loose, { sweptSide }, mirror, (values) => [...values]),
  );
}

/**
 * Parts an outline in two: a seam at one of its inner points, which both keep; a loop along the line between two
 * of its points. The first part stays the outline, the second becomes one of its own after it.
 *
 * @returns nothing when it cannot be parted there.
 */
export function splitOutline(
  document: CrossingDocument,
  outlineId: string,
  points: ReadonlySet<number>,
  newId: () => string,
): RowChange[] {
  const loose = looseOutline(document, outlineId);
  if (!loose) return [];
  const count = loose.outline.points.length;
  const [a, b] = [...points].sort((p, q) => p - q);
  if ([...points].some((point) => point < 0 || point >= count)) return [];
  const loop = loose.outline.kind === 'loop';
  const range = (from: number, to: number) =>
    Array.from({ length: to - from + 1 }, (_, k) => (from + k) % count);
  let parts: number[][];
  if (loop) {
    if (points.size !== 2) return [];
    parts = [range(b, a + count), range(a, b)];
    if (parts.some((part) => part.length < 3)) return [];
  } else {
    if (points.size !== 1 || a === 0 || a === count - 1) return [];
    parts = [range(0, a), range(a, count - 1)];
  }
  const pick =
    (part: readonly number[]) =>
    <V>(values: readonly V[]): V[] =>
      values.length === 0 ? [] : part.map((p) => values[p]);
  const taken = (part: readonly number[]) => (coordinates: readonly number[]) => {
    const own = part.flatMap((p) => coordinates.slice(p * N, p * N + N));
    if (!loop) return own;
    // The new side runs straight.
    own.fill(0, 2, 4);
    own.fill(0, own.length - 2);
    return own;
  };
  const [first, second] = parts.map((part) => reshaped(loose, { hinge: null }, taken(part), pick(part)));
  const id = newId();
  const name = `${loose.outline.name}, part 2`;
  return [
    ...exchanged(loose, first),
    ...placeOutline(
      document,
      loose.outline.layerId,
      {
        ...second,
        outline: { ...second.outline, name, points: pointIds(second.outline.points.length, newId) },
      },
      id,
    ),
  ];
}

/**
 * Joins two seams of a layer at the ends that lie nearest to each other. The first goes on, with a pose wherever
 * either has one; the second is gone.
 */
export function joinSeams(document: CrossingDocument, firstId: string, secondId: string): RowChange[] {
  const [first, other] = [looseOutline(document, firstId), looseOutline(document, secondId)];
  if (!first || !other || firstId === secondId) return [];
  if (first.outline.kind !== 'seam' || other.outline.kind !== 'seam') return [];
  if (first.poses.length === 0 || other.poses.length === 0) return [];
  const at = first.poses[0].frame;
  const [a, b] = [first.poses, other.poses].map((poses) => startingCoordinates(poses, at)!);
  const end = (coordinates: readonly number[], last: boolean) => coordinates.slice(last ? -N : 0).slice(0, 2);
  const gap = (lastOfA: boolean, lastOfB: boolean) =>
    Math.hypot(end(a, lastOfA)[0] - end(b, lastOfB)[0], end(a, lastOfA)[1] - end(b, lastOfB)[1]);
  const gaps = [gap(true, false), gap(true, true), gap(false, true), gap(false, false)];
  const nearest = gaps.indexOf(Math.min(...gaps));
  // Which of the two comes first, and whether the second is walked the other way.
  const turned = nearest === 1 || nearest === 3 ? reversed(other) : other;
  const inOrder = nearest < 2 ? [first, turned] : [turned, first];
  const frames = [...new Set([...first.poses, ...other.poses].map(({ frame }) => frame))].sort(
    (p, q) => p - q,
  );
  const taken = new Set(first.outline.points);
  const names = inOrder.flatMap(({ outline }) =>
    outline.id === firstId ? outline.points : outline.points.map((point) => nameBeside(taken, point)),
  );
  const joined = frames.map((frame): PoseRow => {
    const own = first.poses.find((pose) => pose.frame === frame);
    return {
      ...plainPose,
      id: poseId(firstId, frame),
      outlineId: firstId,
      frame,
      origin: own?.origin ?? 'by hand',
      onward: own?.onward ?? 'linear',
      coordinates: inOrder.flatMap(({ poses }) => [...startingCoordinates(poses, frame)!]),
    };
  });
  const factors = inOrder.some(({ outline }) => outline.factors.length > 0)
    ? inOrder.flatMap(({ outline }) =>
        outline.factors.length > 0 ? outline.factors : outline.points.map(() => 1),
      )
    : [];
  return [
    changeRow('outline', first.outline, { ...first.outline, points: names, factors }),
    ...joined.map((pose) =>
      changeRow('pose', first.poses.find(({ frame }) => frame === pose.frame) ?? null, pose),
    ),
    // Keys of the first one's edge stay, without factors: they were for other points.
    ...first.edges
      .filter((edge) => edge.factors.length > 0)
      .map((edge) => changeRow('edge', edge, { ...edge, factors: [] })),
    ...Object.values(document.outlines)
      .filter(({ subjectId }) => subjectId === secondId)
      .map((part) =>
        changeRow('outline', part, { ...part, subjectId: part.id === firstId ? null : firstId }),
      ),
    ...strokesOf(document, secondId).map((stroke) => changeRow('stroke', stroke, null)),
    ...other.poses.map((pose) => changeRow('pose', pose, null)),
    ...other.edges.map((edge) => changeRow('edge', edge, null)),
    changeRow('outline', other.outline, null),
  ];
}

/** A point's own name, or one like it that is not taken; it is taken from then on. */
function nameBeside(taken: Set<string>, point: string): string {
  let name = point;
  for (let k = 2; taken.has(name); k++) name = `${point.replace(/-\d+$/, '')}-${k}`;
  taken.add(name);
  return name;
}

/** Moves the poses of a stretch of source frames so that they lie evenly between its first and its last. */
export function spreadPoses(
  document: CrossingDocument,
  outlineId: string,
  from: number,
  to: number,
): RowChange[] {
  const poses = (document.poses[outlineId] ?? []).filter(({ frame }) => frame >= from && frame <= to);
  const last = poses.length - 1;
  if (last < 2) return [];
  const [start, end] = [poses[0].frame, poses[last].frame];
  return movePoses(
    document,
    outlineId,
    new Map(poses.map(({ frame }, k) => [frame, Math.round(start + ((end - start) * k) / last)])),
  );
}

/** Moves poses to other source frames. @param moves from frame to frame; none may land on a pose that stays. */
export function movePoses(
  document: CrossingDocument,
  outlineId: string,
  moves: ReadonlyMap<number, number>,
): RowChange[] {
  const poses = document.poses[outlineId] ?? [];
  const going = poses.filter(({ frame }) => (moves.get(frame) ?? frame) !== frame);
  const staying = new Set(poses.filter((pose) => !going.includes(pose)).map(({ frame }) => frame));
  const targets = going.map(({ frame }) => moves.get(frame)!);
  if (targets.some((frame) => frame < 0 || staying.has(frame)) || new Set(targets).size < targets.length)
    return [];
  // A frame that one leaves and another comes to is one change of one row.
  const changes = new Map<number, { before: PoseRow | null; after: PoseRow | null }>();
  for (const pose of going) changes.set(pose.frame, { before: pose, after: null });
  for (const pose of going) {
    const frame = moves.get(pose.frame)!;
    const after = { ...pose, id: poseId(outlineId, frame), frame };
    changes.set(frame, { before: changes.get(frame)?.before ?? null, after });
  }
  return [...changes.values()].map(({ before, after }) => changeRow('pose', before, after));
}

/** Takes an outline's poses at these source frames away. */
export function removePoses(
  document: CrossingDocument,
  outlineId: string,
  frames: readonly number[],
): RowChange[] {
  return (document.poses[outlineId] ?? [])
    .filter(({ frame }) => frames.includes(frame))
    .map((pose) => changeRow('pose', pose, null));
}
