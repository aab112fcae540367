import type { Stroke } from '../subject/strokes';
import { startingCoordinates } from '../outline';
import type { SubjectLoop } from '../subject/subject-outline';
import type { SubjectPart } from '../subject/subject-parts';
import { deleteOutline, drawOutline, nextPosition, pointIds, setPose } from './actions';
import { applyChanges } from '../document/document';
import { type CrossingDocument, type OutlineRow, plainOutline } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { removeMoves } from './move-actions';
import { usualEnds } from '../document/plans';
import { numbersPerPoint as N, type Side } from '../model/choices';

/** Most numbers of a stroke's path. */
const mostNumbers = 4000;

/** A stroke's row, its path thinned to what its brush can show. */
export function strokeRow(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  { mark, radius, path }: Stroke,
  id: string,
): RowChange {
  const position = Object.values(document.strokes)
    .filter((stroke) => stroke.outlineId === outlineId)
    .reduce((next, stroke) => Math.max(next, stroke.position + 1), 0);
  const row = { id, outlineId, frame, position, mark, radius, path: thinned(path, radius / 4) };
  return changeRow('stroke', null, row);
}

function thinned(path: readonly number[], least: number): number[] {
  const out: number[] = [];
  const last = path.length - 2;
  for (let i = 0; i <= last; i += 2) {
    const [x, y] = [path[i], path[i + 1]].map((value) => Math.round(value * 10) / 10);
    const far = Math.hypot(x - out[out.length - 2], y - out[out.length - 1]);
    if (i === 0 || i === last || far >= least) out.push(x, y);
  }
  return out.length <= mostNumbers ? out : thinned(out, Math.max(0.5, 2 * least));
}

/** An outline that is to be made of a subject. */
export interface NewSubject {
  id: string;
  layerId: string;
  cutsLayerId: string | null;
  purpose?: OutlineRow['purpose'];
  name: string;
  kind: OutlineRow['kind'];
  sweptSide: Side;
  /** Whether strokes alone began it; left out: they did. */
  painted?: boolean;
  /** Left out: a loop is cut out, a seam follows its edge. */
  carriedBy?: OutlineRow['carriedBy'];
}

/**
 * Makes a subject's outline from the lines of its region, further parts and holes as outlines of their own after it.
 *
 * @param loops the largest part first.
 */
export function drawSubject(
  document: CrossingDocument,
  subject: NewSubject,
  frame: number,
  loops: readonly SubjectLoop[],
  newId: () => string,
): RowChange[] {
  const [first, ...rest] = loops;
  const own = drawOutline(
    document,
    {
      painted: true,
      carriedBy: subject.kind === 'loop' ? 'cutting' : 'edge',
      ...subject,
      points: pointIds(first.coordinates.length / N, newId),
    },
    frame,
    first.coordinates,
  );
  return [...own, ...drawParts(applyChanges(document, own), subject.id, frame, rest, newId)];
}

/**
 * Gives an outline that has no pose elsewhere other points: those of its region's line; its further parts and holes are
 * made anew.
 */
export function redrawSubject(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  loops: readonly SubjectLoop[],
  newId: () => string,
): RowChange[] {
  const outline = document.outlines[outlineId];
  const [first, ...rest] = loops;
  const gone = partsOf(document, outlineId).flatMap(({ id }) => deleteOutline(document, id));
  const points = pointIds(first.coordinates.length / N, newId);
  const own = [
    // Its sides are other ones now: a leaf hangs by none of them.
    ...removeMoves(Object.values(document.moves).filter(({ ownerId }) => ownerId === outlineId)),
    changeRow('outline', outline, { ...outline, points, factors: [], hinge: null }),
    ...(document.edges[outlineId] ?? [])
      .filter(({ factors }) => factors.length > 0)
      .map((edge) => changeRow('edge', edge, { ...edge, factors: [] })),
    ...setPose(document, outlineId, frame, first.coordinates),
  ];
  const changes = [...gone, ...own];
  return [...changes, ...drawParts(applyChanges(document, changes), outlineId, frame, rest, newId)];
}

/** A subject's further parts and holes. */
export function partsOf(document: CrossingDocument, outlineId: string): OutlineRow[] {
  return Object.values(document.outlines).filter(({ subjectId }) => subjectId === outlineId);
}

/**
 * A subject's further parts and holes as they lie on a source frame; one is left out where the subject itself goes on without it, before
 * its first pose or after its last.
 */
export function partsAt(document: CrossingDocument, outlineId: string, frame: number): SubjectPart[] {
  const own = document.poses[outlineId] ?? [];
  return partsOf(document, outlineId).flatMap(({ id, combine }) => {
    const poses = document.poses[id] ?? [];
    const coordinates = startingCoordinates(poses, frame);
    if (!coordinates) return [];
    const [first, last] = [poses[0].frame, poses[poses.length - 1].frame];
    const left = own.some(
      (pose) => (pose.frame > last && pose.frame <= frame) || (pose.frame < first && pose.frame >= frame),
    );
    return left ? [] : [{ id, coordinates, hole: combine === 'take away' }];
  });
}

/** The row of a further part or hole, without poses. */
export function newPart(
  document: CrossingDocument,
  outlineId: string,
  hole: boolean,
  points: OutlineRow['points'],
  newId: () => string,
): OutlineRow {
  const { layerId, cutsLayerId, sweptSide, name } = document.outlines[outlineId];
  const combine = hole ? ('take away' as const) : ('add' as const);
  const names = new Set(partsOf(document, outlineId).map((part) => part.name));
  let number = hole ? 1 : 2;
  const called = () => `${name}, ${hole ? 'hole' : 'part'} ${number}`;
  while (names.has(called())) number++;
  return {
    ...plainOutline,
    ...{ id: newId(), layerId, cutsLayerId, name: called(), kind: 'loop', sweptSide, points },
    ...{ subjectId: outlineId, combine, ...usualEnds(document.crossing.plan, combine) },
    position: nextPosition(document),
  };
}

function drawParts(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  loops: readonly SubjectLoop[],
  newId: () => string,
): RowChange[] {
  const changes: RowChange[] = [];
  let now = document;
  for (const { coordinates, hole } of loops) {
    const part = newPart(now, outlineId, hole, pointIds(coordinates.length / N, newId), newId);
    const own = [changeRow('outline', null, part), ...setPose(now, part.id, frame, coordinates)];
    now = applyChanges(now, own);
    changes.push(...own);
  }
  return changes;
}
