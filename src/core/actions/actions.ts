import { insertPoint, removePoint, smoothedPoses, startingCoordinates, superfluousPoses } from '../outline';
import { firstKeyFrom } from '../time/track';
import type { Onward } from '../model/time';
import { poseAtFrame, strokesOf } from '../document/document';
import { usualEnds } from '../document/plans';
import {
  type CrossingDocument,
  type EdgeSettings,
  type OutlineRow,
  plainOutline,
  plainPose,
  poseId,
  type PoseRow,
} from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { removeMoves } from './move-actions';
import { numbersPerPoint as N } from '../model/choices';

/** What one action of a person changes; each returns the row changes of one edit, none when there is nothing to do. */

/** Puts these coordinates as the outline's pose at a source frame, replacing the pose there if there is one. */
export function setPose(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  coordinates: readonly number[],
): RowChange[] {
  const before = poseAtFrame(document, outlineId, frame);
  const after: PoseRow = {
    ...plainPose,
    id: poseId(outlineId, frame),
    outlineId,
    frame,
    origin: 'by hand',
    onward: before?.onward ?? poseBefore(document, outlineId, frame)?.onward ?? 'linear',
    coordinates: coordinates.slice(),
  };
  return [changeRow('pose', before, after)];
}

/** The last pose before a frame, or null. A pose put after it goes on in its way. */
function poseBefore(document: CrossingDocument, outlineId: string, frame: number): PoseRow | null {
  const poses = document.poses[outlineId] ?? [];
  return poses[firstKeyFrom(poses, frame) - 1] ?? null;
}

/**
 * Puts these coordinates at a source frame, and moves the outline's other poses by as much, point by point.
 *
 * @param takes which other poses, by their source frame.
 */
export function setPoseAndOffset(
  document: CrossingDocument,
  outlineId: string,
  frame: number,
  coordinates: readonly number[],
  takes: (frame: number) => boolean,
): RowChange[] {
  const poses = document.poses[outlineId] ?? [];
  const start = startingCoordinates(poses, frame);
  if (!start) return setPose(document, outlineId, frame, coordinates);
  // A frame between poses gets none of its own: the in-between moves along with those about it.
  const own = poseAtFrame(document, outlineId, frame);
  const others = poses.filter((pose) => pose.frame !== frame && takes(pose.frame));
  return [
    ...(own || others.length === 0 ? setPose(document, outlineId, frame, coordinates) : []),
    ...others.map((pose) =>
      changeRow('pose', pose, {
        ...pose,
        coordinates: pose.coordinates.map((value, i) => value + coordinates[i] - start[i]),
      }),
    ),
  ];
}

/** How the in-betweens run after some poses. */
export function setOnward(
  document: CrossingDocument,
  outlineId: string,
  onward: Onward,
  takes: (frame: number) => boolean,
): RowChange[] {
  return (document.poses[outlineId] ?? [])
    .filter((pose) => takes(pose.frame) && pose.onward !== onward)
    .map((pose) => changeRow('pose', pose, { ...pose, onward }));
}

/** The pose's coordinates with some points moved by (dx, dy) px; their handles go along. */
export function movedPoints(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  dx: number,
  dy: number,
): number[] {
  return coordinates.map((value, i) => {
    if (!points.has(Math.floor(i / N))) return value;
    return i % N === 0 ? value + dx : i % N === 1 ? value + dy : value;
  });
}

export type HandleSide = 'in' | 'out';

/**
 * The pose's coordinates with one handle set to the offset (x, y) px from its point.
 *
 * @param handle whose, and `mirrored`: whether the other handle turns to stay in line, at its own length (or at the same when it had none).
 */
export function movedHandle(
  coordinates: readonly number[],
  { point, side, mirrored }: { point: number; side: HandleSide; mirrored: boolean },
  [x, y]: readonly [x: number, y: number],
): number[] {
  const next = coordinates.slice();
  const own = point * N + (side === 'in' ? 2 : 4);
  const other = point * N + (side === 'in' ? 4 : 2);
  next[own] = x;
  next[own + 1] = y;
  if (mirrored) {
    const length = Math.hypot(x, y);
    const kept = Math.hypot(next[other], next[other + 1]);
    const scale = length === 0 ? 0 : (kept || length) / length;
    next[other] = -x * scale;
    next[other + 1] = -y * scale;
  }
  return next;
}

/** Ids for as many new points. @param newId makes one that is known nowhere else. */
export function pointIds(count: number, newId: () => string): string[] {
  return Array.from({ length: count }, () => newId().slice(0, 8));
}

/** A new outline with its first pose. */
export function drawOutline(
  document: CrossingDocument,
  outline: Pick<OutlineRow, 'id' | 'layerId' | 'cutsLayerId' | 'name' | 'points' | 'kind' | 'sweptSide'> &
    Partial<OutlineRow>,
  frame: number,
  coordinates: readonly number[],
): RowChange[] {
  const ends = usualEnds(document.crossing.plan, outline.combine ?? plainOutline.combine);
  const row: OutlineRow = { ...plainOutline, ...ends, ...outline, position: nextPosition(document) };
  return [changeRow('outline', null, row), ...setPose(document, row.id, frame, coordinates)];
}

/** The place of a new outline in the order of all. */
export function nextPosition(document: CrossingDocument): number {
  return 1 + Math.max(-1, ...Object.values(document.outlines).map(({ position }) => position));
}

