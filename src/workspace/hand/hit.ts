import { numbersPerPoint as N } from '@/core/model/choices';
import type { HandleSide } from '@/core/actions/actions';
import { nearestOnOutline } from '@/core/outline';

/** What of an outline lies under the pointer. */
export type Hit =
  | { on: 'point'; point: number }
  | { on: 'handle'; point: number; side: HandleSide }
  | { on: 'line'; segment: number; t: number }
  | null;

/**
 * Points first, then the handles of chosen points, then the line.
 *
 * @param x, y in shot px.
 * @param reach in shot px.
 */
export function hitOutline(
  coordinates: readonly number[],
  closed: boolean,
  chosen: ReadonlySet<number>,
  [x, y]: readonly [x: number, y: number],
  reach: number,
): Hit {
  let best: Hit = null;
  let bestDistance = reach;
  const consider = (px: number, py: number, hit: Hit) => {
    const distance = Math.hypot(px - x, py - y);
    if (distance < bestDistance) [best, bestDistance] = [hit, distance];
  };
  for (const point of chosen) {
    const i = point * N;
    for (const [side, h] of [
      ['in', 2],
      ['out', 4],
    ] as const) {
      const [hx, hy] = [coordinates[i + h], coordinates[i + h + 1]];
      if (hx !== 0 || hy !== 0)
        consider(coordinates[i] + hx, coordinates[i + 1] + hy, { on: 'handle', point, side });
    }
  }
  for (let p = 0; p < coordinates.length / N; p++)
    consider(coordinates[p * N], coordinates[p * N + 1], { on: 'point', point: p });
  if (best) return best;
  const nearest = nearestOnOutline(coordinates, closed, x, y);
  return nearest.distance < reach * 0.8 ? { on: 'line', segment: nearest.segment, t: nearest.t } : null;
}
