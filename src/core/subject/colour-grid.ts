import type { FramePicture } from '../picture/frame-picture';
import { meanOfSquares } from '../picture/planes';

/** A picture's colours at one of its sizes: luma, Cb and Cr of every sample, 8 bits. */
export interface ColourGrid {
  width: number;
  height: number;
  y: Uint8Array;
  u: Uint8Array;
  v: Uint8Array;
}

/** A picture's colours at 1 / 2^k of its size. */
export function colourGrid(picture: FramePicture, k: number): ColourGrid {
  const { width, height, values } = picture.level(k);
  const { u, v } = picture.planes;
  return {
    width,
    height,
    y: values,
    u: chromaAt(u, picture, width, height, k),
    v: chromaAt(v, picture, width, height, k),
  };
}

/** A plane of chroma at the samples of luma: the mean of what it has there, or the nearest where it has fewer. */
function chromaAt(
  plane: Uint8Array,
  { planes: { chromaWidth, chromaHeight } }: FramePicture,
  width: number,
  height: number,
  k: number,
): Uint8Array {
  let halvings = 0;
  while (halvings < k && chromaWidth >> (halvings + 1) >= width && chromaHeight >> (halvings + 1) >= height)
    halvings++;
  const [w, h] = [chromaWidth >> halvings, chromaHeight >> halvings];
  const own = halvings === 0 ? plane : meanOfSquares(plane, chromaWidth, w, h, halvings);
  if (w === width && h === height) return own;
  const out = new Uint8Array(width * height);
  if (width === 2 * w && height === 2 * h) {
    // Two samples of a row at a time.
    const pairs = new Uint16Array(out.buffer);
    for (let j = 0, from = 0; j < h; j++, from += w) {
      const o = 2 * from;
      for (let i = 0; i < w; i++) pairs[o + i] = own[from + i] * 0x101;
      pairs.copyWithin(o + w, o, o + w);
    }
    return out;
  }
  const { min, floor } = Math;
  const columns = Uint32Array.from({ length: width }, (_, i) => min(w - 1, floor(((i + 0.5) * w) / width)));
  for (let j = 0, o = 0; j < height; j++) {
    const row = min(h - 1, floor(((j + 0.5) * h) / height)) * w;
    for (let i = 0; i < width; i++) out[o++] = own[row + columns[i]];
  }
  return out;
}