/** Deletes an outline with all that belongs to it: poses, strokes, and further parts and holes of its subject. */
export function deleteOutline(document: CrossingDocument, outlineId: string): RowChange[] {
  // Documents of earlier versions may hold outlines that are parts of themselves: each is deleted once.
  const { [outlineId]: outline, ...others } = document.outlines;
  if (!outline) return [];
  const parts = Object.values(others).filter(({ subjectId }) => subjectId === outlineId);
  const poses = document.poses[outlineId] ?? [];
  const edges = document.edges[outlineId] ?? [];
  return [
    ...parts.flatMap(({ id }) => deleteOutline({ ...document, outlines: others }, id)),
    ...strokesOf(document, outlineId).map((stroke) => changeRow('stroke', stroke, null)),
    ...poses.map((pose) => changeRow('pose', pose, null)),
    ...edges.map((edge) => changeRow('edge', edge, null)),
    ...removeMoves(Object.values(document.moves).filter(({ ownerId }) => ownerId === outlineId)),
    changeRow('outline', outline, null),
  ];
}

/** Adds a point on a segment at parameter `t`, in every pose, so that all keep their shape and the same points. */
export function addPoint(
  document: CrossingDocument,
  outlineId: string,
  segment: number,
  t: number,
  pointId: string,
): RowChange[] {
  const outline = document.outlines[outlineId];
  if (!outline) return [];
  const points = outline.points.slice();
  points.splice(segment + 1, 0, pointId);
  const between = (factors: readonly number[]) => {
    const next = factors.slice();
    const [a, b] = [factors[segment], factors[(segment + 1) % factors.length]];
    next.splice(segment + 1, 0, a + (b - a) * t);
    return next;
  };
  return withPoints(
    document,
    outline,
    points,
    (coordinates) => insertPoint(coordinates, segment, t),
    between,
  );
}

/**
 * Removes points from every pose, refitting what they joined.
 *
 * @returns nothing when too few would be left: a seam needs two, a loop three.
 */
export function removePoints(
  document: CrossingDocument,
  outlineId: string,
  points: ReadonlySet<number>,
): RowChange[] {
  const outline = document.outlines[outlineId];
  if (!outline || points.size === 0) return [];
  const left = outline.points.filter((_, i) => !points.has(i));
  if (left.length < (outline.kind === 'seam' ? 2 : 3)) return [];
  const fromLast = [...points].sort((a, b) => b - a);
  return withPoints(
    document,
    outline,
    left,
    (coordinates) =>
      fromLast.reduce(
        (rest, index) => removePoint(rest, index, outline.kind === 'loop'),
        coordinates.slice(),
      ),
    (factors) => factors.filter((_, i) => !points.has(i)),
  );
}

/** The outline with other points, in every pose and every key of its edge. */
function withPoints(
  document: CrossingDocument,
  outline: OutlineRow,
  points: string[],
  reshape: (coordinates: readonly number[]) => number[],
  spread: (factors: readonly number[]) => number[],
): RowChange[] {
  const poses = document.poses[outline.id] ?? [];
  const edges = document.edges[outline.id] ?? [];
  const factorsOf = ({ factors }: EdgeSettings) => (factors.length > 0 ? spread(factors) : factors);
  return [
    changeRow('outline', outline, {
      ...outline,
      points,
      factors: factorsOf(outline),
      hinge: outline.hinge !== null && points.includes(outline.hinge) ? outline.hinge : null,
    }),
    ...poses.map((pose) =>
      changeRow('pose', pose, { ...pose, coordinates: reshape(pose.coordinates), offBy: [] }),
    ),
    ...edges
      .filter(({ factors }) => factors.length > 0)
      .map((edge) => changeRow('edge', edge, { ...edge, factors: factorsOf(edge) })),
  ];
}

/** Some of an outline's settings, changed. */
export function setOutline(
  document: CrossingDocument,
  outlineId: string,
  settings: Partial<Omit<OutlineRow, 'id' | 'points'>>,
): RowChange[] {
  const outline = document.outlines[outlineId];
  return outline ? [changeRow('outline', outline, { ...outline, ...settings })] : [];
}

/** Takes the pose at a source frame away; the last pose of an outline is only deleted with it. */
export function removePose(document: CrossingDocument, outlineId: string, frame: number): RowChange[] {
  const pose = poseAtFrame(document, outlineId, frame);
  if (!pose || document.poses[outlineId].length < 2) return [];
  return [changeRow('pose', pose, null)];
}

/** Takes away the poses that the in-betweens of the others reproduce within `tolerance` px. */
export function thinOut(document: CrossingDocument, outlineId: string, tolerance: number): RowChange[] {
  const poses = document.poses[outlineId] ?? [];
  const gone = new Set(superfluousPoses(poses, tolerance));
  return poses.filter(({ frame }) => gone.has(frame)).map((pose) => changeRow('pose', pose, null));
}

/**
 * Takes the jitter out of the tracks of an outline's points.
 *
 * @param takes which poses, by their source frame; those on the others stay as they are.
 */
export function smoothPoses(
  document: CrossingDocument,
  outlineId: string,
  takes: (frame: number) => boolean,
): RowChange[] {
  const poses = document.poses[outlineId] ?? [];
  const fixed = new Set(poses.map(({ frame }) => frame).filter((frame) => !takes(frame)));
  const moved = smoothedPoses(poses, fixed);
  return poses.flatMap((pose) => {
    const coordinates = moved.get(pose.frame);
    return coordinates ? [changeRow('pose', pose, { ...pose, coordinates })] : [];
  });
}
