import type { StraightPicture } from './straight';

/** Variance of colours that too few samples tell. */
export const unknownVariance = 4000;

/** Mean and variance of a side's Y, U, V at each place of a line, over places near it. */
export interface SideColours {
  /** 3 numbers a place. */
  mean: Float32Array;
  variance: Float32Array;
}

/**
 * The colours of one side of a line, between two depths, over the places near each.
 *
 * @param from px from the line, negative inside the object.
 * @param near places to either side that count along.
 */
export function sideColours(
  picture: StraightPicture,
  from: number,
  to: number,
  near: number,
  offset?: ArrayLike<number>,
): SideColours {
  const { count, across } = picture;
  const sums = new Float64Array((count + 1) * 7);
  for (let i = 0; i < count; i++) {
    const at = offset ? offset[i] : 0;
    const first = Math.max(0, Math.ceil((from + at - picture.from) / picture.step));
    const last = Math.min(across - 1, Math.floor((to + at - picture.from) / picture.step));
    const o = 7 * (i + 1);
    for (let k = 0; k < 7; k++) sums[o + k] = sums[o - 7 + k];
    for (let m = first; m <= last; m++) {
      const s = i * across + m;
      const [y, u, v] = [picture.y[s], picture.u[s], picture.v[s]];
      if (y !== y) continue;
      sums[o] += 1;
      sums[o + 1] += y;
      sums[o + 2] += u;
      sums[o + 3] += v;
      sums[o + 4] += y * y;
      sums[o + 5] += u * u;
      sums[o + 6] += v * v;
    }
  }
  const mean = new Float32Array(3 * count);
  const variance = new Float32Array(3 * count);
  const at = (i: number, k: number) => {
    const [a, b] = [Math.max(0, i - near), Math.min(count, i + near + 1)];
    return sums[7 * b + k] - sums[7 * a + k];
  };
  for (let i = 0; i < count; i++) {
    const n = at(i, 0);
    for (let c = 0; c < 3; c++) {
      mean[3 * i + c] = n > 3 ? at(i, 1 + c) / n : 128;
      variance[3 * i + c] = n > 3 ? Math.max(4, at(i, 4 + c) / n - mean[3 * i + c] ** 2) : unknownVariance;
    }
  }
  return { mean, variance };
}
