import { firstPoseFrom } from '../document/document';
import type { PoseRow } from '../document/rows';
import { inBetween } from './in-between';

/** What an outline is at a frame. Before its first pose nothing is cut, after its last everything is. */
export type Shape =
  | { state: 'empty' }
  | { state: 'full' }
  | { state: 'posed'; coordinates: readonly number[]; origin: PoseRow['origin'] }
  | { state: 'in-between'; coordinates: readonly number[] };

const empty: Shape = { state: 'empty' };
const full: Shape = { state: 'full' };

/** @param poses of one outline, ascending by frame. */
export function shapeAt(poses: readonly PoseRow[], frame: number): Shape {
  if (poses.length === 0 || frame < poses[0].frame) return empty;
  const at = firstPoseFrom(poses, frame);
  if (at === poses.length) return full;
  const next = poses[at];
  if (next.frame === frame) return { state: 'posed', coordinates: next.coordinates, origin: next.origin };
  const previous = poses[at - 1];
  const fraction = (frame - previous.frame) / (next.frame - previous.frame);
  return { state: 'in-between', coordinates: inBetween(previous.coordinates, next.coordinates, fraction) };
}

/**
 * The coordinates to begin from when a frame without a pose is to be given one: the in-between where there is
 * one, else the nearest pose; null for an outline without poses.
 */
export function startingCoordinates(poses: readonly PoseRow[], frame: number): readonly number[] | null {
  if (poses.length === 0) return null;
  const shape = shapeAt(poses, frame);
  if (shape.state === 'posed' || shape.state === 'in-between') return shape.coordinates;
  return shape.state === 'empty' ? poses[0].coordinates : poses[poses.length - 1].coordinates;
}
