import { numbersPerPoint as N } from '../document/rows';
import { type Cubic, pointAt } from './bezier';

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
    const { worst } = nearest(points, knots[k - 1], knots[k + 1], tolerance);
    if (worst <= tolerance) knots.splice(k, 1);
    else k++;
  }
  return knots.slice(1).map((knot, k) => nearest(points, knots[k], knot, tolerance).cubic);
}

/** The knots needed between two, parting where the line is farthest off. */
function parted(points: readonly Point[], from: Knot, to: Knot, tolerance: number): Knot[] {
  const { worst, at } = nearest(points, from, to, tolerance);
  if (worst <= tolerance) return [];
  const far = (k: number) =>
    Math.hypot(points[k][0] - points[at][0], points[k][1] - points[at][1]) >= settled * tolerance;
  let [before, after] = [at - 1, at + 1];
  while (before > 0 && !far(before)) before--;
  while (after < points.length - 1 && !far(after)) after++;
  const knot = { at, along: direction(points[before], points[after]) };
  return [...parted(points, from, knot, tolerance), knot, ...parted(points, knot, to, tolerance)];
}

/** The cubic between two knots that lies nearest to the points there, its worst distance, and where that is. */
function nearest(all: readonly Point[], from: Knot, to: Knot, tolerance: number) {
  const points = all.slice(from.at, to.at + 1);
  const start = from.along;
  const end = to.along && reversed(to.along);
  const [first, last] = [points[0], points[points.length - 1]];
  if (points.length === 2) {
    const third = Math.hypot(last[0] - first[0], last[1] - first[1]) / 3;
    const straight = [start ?? direction(first, last), end ?? direction(last, first)] as const;
    return { cubic: cubicOf(first, straight[0], third, straight[1], third, last), worst: 0, at: from.at };
  }
  let places = chordPlaces(points);
  let [cubic, worst, at] = measured(points, places, start, end);
  // Close enough to be worth moving the places along the curve instead of parting it.
  for (let k = 0; k < 24 && worst > tolerance && worst < 40 * tolerance; k++) {
    places = places.map((t, i) => nearer(cubic, points[i], t));
    [cubic, worst, at] = measured(points, places, start, end);
  }
  return { cubic, worst, at: from.at + at };
}

function reversed([x, y]: Point): Point {
  return [-x, -y];
}

function chordPlaces(points: readonly Point[]): number[] {
  const places = [0];
  for (let k = 1; k < points.length; k++)
    places.push(places[k - 1] + Math.hypot(points[k][0] - points[k - 1][0], points[k][1] - points[k - 1][1]));
  const whole = places[places.length - 1];
  return places.map((place) => place / whole);
}

/** The directions of the two inner control points of the cubic that lies nearest when both are free. */
function freeDirections(points: readonly Point[], places: readonly number[]): [start: Point, end: Point] {
  const [first, last] = [points[0], points[points.length - 1]];
  let [c00, c01, c11] = [0, 0, 0];
  const x0 = [0, 0];
  const x1 = [0, 0];
  places.forEach((t, i) => {
    const s = 1 - t;
    const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    c00 += b1 * b1;
    c01 += b1 * b2;
    c11 += b2 * b2;
    for (const k of [0, 1]) {
      const rest = points[i][k] - first[k] * b0 - last[k] * b3;
      x0[k] += b1 * rest;
      x1[k] += b2 * rest;
    }
  });
  const determinant = c00 * c11 - c01 * c01;
  if (determinant < 1e-12) return [direction(first, last), direction(last, first)];
  const inner = (a: number[], b: number[], p: number, q: number): Point => [
    (p * a[0] - q * b[0]) / determinant,
    (p * a[1] - q * b[1]) / determinant,
  ];
  return [direction(first, inner(x0, x1, c11, c01)), direction(last, inner(x1, x0, c00, c01))];
}

/** The cubic with these end directions that lies nearest, its largest distance and the point that is farthest. */
function measured(
  points: readonly Point[],
  places: readonly number[],
  wantedStart: Point | null,
  wantedEnd: Point | null,
): [Cubic, number, number] {
  const [first, last] = [points[0], points[points.length - 1]];
  const free = wantedStart && wantedEnd ? null : freeDirections(points, places);
  const start = wantedStart ?? free![0];
  const end = wantedEnd ?? free![1];
  let [c00, c01, c11, x0, x1] = [0, 0, 0, 0, 0];
  places.forEach((t, i) => {
    const s = 1 - t;
    const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
    const a: Point = [start[0] * b1, start[1] * b1];
    const b: Point = [end[0] * b2, end[1] * b2];
    c00 += a[0] * a[0] + a[1] * a[1];
    c01 += a[0] * b[0] + a[1] * b[1];
    c11 += b[0] * b[0] + b[1] * b[1];
    const restX = points[i][0] - first[0] * (b0 + b1) - last[0] * (b2 + b3);
    const restY = points[i][1] - first[1] * (b0 + b1) - last[1] * (b2 + b3);
    x0 += a[0] * restX + a[1] * restY;
    x1 += b[0] * restX + b[1] * restY;
  });
  const determinant = c00 * c11 - c01 * c01;
  const chord = Math.hypot(last[0] - first[0], last[1] - first[1]);
  let [left, right] =
    determinant === 0 ? [0, 0] : [(x0 * c11 - x1 * c01) / determinant, (c00 * x1 - c01 * x0) / determinant];
  // Handles that would turn round, or vanish, are given a third of the chord (Wu and Barsky's rule, as in Schneider).
  if (left < 1e-6 * chord || right < 1e-6 * chord) left = right = chord / 3;
  const cubic = cubicOf(first, start, left, end, right, last);
  let [worst, at] = [0, points.length >> 1];
  for (let i = 1; i < points.length - 1; i++) {
    const [x, y] = pointAt(cubic, places[i]);
    const distance = Math.hypot(x - points[i][0], y - points[i][1]);
    if (distance > worst) [worst, at] = [distance, i];
  }
  return [cubic, worst, at];
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

/** One step of Newton's method towards the place on the cubic that is nearest to a point. */
function nearer(cubic: Cubic, [px, py]: Point, t: number): number {
  const [x, y] = pointAt(cubic, t);
  const s = 1 - t;
  const first = (k: number) =>
    3 *
    (s * s * (cubic[k + 2] - cubic[k]) +
      2 * s * t * (cubic[k + 4] - cubic[k + 2]) +
      t * t * (cubic[k + 6] - cubic[k + 4]));
  const second = (k: number) =>
    6 *
    (s * (cubic[k + 4] - 2 * cubic[k + 2] + cubic[k]) + t * (cubic[k + 6] - 2 * cubic[k + 4] + cubic[k + 2]));
  const [dx, dy] = [first(0), first(1)];
  const slope = dx * dx + dy * dy + (x - px) * second(0) + (y - py) * second(1);
  if (slope === 0) return t;
  return Math.min(1, Math.max(0, t - ((x - px) * dx + (y - py) * dy) / slope));
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
