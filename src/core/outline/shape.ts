import type { PoseRow } from '../document/tables';
import type { Beyond, Ends } from '../model/choices';
import { type Place, placeAmong, shareOfWay, spanFrom } from '../time/track';
import { inBetween, smoothInBetween } from './in-between';

/** What an outline is at a frame. Unless told otherwise, before its first pose nothing is cut, after its last everything is. */
export type Shape =
  | { state: 'empty' }
  | { state: 'full' }
  | { state: 'posed'; coordinates: readonly number[]; origin: PoseRow['origin'] }
  | { state: 'in-between'; coordinates: readonly number[] };

const usualEnds: Ends = { beforeFirst: 'empty', afterLast: 'full' };

/** @param poses of one outline, ascending by frame. */
export function shapeAt(poses: readonly PoseRow[], frame: number, ends: Ends = usualEnds): Shape {
  if (poses.length === 0) return { state: 'empty' };
  const place = placeAmong(poses, frame);
  switch (place.where) {
    case 'before':
      return beyond(ends.beforeFirst, place.key);
    case 'after':
      return beyond(ends.afterLast, place.key);
    case 'on':
      return { state: 'posed', coordinates: place.key.coordinates, origin: place.key.origin };
    case 'between':
      return { state: 'in-between', coordinates: between(poses, place, frame) };
  }
}

function beyond(what: Beyond, nearest: PoseRow): Shape {
  return what === 'hold' ? { state: 'in-between', coordinates: nearest.coordinates } : { state: what };
}

function between(
  poses: readonly PoseRow[],
  { at, from, to, share }: Extract<Place<PoseRow>, { where: 'between' }>,
  moment: number,
): readonly number[] {
  if (from.onward === 'hold') return from.coordinates;
  if (from.onward === 'smooth') return smoothInBetween(poses, at, moment);
  return inBetween(from.coordinates, to.coordinates, shareOfWay(from, share));
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
  const place = placeAmong(poses, moment);
  if (place.where === 'on') return place.key.coordinates;
  if (place.where === 'between') return between(poses, place, moment);
  // Beyond the ends it goes on along its first, or its last, way.
  const { from, to, share } = spanFrom(poses, place.where === 'before' ? 0 : last - 1, moment);
  if (from.onward === 'hold') return (moment < from.frame ? from : to).coordinates;
  return inBetween(from.coordinates, to.coordinates, shareOfWay(from, share));
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
