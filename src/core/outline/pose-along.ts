import { numbersPerPoint as N } from '../model/choices';
import { pointAt } from '../geometry/bezier';
import { cubicThrough } from '../geometry/fit-curve';
import { segmentCount, segmentCubic } from './curve';

const { ceil, floor, hypot, max, min, round, sign } = Math;

/** Places of a line that are matched with another's. */
const places = 240;
/** Places of a pose's side that lie on its curve. */
const perSide = 12;
/** What turning by a right angle costs against px of distance, squared, of a line a thousand px long. */
const turning = 1200;
/** What it costs that a place has more than one match, likewise: points bunch and part as little as they can. */
const doubled = 30;

/**
 * A closed pose brought onto another closed line, both walked the same way: the two are matched place by place, in order, by
 * where they lie and which way they run (dynamic time warping, Sakoe and Chiba 1978, about a circle), the points go where
 * their places do, and each side becomes the curve nearest to the line between.
 *
 * @param coordinates six numbers a point, shot px, already about where the line is.
 * @param line x, y by turns, shot px.
 */
export function poseAlong(coordinates: readonly number[], line: readonly number[]): number[] {
  const count = coordinates.length / N;
  const old = evenly(flattened(coordinates, true), places, true);
  const target = sameWay(evenly(line, places, true), old.x, old.y);
  const match = matched(old, target);
  // Where along the target each point lies, unrolled so that it never goes back.
  const at = Array.from({ length: count }, (_, p) => match(old.placeOf(p * perSide)));
  for (let p = 1; p < count; p++) while (at[p] < at[p - 1] - places / 2) at[p] += places;
  for (let p = 1; p < count; p++) at[p] = max(at[p], at[p - 1] + 0.25);
  return poseThrough(target, [...at, max(at[0] + places, at[count - 1] + 0.25)], count);
}

/** The same for an open pose and an open line, walked from the same end: their ends are each other's. */
export function openPoseAlong(coordinates: readonly number[], line: readonly number[]): number[] {
  const count = coordinates.length / N;
  const old = evenly(flattened(coordinates, false), places, false);
  const target = evenly(line, places, false);
  const match = matchedFrom(old, target, [0, 0], places - 1);
  const at = Array.from({ length: count }, (_, p) => match(old.placeOf(p * perSide)));
  [at[0], at[count - 1]] = [0, places - 1];
  // In order, with room for those that follow.
  for (let p = 1; p < count - 1; p++)
    at[p] = min(max(at[p], at[p - 1] + 0.25), places - 1 - 0.25 * (count - 1 - p));
  return poseThrough(target, at, count);
}

/** A pose whose points lie at places of a line, each side the curve nearest to the line between. @param at one more than sides. */
function poseThrough(target: EvenLine, at: readonly number[], count: number): number[] {
  const pose = new Array<number>(count * N).fill(0);
  for (let p = 0; p + 1 < at.length; p++) {
    const [from, to] = [at[p], at[p + 1]];
    const steps = max(3, ceil(2 * (to - from)));
    const side = Array.from({ length: steps + 1 }, (_, k) => target.at(from + ((to - from) * k) / steps));
    const c = cubicThrough(side);
    const next = ((p + 1) % count) * N;
    if (next > 0) pose.splice(next, 2, c[6], c[7]);
    pose.splice(p * N, 2, c[0], c[1]);
    pose.splice(p * N + 4, 2, c[2] - c[0], c[3] - c[1]);
    pose.splice(next + 2, 2, c[4] - c[6], c[5] - c[7]);
  }
  return pose.map((value) => round(value * 1000) / 1000);
}

/** x, y by turns of a pose, {@link perSide} a side. */
function flattened(coordinates: readonly number[], closed: boolean): number[] {
  const line: number[] = [];
  const sides = segmentCount(coordinates, closed);
  for (let s = 0; s < sides; s++) {
    const cubic = segmentCubic(coordinates, s);
    for (let k = 0; k < perSide; k++) line.push(...pointAt(cubic, k / perSide));
    if (!closed && s + 1 === sides) line.push(cubic[6], cubic[7]);
  }
  return line;
}

/** A closed line as so many places, evenly along it. */
interface EvenLine {
  x: Float64Array;
  y: Float64Array;
  /** The place, with a fraction, of one of the points it was made from. */
  placeOf(point: number): number;
  /** Where a place lies, whole or not, counted round and round. */
  at(place: number): [number, number];
}

