import type { PyramidLevel } from './luma';

const radius = 7;
const iterations = 12;

/**
 * Where points have gone from one picture to the next: Lucas and Kanade's method (1981) on pyramids, as laid out by
 * Bouguet (2000), and back again to see that it holds.
 *
 * @param points x, y of each, px of the first picture.
 * @returns x, y of each in the second picture; NaN where a point was lost.
 */
export function followPoints(
  from: readonly PyramidLevel[],
  to: readonly PyramidLevel[],
  points: Float32Array,
): Float32Array {
  const there = new Float32Array(points.length);
  for (let i = 0; i < points.length; i += 2) {
    const [px, py] = [points[i], points[i + 1]];
    const [x, y] = follow(from, to, px, py, { coarsest: from.length - 1, guessX: 0, guessY: 0 });
    // The way back begins where it should end, a step coarser than the last.
    const [backX, backY] = Number.isNaN(x)
      ? [NaN, NaN]
      : follow(to, from, x, y, { coarsest: Math.min(1, from.length - 1), guessX: px - x, guessY: py - y });
    const holds = Math.hypot(backX - px, backY - py) < 0.5;
    there[i] = holds ? x : NaN;
    there[i + 1] = holds ? y : NaN;
  }
  return there;
}

const { floor } = Math;
const count = (2 * radius + 1) ** 2;
const patch = new Float32Array(count);
const patchDx = new Float32Array(count);
const patchDy = new Float32Array(count);

function follow(
  from: readonly PyramidLevel[],
  to: readonly PyramidLevel[],
  x: number,
  y: number,
  { coarsest, guessX, guessY }: { coarsest: number; guessX: number; guessY: number },
): [number, number] {
  let moveX = guessX / 2 ** coarsest;
  let moveY = guessY / 2 ** coarsest;
  for (let level = coarsest; level >= 0; level--) {
    const scale = 1 / 2 ** level;
    const a = from[level];
    const b = to[level];
    const [px, py] = [(x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5];
    if (!samplePatch(a, px, py)) {
      if (level === 0) return [NaN, NaN];
      moveX *= 2;
      moveY *= 2;
      continue;
    }
    let [gxx, gxy, gyy] = [0, 0, 0];
    for (let k = 0; k < count; k++) {
      gxx += patchDx[k] * patchDx[k];
      gxy += patchDx[k] * patchDy[k];
      gyy += patchDy[k] * patchDy[k];
    }
    const determinant = gxx * gyy - gxy * gxy;
    if (determinant < 1e-3) return [NaN, NaN];
    for (let n = 0; n < iterations; n++) {
      const qx = px + moveX;
      const qy = py + moveY;
      const left = floor(qx) - radius;
      const top = floor(qy) - radius;
      if (left < 0 || top < 0 || left + 2 * radius + 1 >= b.width || top + 2 * radius + 1 >= b.height) {
        if (level === 0) return [NaN, NaN];
        break;
      }
      const fx = qx - floor(qx);
      const fy = qy - floor(qy);
      const w00 = (1 - fx) * (1 - fy);
      const w10 = fx * (1 - fy);
      const w01 = (1 - fx) * fy;
      const w11 = fx * fy;
      let bx = 0;
      let by = 0;
      for (let row = 0, k = 0; row <= 2 * radius; row++) {
        let i = (top + row) * b.width + left;
        for (let column = 0; column <= 2 * radius; column++, i++, k++) {
          const value =
            w00 * b.values[i] +
            w10 * b.values[i + 1] +
            w01 * b.values[i + b.width] +
            w11 * b.values[i + b.width + 1];
          const difference = patch[k] - value;
          bx += difference * patchDx[k];
          by += difference * patchDy[k];
        }
      }
      const stepX = (gyy * bx - gxy * by) / determinant;
      const stepY = (gxx * by - gxy * bx) / determinant;
      moveX += stepX;
      moveY += stepY;
      if (stepX * stepX + stepY * stepY < 1e-4) break;
    }
    if (level > 0) {
      moveX *= 2;
      moveY *= 2;
    }
  }
  return [x + moveX, y + moveY];
}

function samplePatch({ width, height, values, dx, dy }: PyramidLevel, x: number, y: number): boolean {
  const left = floor(x) - radius;
  const top = floor(y) - radius;
  if (left < 0 || top < 0 || left + 2 * radius + 1 >= width || top + 2 * radius + 1 >= height) return false;
  const fx = x - floor(x);
  const fy = y - floor(y);
  const w00 = (1 - fx) * (1 - fy);
  const w10 = fx * (1 - fy);
  const w01 = (1 - fx) * fy;
  const w11 = fx * fy;
  for (let row = 0, k = 0; row <= 2 * radius; row++) {
    let i = (top + row) * width + left;
    for (let column = 0; column <= 2 * radius; column++, i++, k++) {
      const j = i + width;
      const l = j + 1;
      patch[k] = w00 * values[i] + w10 * values[i + 1] + w01 * values[j] + w11 * values[l];
      patchDx[k] = w00 * dx[i] + w10 * dx[i + 1] + w01 * dx[j] + w11 * dx[l];
      patchDy[k] = w00 * dy[i] + w10 * dy[i + 1] + w01 * dy[j] + w11 * dy[l];
    }
  }
  return true;
}
