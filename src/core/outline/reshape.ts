import { numbersPerPoint as N } from '../model/choices';
import { applyHomography, homographyOf } from '../geometry/homography';

export type Corners = readonly (readonly [number, number])[];

/** The box around some points of a pose, or around all where none are given: left, top, right, bottom, px. */
export function boundsOf(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
): [left: number, top: number, right: number, bottom: number] {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let p = 0; p < coordinates.length / N; p++) {
    if (points.size > 0 && !points.has(p)) continue;
    const [x, y] = [coordinates[p * N], coordinates[p * N + 1]];
    [left, right] = [Math.min(left, x), Math.max(right, x)];
    [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  return [left, top, right, bottom];
}

/**
 * The pose with some points, or all where none are given, scaled and turned about a pivot; handles go along.
 *
 * @param turn radians, clockwise on the screen.
 */
export function turnedPose(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  [px, py]: readonly [number, number],
  { scaleX, scaleY, turn }: { scaleX: number; scaleY: number; turn: number },
): number[] {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const next = coordinates.slice();
  for (let p = 0; p < coordinates.length / N; p++) {
    if (points.size > 0 && !points.has(p)) continue;
    for (let k = 0; k < N; k += 2) {
      const i = p * N + k;
      const [ox, oy] = k === 0 ? [px, py] : [0, 0];
      const [x, y] = [(coordinates[i] - ox) * scaleX, (coordinates[i + 1] - oy) * scaleY];
      next[i] = cos * x - sin * y + ox;
      next[i + 1] = sin * x + cos * y + oy;
    }
  }
  return next;
}

/**
 * The pose with some points, or all where none are given, moved as the corners of a box are pulled: a projective
 * map of points and of the ends of handles.
 *
 * @returns the pose as it was when the corners do not determine a map, or would turn it inside out.
 */
export function pulledPose(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  from: Corners,
  to: Corners,
): number[] {
  const next = coordinates.slice();
  const h = convex(to) ? homographyOf(from.flat(), to.flat()) : null;
  if (!h) return next;
  for (let p = 0; p < coordinates.length / N; p++) {
    if (points.size > 0 && !points.has(p)) continue;
    const i = p * N;
    const [x, y] = applyHomography(h, coordinates[i], coordinates[i + 1]);
    for (const k of [i + 2, i + 4]) {
      if (coordinates[k] === 0 && coordinates[k + 1] === 0) continue;
      const [hx, hy] = applyHomography(
        h,
        coordinates[i] + coordinates[k],
        coordinates[i + 1] + coordinates[k + 1],
      );
      [next[k], next[k + 1]] = [hx - x, hy - y];
    }
    [next[i], next[i + 1]] = [x, y];
  }
  return next;
}

function convex(corners: Corners): boolean {
  const turns = corners.map(([x, y], k) => {
    const [bx, by] = corners[(k + 1) % 4];
    const [cx, cy] = corners[(k + 2) % 4];
    return (bx - x) * (cy - by) - (by - y) * (cx - bx);
  });
  return turns.every((turn) => turn > 1e-6) || turns.every((turn) => turn < -1e-6);
}

/**
 * The pose with some points moved by (dx, dy) px and the others along with them, ever less with their way along the
 * line: a raised cosine that ends `reach` px away.
 */
export function softlyMoved(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  dx: number,
  dy: number,
  reach: number,
  closed: boolean,
): number[] {
  const count = coordinates.length / N;
  const way = Array.from({ length: count }, (_, p) => (points.has(p) ? 0 : Infinity));
  const step = (p: number, q: number) =>
    Math.hypot(coordinates[p * N] - coordinates[q * N], coordinates[p * N + 1] - coordinates[q * N + 1]);
  // Twice round for a loop, so that the way across its first point is found too.
  const rounds = closed ? 2 * count : count;
  for (let k = 1; k < rounds; k++) {
    const [p, q] = [k % count, (k - 1) % count];
    way[p] = Math.min(way[p], way[q] + step(p, q));
  }
  for (let k = rounds - 2; k >= 0; k--) {
    const [p, q] = [k % count, (k + 1) % count];
    way[p] = Math.min(way[p], way[q] + step(p, q));
  }
  const next = coordinates.slice();
  way.forEach((far, p) => {
    const share = far === 0 ? 1 : far >= reach ? 0 : 0.5 + 0.5 * Math.cos((Math.PI * far) / reach);
    next[p * N] += dx * share;
    next[p * N + 1] += dy * share;
  });
  return next;
}

/** The pose with some points put on one line: level (same y), upright (same x), or the line between the first and last. */
export function alignedPose(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  how: 'level' | 'upright' | 'in line',
): number[] {
  const chosen = [...points].sort((a, b) => a - b);
  const next = coordinates.slice();
  if (chosen.length < 2) return next;
  const mean = (k: number) => chosen.reduce((sum, p) => sum + coordinates[p * N + k], 0) / chosen.length;
  const [x, y] = [mean(0), mean(1)];
  const [a, b] = [chosen[0] * N, chosen[chosen.length - 1] * N];
  const [dx, dy] = [coordinates[b] - coordinates[a], coordinates[b + 1] - coordinates[a + 1]];
  const square = dx * dx + dy * dy;
  for (const p of chosen) {
    const i = p * N;
    if (how === 'level') next[i + 1] = y;
    else if (how === 'upright') next[i] = x;
    else if (square > 0) {
      const t =
        ((coordinates[i] - coordinates[a]) * dx + (coordinates[i + 1] - coordinates[a + 1]) * dy) / square;
      [next[i], next[i + 1]] = [coordinates[a] + t * dx, coordinates[a + 1] + t * dy];
    }
  }
  return next;
}
