import { numbersPerPoint as N } from '../model/choices';
import type { Cubic } from './bezier';

type Point = readonly [x: number, y: number];

/** Degrees by which a drawn line must turn within a few px to have a corner there. */
const cornerTurn = 55;

/**
 * The fewest Bézier points that follow a drawn line within a tolerance (Schneider, Graphics Gems, 1990): sharp turns
 * become corners, the stretches between them curves.
 *
 * @param drawn x, y of the line's points by turns, px.
 * @param tolerance px.
 * @param closed whether the end runs on into the beginning.
 * @returns six numbers a point, as a pose has them; empty where fewer than two points differ.
 */
export function fitOutline(drawn: readonly number[], tolerance: number, closed: boolean): number[] {
  let points = distinct(drawn, Math.min(1, tolerance / 2));
  if (points.length < 2) return [];
  if (closed) points = [...points, points[0]];
  const corners = cornersOf(points, Math.max(8, 6 * tolerance), closed);
  const round = closed && !corners.has(0);
  const ends = [...new Set([0, ...corners, points.length - 1])].sort((a, b) => a - b);
  const cubics: Cubic[] = [];
  for (let k = 1; k < ends.length; k++) {
    const part = points.slice(ends[k - 1], ends[k] + 1);
    // Where a closed line has no corner at its seam, both ends share one direction.
    const seam = round ? direction(points[points.length - 2], points[1]) : null;
    const start = k === 1 ? seam : null;
    const end = k === ends.length - 1 && seam ? reversed(seam) : null;
    cubics.push(...fit(part, start, end, tolerance));
  }
  return coordinatesOf(cubics, closed);
}

function distinct(drawn: readonly number[], least: number): Point[] {
  const points: Point[] = [];
  for (let i = 0; i < drawn.length; i += 2) {
    const last = points[points.length - 1];
    if (!last || Math.hypot(drawn[i] - last[0], drawn[i + 1] - last[1]) > least)
      points.push([drawn[i], drawn[i + 1]]);
  }
  return points;
}

/** Places where the line turns sharply, seen from `reach` px before to `reach` px after. */
function cornersOf(points: readonly Point[], reach: number, closed: boolean): Set<number> {
  const count = points.length - (closed ? 1 : 0);
  const turns = new Float64Array(count);
  const walk = (from: number, by: number): Point | null => {
    let far = 0;
    for (let k = from; ;) {
      const next = closed ? (k + by + count) % count : k + by;
      if (next < 0 || next >= count || (closed && next === from)) return null;
      far += Math.hypot(points[next][0] - points[k][0], points[next][1] - points[k][1]);
      k = next;
      if (far >= reach) return points[k];
    }
  };
  for (let k = 0; k < count; k++) {
    const [before, after] = [walk(k, -1), walk(k, 1)];
    if (!before || !after) continue;
    const a = direction(before, points[k]);
    const b = direction(points[k], after);
    turns[k] = (Math.acos(Math.min(1, Math.max(-1, a[0] * b[0] + a[1] * b[1]))) * 180) / Math.PI;
  }
  const corners = new Set<number>();
  const near = Math.max(1, Math.round(reach / meanStep(points)));
  for (let k = 0; k < count; k++) {
    if (turns[k] < cornerTurn) continue;
    let sharpest = true;
    for (let j = -near; j <= near && sharpest; j++) {
      const other = closed ? (k + j + count) % count : k + j;
      if (other === k || other < 0 || other >= count) continue;
      if (turns[other] > turns[k] || (turns[other] === turns[k] && other < k)) sharpest = false;
    }
    if (sharpest) corners.add(k);
  }
  return corners;
}

function meanStep(points: readonly Point[]): number {
  let sum = 0;
  for (let k = 1; k < points.length; k++)
    sum += Math.hypot(points[k][0] - points[k - 1][0], points[k][1] - points[k - 1][1]);
  return sum / (points.length - 1);
}

function direction(from: Point, to: Point): Point {
  const [x, y] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(x, y) || 1;
  return [x / length, y / length];
}

/** Tolerances away from a point at which the line's direction there is taken, so that a hand's tremor does not turn it. */
const settled = 8;

/** A place where two cubics meet, or the line ends: its point's number and the direction onwards, null where free. */
interface Knot {
  at: number;
  along: Point | null;
}

/** @param start, end directions that the ends must have, or null where they are free. */
function fit(points: readonly Point[], start: Point | null, end: Point | null, tolerance: number): Cubic[] {
  const last: Knot = { at: points.length - 1, along: end && reversed(end) };
  const knots = [{ at: 0, along: start }, ...parted(points, { at: 0, along: start }, last, tolerance), last];
  // Parting at the worst place may leave a knot that its neighbours can do without.
  for (let k = 1; k < knots.length - 1;) {
    const { largestDistance } = nearest(points, knots[k - 1], knots[k + 1], tolerance);
    if (largestDistance <= tolerance) knots.splice(k, 1);
    else k++;
  }
  return knots.slice(1).map((knot, k) => nearest(points, knots[k], knot, tolerance).cubic);
}