function evenly(line: readonly number[], count: number, closed: boolean): EvenLine {
  const own = line.length / 2;
  // Sides of the line, and of its places: an open one ends at its last point.
  const n = closed ? own : own - 1;
  const sides = closed ? count : count - 1;
  const along = new Float64Array(n + 1);
  for (let k = 0; k < n; k++) {
    const j = (k + 1) % own;
    along[k + 1] = along[k] + hypot(line[2 * j] - line[2 * k], line[2 * j + 1] - line[2 * k + 1]);
  }
  const whole = along[n] || 1;
  const at = (place: number): [number, number] => {
    const share = place / sides;
    const far = (closed ? ((share % 1) + 1) % 1 : min(1, max(0, share))) * whole;
    let [low, high] = [0, n];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (along[middle] <= far) low = middle;
      else high = middle;
    }
    const part = (far - along[low]) / (along[low + 1] - along[low] || 1);
    const j = (low + 1) % own;
    return [
      line[2 * low] + part * (line[2 * j] - line[2 * low]),
      line[2 * low + 1] + part * (line[2 * j + 1] - line[2 * low + 1]),
    ];
  };
  const [x, y] = [new Float64Array(count), new Float64Array(count)];
  for (let k = 0; k < count; k++) [x[k], y[k]] = at(k);
  return { x, y, at, placeOf: (point) => (along[point] / whole) * sides };
}

/** The line, or the same walked the other way where the other is. */
function sameWay(line: EvenLine, x: Float64Array, y: Float64Array): EvenLine {
  if (sign(twiceArea(line.x, line.y)) === sign(twiceArea(x, y))) return line;
  return { ...line, x: line.x.slice().reverse(), y: line.y.slice().reverse(), at: (k) => line.at(-1 - k) };
}

function twiceArea(x: Float64Array, y: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < x.length; k++) {
    const j = (k + 1) % x.length;
    sum += x[k] * y[j] - x[j] * y[k];
  }
  return sum;
}

/** From a place of one line to the other's: monotone, once round. */
function matched(a: EvenLine, b: EvenLine): (place: number) => number {
  const n = places;
  // Begun where the two lie nearest to each other.
  let [startA, startB, least] = [0, 0, Infinity];
  for (let i = 0; i < n; i += 4)
    for (let j = 0; j < n; j++) {
      const far = (a.x[i] - b.x[j]) ** 2 + (a.y[i] - b.y[j]) ** 2;
      if (far < least) [startA, startB, least] = [i, j, far];
    }
  return matchedFrom(a, b, [startA, startB], n);
}

/** The same from two places that are each other's, over so many steps of both. */
function matchedFrom(
  a: EvenLine,
  b: EvenLine,
  [startA, startB]: readonly [number, number],
  steps: number,
): (place: number) => number {
  // All the way round, or from end to end.
  const n = places;
  const open = steps < n;
  const direction = ({ x, y }: EvenLine, k: number): [number, number] => {
    const [p, q] = open ? [max(0, k - 2), min(n - 1, k + 2)] : [(k + n - 2) % n, (k + 2) % n];
    const length = hypot(x[q] - x[p], y[q] - y[p]) || 1;
    return [(x[q] - x[p]) / length, (y[q] - y[p]) / length];
  };
  // Both from where they begin, so that the innermost loop only counts on.
  const [fromA, fromB] = [[a, startA] as const, [b, startB] as const].map(([line, start]) => {
    const [x, y, dx, dy] = [0, 0, 0, 0].map(() => new Float64Array(n));
    for (let k = 0; k < n; k++) {
      const at = (start + k) % n;
      [x[k], y[k]] = [line.x[at], line.y[at]];
      [dx[k], dy[k]] = direction(line, at);
    }
    return { x, y, dx, dy };
  });
  const width = steps + 1;
  const best = new Float64Array(width * width).fill(Infinity);
  const came = new Uint8Array(width * width);
  for (let i = 0, at = 0; i <= steps; i++) {
    const k = i % n;
    const [x, y, dx, dy] = [fromA.x[k], fromA.y[k], fromA.dx[k], fromA.dy[k]];
    for (let j = 0; j <= steps; j++, at++) {
      const m = j === n ? 0 : j;
      const [u, v] = [x - fromB.x[m], y - fromB.y[m]];
      const cost = u * u + v * v + turning * (1 - (dx * fromB.dx[m] + dy * fromB.dy[m]));
      let lowest = i === 0 && j === 0 ? 0 : Infinity;
      let by = 0;
      if (i > 0 && j > 0) lowest = best[at - width - 1];
      if (i > 0 && best[at - width] + doubled < lowest) {
        lowest = best[at - width] + doubled;
        by = 1;
      }
      if (j > 0 && best[at - 1] + doubled < lowest) {
        lowest = best[at - 1] + doubled;
        by = 2;
      }
      came[at] = by;
      best[at] = lowest + cost;
    }
  }
  // Each place of the first has the middle of those it is matched with.
  const sums = new Float64Array(steps + 1);
  const counts = new Float64Array(steps + 1);
  for (let i = steps, j = steps; ;) {
    sums[i] += j;
    counts[i]++;
    if (i === 0 && j === 0) break;
    const by = came[i * width + j];
    if (by !== 2) i--;
    if (by !== 1) j--;
  }
  return (place) => {
    const far = (((place - startA) % n) + n) % n;
    const k = min(floor(far), steps - 1);
    const [low, high] = [sums[k] / counts[k], sums[k + 1] / counts[k + 1]];
    return startB + low + (far - k) * (high - low);
  };
}
