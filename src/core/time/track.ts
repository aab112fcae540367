import { cubicBezierEasing, easeInOut } from './easing';
import { hermite, monotoneSlope } from './monotone';
import type { Onward, EaseHandles } from '../model/time';

/**
 * Values over time, for everything that changes: keys, and what lies between them. Poses, edges and all that moves or
 * sounds use this; only what a value is differs.
 */

/** A moment in time with a value, and the way to the next. */
export interface Key {
  frame: number;
  onward: Onward;
  /** Of an eased in-between; left out: slow away and slow to a stop. */
  ease?: EaseHandles | null;
}

/** The place of the first key at or after `frame` in an ascending list; its length when there is none. */
export function firstKeyFrom(keys: readonly { frame: number }[], frame: number): number {
  let low = 0;
  let high = keys.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (keys[middle].frame < frame) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Where a moment lies among keys: before the first, on one, between two (`at` is the earlier one's place), or after the last. */
export type Place<K> =
  | { where: 'before' | 'on' | 'after'; key: K }
  | { where: 'between'; at: number; from: K; to: K; share: number };

/** @param keys ascending by frame, at least one. */
export function placeAmong<K extends Key>(keys: readonly K[], moment: number): Place<K> {
  const next = firstKeyFrom(keys, moment);
  if (next === keys.length) return { where: 'after', key: keys[next - 1] };
  if (keys[next].frame === moment) return { where: 'on', key: keys[next] };
  if (next === 0) return { where: 'before', key: keys[0] };
  return spanFrom(keys, next - 1, moment);
}

/** A moment seen from the span between two neighbouring keys; it may lie beyond them. */
export function spanFrom<K extends Key>(
  keys: readonly K[],
  at: number,
  moment: number,
): Extract<Place<K>, { where: 'between' }> {
  const [from, to] = [keys[at], keys[at + 1]];
  return { where: 'between', at, from, to, share: (moment - from.frame) / (to.frame - from.frame) };
}

/** The share of the way at a share of the time, as the earlier key says; smooth ways have no share of their own. */
export function shareOfWay({ onward, ease }: Key, share: number): number {
  if (onward === 'hold') return share < 1 ? 0 : 1;
  if (onward !== 'eased') return share;
  return ease ? cubicBezierEasing(...ease)(share) : easeInOut(share);
}

/**
 * A number between two keys, as the earlier one says: on a straight course, eased, held, or smoothly through all keys
 * as monotone cubics that never overshoot.
 *
 * @param place of the moment, as {@link placeAmong} or {@link spanFrom} gives it.
 * @param of the number at a key.
 */
export function numberBetween<K extends Key>(
  keys: readonly K[],
  { at, from, to, share }: Extract<Place<K>, { where: 'between' }>,
  of: (key: K) => number,
): number {
  const [a, b] = [of(from), of(to)];
  if (from.onward !== 'smooth') return a + (b - a) * shareOfWay(from, share);
  const slope = (earlier: K | undefined, later: K | undefined) =>
    earlier && later ? (of(later) - of(earlier)) / (later.frame - earlier.frame) : null;
  const own = slope(from, to)!;
  return hermite(
    share,
    to.frame - from.frame,
    a,
    b,
    monotoneSlope(slope(keys[at - 1], from), own),
    monotoneSlope(own, slope(to, keys[at + 2])),
  );
}

/** A number at a moment: at a key or between two, and as the first or the last key beyond them; null without keys. */
export function numberAt<K extends Key>(
  keys: readonly K[],
  moment: number,
  of: (key: K) => number,
): number | null {
  if (keys.length === 0) return null;
  const place = placeAmong(keys, moment);
  return place.where === 'between' ? numberBetween(keys, place, of) : of(place.key);
}