/** The knots needed between two, parting where the line is farthest off. */
function parted(points: readonly Point[], from: Knot, to: Knot, tolerance: number): Knot[] {
  const { largestDistance, at } = nearest(points, from, to, tolerance);
  if (largestDistance <= tolerance) return [];
  const far = (k: number) =>
    Math.hypot(points[k][0] - points[at][0], points[k][1] - points[at][1]) >= settled * tolerance;
  let [before, after] = [at - 1, at + 1];
  while (before > 0 && !far(before)) before--;
  while (after < points.length - 1 && !far(after)) after++;
  const knot = { at, along: direction(points[before], points[after]) };
  return [...parted(points, from, knot, tolerance), knot, ...parted(points, knot, to, tolerance)];
}

/** The cubic between two knots that lies nearest to the points there, its largestDistance distance, and where that is. */
function nearest(all: readonly Point[], from: Knot, to: Knot, tolerance: number) {
  const points = all.slice(from.at, to.at + 1);
  const start = from.along;
  const end = to.along && reversed(to.along);
  const [first, last] = [points[0], points[points.length - 1]];
  if (points.length === 2) {
    const third = Math.hypot(last[0] - first[0], last[1] - first[1]) / 3;
    const straight = [start ?? direction(first, last), end ?? direction(last, first)] as const;
    return {
      cubic: cubicOf(first, straight[0], third, straight[1], third, last),
      largestDistance: 0,
      at: from.at,
    };
  }
  const { places, length } = chordPlaces(points);
  let best = measured(points, weightsOf(places), start, end, length);
  // Close enough to be worth moving the places along the curve instead of parting it.
  for (let k = 0; k < 24 && best.largestDistance > tolerance && best.largestDistance < 40 * tolerance; k++) {
    moveNearer(best.cubic, best.offsets, places);
    best = measured(points, weightsOf(places), start, end, length);
  }
  return { cubic: best.cubic, largestDistance: best.largestDistance, at: from.at + best.at };
}

/** The one cubic that lies nearest to a line of points, from its first to its last, its directions free. */
export function cubicThrough(points: readonly Point[]): Cubic {
  const ends: [Knot, Knot] = [
    { at: 0, along: null },
    { at: points.length - 1, along: null },
  ];
  return nearest(points, ...ends, 0.5).cubic;
}

function reversed([x, y]: Point): Point {
  return [-x, -y];
}

/** How far along the line each point lies, 0 to 1, and how long that is, px. */
function chordPlaces(points: readonly Point[]): { places: Float64Array; length: number } {
  const places = new Float64Array(points.length);
  for (let k = 1; k < points.length; k++)
    places[k] = places[k - 1] + Math.hypot(points[k][0] - points[k - 1][0], points[k][1] - points[k - 1][1]);
  const length = places[places.length - 1];
  return { places: places.map((place) => place / length), length };
}

/** The four weights of each place's control points (Bernstein's polynomials). */
function weightsOf(places: Float64Array): Float64Array {
  const weights = new Float64Array(4 * places.length);
  for (let i = 0, w = 0; i < places.length; i++, w += 4) {
    const t = places[i];
    const s = 1 - t;
    weights[w] = s * s * s;
    weights[w + 1] = 3 * s * s * t;
    weights[w + 2] = 3 * s * t * t;
    weights[w + 3] = t * t * t;
  }
  return weights;
}

/** How far a cubic lies from each point at its place: x, y by turns. */
function offsetsOf(
  [p0, q0, p1, q1, p2, q2, p3, q3]: Cubic,
  points: readonly Point[],
  weights: Float64Array,
): Float64Array {
  const offsets = new Float64Array(2 * points.length);
  for (let i = 0, w = 0; i < points.length; i++, w += 4) {
    const [b0, b1, b2, b3] = [weights[w], weights[w + 1], weights[w + 2], weights[w + 3]];
    offsets[2 * i] = b0 * p0 + b1 * p1 + b2 * p2 + b3 * p3 - points[i][0];
    offsets[2 * i + 1] = b0 * q0 + b1 * q1 + b2 * q2 + b3 * q3 - points[i][1];
  }
  return offsets;
}

/** The directions of the two inner control points of the cubic that lies nearest when both are free. */
function freeDirections(points: readonly Point[], weights: Float64Array): [start: Point, end: Point] {
  const [first, last] = [points[0], points[points.length - 1]];
  let [c00, c01, c11, x0, y0, x1, y1] = [0, 0, 0, 0, 0, 0, 0];
  for (let i = 0, w = 0; i < points.length; i++, w += 4) {
    const [b0, b1, b2, b3] = [weights[w], weights[w + 1], weights[w + 2], weights[w + 3]];
    c00 += b1 * b1;
    c01 += b1 * b2;
    c11 += b2 * b2;
    const restX = points[i][0] - first[0] * b0 - last[0] * b3;
    const restY = points[i][1] - first[1] * b0 - last[1] * b3;
    x0 += b1 * restX;
    y0 += b1 * restY;
    x1 += b2 * restX;
    y1 += b2 * restY;
  }
  const determinant = c00 * c11 - c01 * c01;
  if (determinant < 1e-12) return [direction(first, last), direction(last, first)];
  return [
    direction(first, [(c11 * x0 - c01 * x1) / determinant, (c11 * y0 - c01 * y1) / determinant]),
    direction(last, [(c00 * x1 - c01 * x0) / determinant, (c00 * y1 - c01 * y0) / determinant]),
  ];
}

