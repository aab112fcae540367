import type { PicturePlanes } from '../picture/planes';
import { numbersPerPoint as N } from '../model/choices';
import type { Shot } from '../model/shot';
import { across, reach } from './measure';
import { readEdge } from './profile';
import { straighten, type Walk } from './strip';

/** px along the line about a point, at the least and to each side, over which its edge is read. */
const aboutPoint = 30;
/** Share of the groups about a point that must agree on where the edge is. */
const leastSupport = 0.5;

/**
 * How wide the picture's edge is about each point of an outline, 10 to 90 %, px: along the line half-way to the points
 * beside it. Where it cannot be read it is null.
 *
 * @param walk along the outline, as far as it lies in the frame; its step is 1 px.
 * @param offset px into the region at which the whole line's edge was found.
 */
export function widthsAtPoints(
  planes: PicturePlanes,
  shot: Shot,
  walk: Walk,
  coordinates: readonly number[],
  offset: number,
): (number | null)[] {
  const places = walk.places.map((value, i) => value + offset * walk.inward[i]);
  const strip = straighten(planes, shot, { ...walk, places }, reach, across);
  const count = coordinates.length / N;
  const at = Array.from({ length: count }, (_, p) =>
    nearest(walk, coordinates[p * N], coordinates[p * N + 1]),
  );
  return at.map((own) => {
    if (own === null) return null;
    const others = at.filter((other): other is number => other !== null && other !== own);
    const before = Math.max(...others.filter((other) => other < own), -Infinity);
    const after = Math.min(...others.filter((other) => other > own), Infinity);
    const from = Math.round(Math.min(own - aboutPoint, Number.isFinite(before) ? (before + own) / 2 : own));
    const to = Math.round(Math.max(own + aboutPoint, Number.isFinite(after) ? (after + own) / 2 : own));
    const reading = readEdge(strip, walk.step, [Math.max(0, from), Math.min(strip.columns, to)]);
    return reading && reading.support >= leastSupport ? reading.width : null;
  });
}

/** px from a place within which the walk passes it; beyond, it lies outside the frame. */
const passes = 8;

/** The number of the walk's place nearest to a point; null where the walk does not pass it. */
function nearest({ places }: Walk, x: number, y: number): number | null {
  let [best, least] = [-1, passes];
  for (let k = 0; k < places.length; k += 2) {
    const far = Math.hypot(places[k] - x, places[k + 1] - y);
    if (far < least) [least, best] = [far, k / 2];
  }
  return best < 0 ? null : best;
}
