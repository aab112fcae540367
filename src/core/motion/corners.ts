import type { PyramidLevel } from './luma';

/** How many fields the picture is parted into, across and down, so that points lie all over it. */
export const fields = { across: 20, down: 12 };
const perField = 2;
const radius = 3;

/**
 * Points that can be followed: where the smaller eigenvalue of the gradients' second moments is a local maximum (Shi
 * and Tomasi 1994), the best few of every field of the picture.
 *
 * @param least smallest eigenvalue, in squared code values a px, that counts as texture.
 * @returns x, y of each point, px.
 */
export function cornersOf({ width, height, dx, dy }: PyramidLevel, least = 1.5): Float32Array {
  const size = width * height;
  const strength = new Float32Array(size);
  const xx = new Float32Array(size);
  const xy = new Float32Array(size);
  const yy = new Float32Array(size);
  for (let i = 0; i < size; i++) {
    xx[i] = dx[i] * dx[i];
    xy[i] = dx[i] * dy[i];
    yy[i] = dy[i] * dy[i];
  }
  for (const moment of [xx, xy, yy]) boxMean(moment, width, height);
  const edge = radius + 4;
  const { sqrt } = Math;
  for (let y = edge; y < height - edge; y++) {
    for (let x = edge; x < width - edge; x++) {
      const i = y * width + x;
      const [half, off] = [(xx[i] - yy[i]) / 2, xy[i]];
      strength[i] = (xx[i] + yy[i]) / 2 - sqrt(half * half + off * off);
    }
  }
  const best: { x: number; y: number; value: number }[][] = Array.from(
    { length: fields.across * fields.down },
    () => [],
  );
  for (let y = edge; y < height - edge; y++) {
    for (let x = edge; x < width - edge; x++) {
      const i = y * width + x;
      const value = strength[i];
      if (value < least) continue;
      const peak =
        value >= strength[i - 1] &&
        value > strength[i + 1] &&
        value >= strength[i - width] &&
        value > strength[i + width];
      if (!peak) continue;
      const list = best[fieldOf(x, y, width, height)];
      if (list.length === perField && value <= list[perField - 1].value) continue;
      list.push({ x, y, value });
      list.sort((a, b) => b.value - a.value);
      if (list.length > perField) list.pop();
    }
  }
  return Float32Array.from(best.flat().flatMap(({ x, y }) => [x, y]));
}

export function fieldOf(x: number, y: number, width: number, height: number): number {
  const { min, max, floor } = Math;
  const column = min(fields.across - 1, max(0, floor((x * fields.across) / width)));
  const row = min(fields.down - 1, max(0, floor((y * fields.down) / height)));
  return row * fields.across + column;
}

/** Replaces every value by the mean over (2·radius + 1)² values, by running sums. */
function boxMean(values: Float32Array, width: number, height: number) {
  const side = 2 * radius + 1;
  const line = new Float32Array(Math.max(width, height));
  const along = (start: number, stride: number, count: number) => {
    for (let i = 0; i < count; i++) line[i] = values[start + i * stride];
    let sum = 0;
    for (let i = 0; i < count + radius; i++) {
      if (i < count) sum += line[i];
      if (i >= side) sum -= line[i - side];
      if (i >= radius) values[start + (i - radius) * stride] = sum / side;
    }
  };
  for (let y = 0; y < height; y++) along(y * width, 1, width);
  for (let x = 0; x < width; x++) along(x, width, height);
}
