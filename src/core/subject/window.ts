import type { Rectangle } from '../geometry/rectangle';
import { FramePicture } from '../picture/frame-picture';

/** A part of a small grid, in its samples: what lies outside of it is not looked at. */
export interface Window {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** The box about what is more than 0 on a grid so wide, its right and bottom beyond it; null where nothing is. */
export function boxOn(inside: ArrayLike<number>, width: number): Rectangle | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -1, -1];
  for (let at = 0, i = 0, j = 0; at < inside.length; at++) {
    if (inside[at] > 0) {
      if (i < left) left = i;
      if (i >= right) right = i + 1;
      if (j < top) top = j;
      bottom = j + 1;
    }
    if (++i === width) [i, j] = [0, j + 1];
  }
  return right < 0 ? null : [left, top, right, bottom];
}

/** The part of a grid about a region, with so many samples to each side; all of it where nothing is. @param inside 1 where it is. */
export function windowAbout(inside: Uint8Array, width: number, height: number, about: number): Window {
  const box = boxOn(inside, width);
  if (!box) return { left: 0, top: 0, width, height };
  const [left, top, right, bottom] = box;
  // Even, so that chroma and grids of half the size lie in it whole.
  const span = (from: number, to: number, length: number) => {
    const start = Math.max(0, from - about) & ~1;
    return [start, Math.min(length, (to + 1 + about) & ~1) - start];
  };
  const [x, wide] = span(left, right, width);
  const [y, tall] = span(top, bottom, height);
  return { left: x, top: y, width: wide, height: tall };
}

/** A part of a picture. @param times px of the picture a sample of the window. */
export function pictureIn(
  { planes }: FramePicture,
  { left, top, width, height }: Window,
  times: number,
): FramePicture {
  const part = (
    plane: Uint8Array,
    stride: number,
    [x, y, w, h]: readonly [number, number, number, number],
  ) => {
    const out = new Uint8Array(w * h);
    for (let j = 0; j < h; j++)
      out.set(plane.subarray((y + j) * stride + x, (y + j) * stride + x + w), j * w);
    return out;
  };
  const box = [left, top, width, height].map((value) => value * times) as [number, number, number, number];
  // Chroma has as many samples, or half as many; a window's px are even.
  const [sx, sy] = [planes.chromaWidth / planes.width, planes.chromaHeight / planes.height].map((share) =>
    share > 0.75 ? 1 : 0.5,
  );
  const chroma = [box[0] * sx, box[1] * sy, box[2] * sx, box[3] * sy] as const;
  return new FramePicture({
    ...planes,
    ...{ width: box[2], height: box[3], chromaWidth: chroma[2], chromaHeight: chroma[3] },
    y: part(planes.y, planes.width, box),
    u: part(planes.u, planes.chromaWidth, chroma),
    v: part(planes.v, planes.chromaWidth, chroma),
  });
}

/** The samples of a grid so wide that lie in a window. */
export function samplesIn<T extends Uint8Array | Float32Array>(
  all: T,
  wide: number,
  { left, top, width, height }: Window,
): T {
  const out = new (all.constructor as new (length: number) => T)(width * height);
  for (let j = 0; j < height; j++) {
    const from = (top + j) * wide + left;
    out.set(all.subarray(from, from + width), j * width);
  }
  return out;
}

/** A window's mask on its whole grid; nothing lies outside of it. */
export function onWhole(
  mask: Uint8Array,
  { left, top, width, height }: Window,
  whole: { width: number; height: number },
): Uint8Array {
  const out = new Uint8Array(whole.width * whole.height);
  for (let j = 0; j < height; j++)
    out.set(mask.subarray(j * width, (j + 1) * width), (top + j) * whole.width + left);
  return out;
}
