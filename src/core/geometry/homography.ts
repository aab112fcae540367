import type { Affine } from './affine';
import { type Matrix3, times3 } from './matrix3';

/** A projective map of the plane, row by row; the last entry is 1, or the map is scaled so that points seen have w > 0. */
export type Homography = Matrix3;

/** An affine map as a homography. */
export function homographyOfAffine([a, b, c, d, e, f]: Affine): Homography {
  return [a, c, e, b, d, f, 0, 0, 1];
}

/** Whether parallel lines stay parallel under it. */
export function isAffine(h: Homography): boolean {
  return h[6] === 0 && h[7] === 0;
}

/** How far a homography stretches a small square at a point: the longer of its two sides. */
export function stretchAt(h: Homography, x: number, y: number): number {
  const w = h[6] * x + h[7] * y + h[8];
  const [u, v] = applyHomography(h, x, y);
  const side = (k: number) => Math.hypot((h[k] - u * h[6 + k]) / w, (h[3 + k] - v * h[6 + k]) / w);
  return Math.max(side(0), side(1));
}

export function applyHomography(h: Homography, x: number, y: number): [number, number] {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
}

/**
 * The homography that maps points onto points, four or more, by the direct linear transform with normalised
 * coordinates (Hartley and Zisserman 2003, §4.1 and §4.4; the last entry is set to 1).
 *
 * @param from, to x and y of each by turns.
 * @returns null when the points do not determine one.
 */
export function homographyOf(from: ArrayLike<number>, to: ArrayLike<number>): Homography | null {
  const a = normaliser(from);
  const b = normaliser(to);
  // Normal equations of the eight unknowns.
  const m = Array.from({ length: 8 }, () => new Float64Array(9));
  const row = new Float64Array(9);
  const add = () => {
    for (let i = 0; i < 8; i++) for (let j = 0; j < 9; j++) m[i][j] += row[i] * row[j];
  };
  for (let i = 0; i < from.length; i += 2) {
    const [x, y] = [(from[i] - a.x) * a.scale, (from[i + 1] - a.y) * a.scale];
    const [u, v] = [(to[i] - b.x) * b.scale, (to[i + 1] - b.y) * b.scale];
    row.set([x, y, 1, 0, 0, 0, -u * x, -u * y, u]);
    add();
    row.set([0, 0, 0, x, y, 1, -v * x, -v * y, v]);
    add();
  }
  const h = solve(m);
  if (!h) return null;
  const inner = [...h, 1];
  const left = [1 / b.scale, 0, b.x, 0, 1 / b.scale, b.y, 0, 0, 1];
  const right = [a.scale, 0, -a.x * a.scale, 0, a.scale, -a.y * a.scale, 0, 0, 1];
  const whole = times3(times3(left, inner), right);
  return whole[8] === 0 ? null : whole.map((value) => value / whole[8]);
}

function normaliser(points: ArrayLike<number>) {
  const count = points.length / 2;
  let [x, y] = [0, 0];
  for (let i = 0; i < points.length; i += 2) {
    x += points[i] / count;
    y += points[i + 1] / count;
  }
  let distance = 0;
  for (let i = 0; i < points.length; i += 2) distance += Math.hypot(points[i] - x, points[i + 1] - y) / count;
  return { x, y, scale: distance === 0 ? 1 : Math.SQRT2 / distance };
}

/** Gaussian elimination with pivoting of eight equations, the right side in the ninth column. */
function solve(m: Float64Array[]): number[] | null {
  for (let k = 0; k < 8; k++) {
    let pivot = k;
    for (let i = k + 1; i < 8; i++) if (Math.abs(m[i][k]) > Math.abs(m[pivot][k])) pivot = i;
    if (Math.abs(m[pivot][k]) < 1e-12) return null;
    [m[k], m[pivot]] = [m[pivot], m[k]];
    for (let i = 0; i < 8; i++) {
      if (i === k) continue;
      const share = m[i][k] / m[k][k];
      for (let j = k; j < 9; j++) m[i][j] -= share * m[k][j];
    }
  }
  return m.map((row, k) => row[8] / row[k]);
}
