import { firstKeyFrom } from '../document/document';
import type { Beyond, PoseRow } from '../document/rows';
import { easeInOut } from '../time/easing';
import { inBetween, smoothInBetween } from './in-between';

/** What an outline is at a frame. Unless told otherwise, before its first pose nothing is cut, after its last everything is. */
export type Shape =
  | { state: 'empty' }
  | { state: 'full' }
  | { state: 'posed'; coordinates: readonly number[]; origin: PoseRow['origin'] }
  | { state: 'in-between'; coordinates: readonly number[] };

/** What an outline is beyond its poses. */
export interface Ends {
  beforeFirst: Beyond;
  afterLast: Beyond;
}

const usualEnds: Ends = { beforeFirst: 'empty', afterLast: 'full' };

/** @param poses of one outline, ascending by frame. */
export function shapeAt(poses: readonly PoseRow[], frame: number, ends: Ends = usualEnds): Shape {
  if (poses.length === 0) return { state: 'empty' };
  const at = firstKeyFrom(poses, frame);
  if (at === 0 && frame < poses[0].frame) return beyond(ends.beforeFirst, poses[0]);
  if (at === poses.length) return beyond(ends.afterLast, poses[at - 1]);
  const next = poses[at];
  if (next.frame === frame) return { state: 'posed', coordinates: next.coordinates, origin: next.origin };
  return { state: 'in-between', coordinates: between(poses, at - 1, frame) };
}

function beyond(what: Beyond, nearest: PoseRow): Shape {
  return what === 'hold' ? { state: 'in-between', coordinates: nearest.coordinates } : { state: what };
}

function between(poses: readonly PoseRow[], at: number, frame: number): readonly number[] {
  const [previous, next] = [poses[at], poses[at + 1]];
  if (previous.onward === 'hold') return previous.coordinates;
  if (previous.onward === 'smooth') return smoothInBetween(poses, at, frame);
  const share = (frame - previous.frame) / (next.frame - previous.frame);
  return inBetween(
    previous.coordinates,
    next.coordinates,
    previous.onward === 'eased' ? easeInOut(share) : share,
  );
}

/**
 * Where an outline is at a moment near a frame at which it is posed or in-between, as a shutter sees it: before the
 * first and after the last pose it goes on as it was moving there.
 *
 * @param moment source frame, with its fraction.
 */
export function shapeAtMoment(poses: readonly PoseRow[], moment: number): readonly number[] {
  const last = poses.length - 1;
  if (last <= 0) return poses[0]?.coordinates ?? [];
  const span = moment < poses[0].frame ? 0 : moment > poses[last].frame ? last - 1 : -1;
  if (span < 0) {
    const at = firstKeyFrom(poses, moment);
    return poses[at].frame === moment ? poses[at].coordinates : between(poses, at - 1, moment);
  }
  const [from, to] = [poses[span], poses[span + 1]];
  if (from.onward === 'hold') return (moment < from.frame ? from : to).coordinates;
  const share = (moment - from.frame) / (to.frame - from.frame);
  return inBetween(from.coordinates, to.coordinates, from.onward === 'eased' ? easeInOut(share) : share);
}

/**
 * The coordinates to begin from when a frame without a pose is to be given one: the in-between where there is
 * one, else the nearest pose; null for an outline without poses.
 */
export function startingCoordinates(poses: readonly PoseRow[], frame: number): readonly number[] | null {
  if (poses.length === 0) return null;
  const shape = shapeAt(poses, frame, { beforeFirst: 'hold', afterLast: 'hold' });
  return 'coordinates' in shape ? shape.coordinates : null;
}