/** The cubic with these end directions that lies nearest to a line so long, its offsets, the largest of them and where that is. */
function measured(
  points: readonly Point[],
  weights: Float64Array,
  wantedStart: Point | null,
  wantedEnd: Point | null,
  length: number,
): { cubic: Cubic; offsets: Float64Array; largestDistance: number; at: number } {
  const [first, last] = [points[0], points[points.length - 1]];
  const free = wantedStart && wantedEnd ? null : freeDirections(points, weights);
  const start = wantedStart ?? free![0];
  const end = wantedEnd ?? free![1];
  const [startX, startY] = start;
  const [endX, endY] = end;
  let [c00, c01, c11, x0, x1] = [0, 0, 0, 0, 0];
  for (let i = 0, w = 0; i < points.length; i++, w += 4) {
    const [b0, b1, b2, b3] = [weights[w], weights[w + 1], weights[w + 2], weights[w + 3]];
    const ax = startX * b1;
    const ay = startY * b1;
    const bx = endX * b2;
    const by = endY * b2;
    c00 += ax * ax + ay * ay;
    c01 += ax * bx + ay * by;
    c11 += bx * bx + by * by;
    const restX = points[i][0] - first[0] * (b0 + b1) - last[0] * (b2 + b3);
    const restY = points[i][1] - first[1] * (b0 + b1) - last[1] * (b2 + b3);
    x0 += ax * restX + ay * restY;
    x1 += bx * restX + by * restY;
  }
  const determinant = c00 * c11 - c01 * c01;
  const chord = Math.hypot(last[0] - first[0], last[1] - first[1]);
  let [left, right] =
    determinant === 0 ? [0, 0] : [(x0 * c11 - x1 * c01) / determinant, (c00 * x1 - c01 * x0) / determinant];
  // Handles that would turn round, or vanish, are given a third of the chord (Wu and Barsky's rule, as in Schneider); so
  // are those longer than the line: between few points with opposite directions they can be of any length.
  if (left < 1e-6 * chord || right < 1e-6 * chord || left > length || right > length)
    left = right = chord / 3;
  const cubic = cubicOf(first, start, left, end, right, last);
  const offsets = offsetsOf(cubic, points, weights);
  let [largestDistance, at] = [0, points.length >> 1];
  for (let i = 1; i < points.length - 1; i++) {
    const far = offsets[2 * i] ** 2 + offsets[2 * i + 1] ** 2;
    if (far > largestDistance) [largestDistance, at] = [far, i];
  }
  return { cubic, offsets, largestDistance: Math.sqrt(largestDistance), at };
}

function cubicOf(first: Point, start: Point, left: number, end: Point, right: number, last: Point): Cubic {
  return [
    ...first,
    first[0] + start[0] * left,
    first[1] + start[1] * left,
    last[0] + end[0] * right,
    last[1] + end[1] * right,
    ...last,
  ];
}

/** One step of Newton's method for every point towards the place on the cubic that is nearest to it. */
function moveNearer([p0, q0, p1, q1, p2, q2, p3, q3]: Cubic, offsets: Float64Array, places: Float64Array) {
  for (let i = 0; i < places.length; i++) {
    const t = places[i];
    const s = 1 - t;
    const [x, y] = [offsets[2 * i], offsets[2 * i + 1]];
    const dx = 3 * (s * s * (p1 - p0) + 2 * s * t * (p2 - p1) + t * t * (p3 - p2));
    const dy = 3 * (s * s * (q1 - q0) + 2 * s * t * (q2 - q1) + t * t * (q3 - q2));
    const ddx = 6 * (s * (p2 - 2 * p1 + p0) + t * (p3 - 2 * p2 + p1));
    const ddy = 6 * (s * (q2 - 2 * q1 + q0) + t * (q3 - 2 * q2 + q1));
    const slope = dx * dx + dy * dy + x * ddx + y * ddy;
    if (slope === 0) continue;
    const next = t - (x * dx + y * dy) / slope;
    places[i] = next < 0 ? 0 : next > 1 ? 1 : next;
  }
}

function coordinatesOf(cubics: readonly Cubic[], closed: boolean): number[] {
  const count = cubics.length + (closed ? 0 : 1);
  const coordinates = new Array<number>(count * N).fill(0);
  cubics.forEach(([x0, y0, x1, y1, x2, y2, x3, y3], k) => {
    const to = ((k + 1) % count) * N;
    coordinates.splice(k * N, 2, x0, y0);
    coordinates.splice(k * N + 4, 2, x1 - x0, y1 - y0);
    coordinates.splice(to, 2, x3, y3);
    coordinates.splice(to + 2, 2, x2 - x3, y2 - y3);
  });
  return coordinates;
}
