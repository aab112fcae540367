import type { CrossingDocument, EdgeRow, OutlineRow, PoseRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import type { Shot } from '../model/shot';
import { shapeAt } from '../outline';

/** An outline over the frames of its shot, as every format of paths writes it. */
export interface TracedOutline {
  shot: Shot;
  outline: OutlineRow;
  poses: readonly PoseRow[];
  edges: readonly EdgeRow[];
}

export function tracedOutline(
  { layers, outlines, poses, edges }: CrossingDocument,
  shots: Readonly<Record<string, Shot>>,
  outlineId: string,
): TracedOutline | null {
  const outline = outlines[outlineId];
  const shot = outline && shots[layers[outline.layerId]?.shotId];
  return shot ? { shot, outline, poses: poses[outlineId] ?? [], edges: edges[outlineId] ?? [] } : null;
}

/** Its points at a source frame, six numbers each; null where it is empty or full. */
export function coordinatesAt({ poses, outline }: TracedOutline, frame: number): readonly number[] | null {
  const shape = shapeAt(poses, frame, outline);
  return shape.state === 'empty' || shape.state === 'full' ? null : shape.coordinates;
}

/** Source frames from its first pose to its last. */
export function framesOf({ poses }: TracedOutline): number[] {
  const [first, last] = [poses[0], poses.at(-1)];
  if (!first || !last) return [];
  return Array.from({ length: last.frame - first.frame + 1 }, (_, k) => first.frame + k);
}

/** A coordinate to a thousandth of a px. */
export function thousandth(value: number): number {
  return Math.round(value * 1000) / 1000 + 0;
}

/** A pose's numbers, point by point. */
export function pointsOf(coordinates: readonly number[]): { at: number[]; in: number[]; out: number[] }[] {
  return Array.from({ length: coordinates.length / N }, (_, k) => {
    const own = coordinates.slice(k * N, k * N + N).map(thousandth);
    return { at: own.slice(0, 2), in: own.slice(2, 4), out: own.slice(4, 6) };
  });
}
