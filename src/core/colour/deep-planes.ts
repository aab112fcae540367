import type { VideoColour } from '../model/shot';
import { rgbToYuv } from './matrix';

/** How finely chroma is sampled, and whether there is a plane of alpha. */
export interface PlaneLayout {
  chroma: '4:2:0' | '4:2:2' | '4:4:4';
  alpha: boolean;
}

/** Bits of a sample, its highest value, and what a code value of 8 bits is in it (BT.709-6, section 5: 64 to 940). */
export const deepBits = 10;
const most = (1 << deepBits) - 1;
const perCode = 1 << (deepBits - 8);

/** Samples of the planes of a picture. @param width, height even numbers of px. */
export function planeSamples(width: number, height: number, { chroma, alpha }: PlaneLayout): number {
  const each = chroma === '4:4:4' ? 1 : chroma === '4:2:2' ? 0.5 : 0.25;
  return width * height * (1 + 2 * each + (alpha ? 1 : 0));
}

/**
 * A picture as planes of 10 bits: Y, Cb, Cr, and alpha in full range, one after the other. Chroma is averaged over 1 2 1
 * columns about each even one and, in 4:2:0, over the two rows: sited as H.264 and HEVC have it unless they say otherwise.
 *
 * @param rgba display values 0 to 1, four numbers a pixel, top row first; straight alpha.
 * @param out as many as {@link planeSamples} says, written whole.
 * @throws RangeError for odd sizes or wrong lengths.
 */
export function toDeepPlanes(
  rgba: Float32Array,
  width: number,
  height: number,
  colour: VideoColour,
  layout: PlaneLayout,
  out: Uint16Array,
) {
  const luma = width * height;
  if (width % 2 || height % 2) throw new RangeError(`Planes need even sizes, not ${width}×${height}.`);
  if (rgba.length !== luma * 4 || out.length !== planeSamples(width, height, layout))
    throw new RangeError('The picture does not have the length its size says.');
  const [yr, yg, yb, y0, ur, ug, ub, u0, vr, vg, vb, v0] = rgbToYuv(colour).map((each, k) =>
    k % 4 === 3 ? each * perCode : each * 255 * perCode,
  );
  const clamped = (value: number) => (value < 0 ? 0 : value > most ? most : value + 0.5);
  for (let i = 0, p = 0; i < luma; i++, p += 4)
    out[i] = clamped(yr * rgba[p] + yg * rgba[p + 1] + yb * rgba[p + 2] + y0);
  const [across, down] = [layout.chroma === '4:4:4' ? 1 : 2, layout.chroma === '4:2:0' ? 2 : 1];
  const chroma = (width / across) * (height / down);
  const stride = 4 * width;
  for (let y = 0, c = luma; y < height; y += down)
    for (let x = 0; x < width; x += across, c++) {
      let [r, g, b] = [0, 0, 0];
      for (let row = 0; row < down; row++) {
        const p = (y + row) * stride + 4 * x;
        if (across === 1) [r, g, b] = [r + rgba[p], g + rgba[p + 1], b + rgba[p + 2]];
        else {
          const left = x === 0 ? p : p - 4;
          r += (rgba[left] + 2 * rgba[p] + rgba[p + 4]) / 4;
          g += (rgba[left + 1] + 2 * rgba[p + 1] + rgba[p + 5]) / 4;
          b += (rgba[left + 2] + 2 * rgba[p + 2] + rgba[p + 6]) / 4;
        }
      }
      r /= down;
      g /= down;
      b /= down;
      out[c] = clamped(ur * r + ug * g + ub * b + u0);
      out[c + chroma] = clamped(vr * r + vg * g + vb * b + v0);
    }
  if (!layout.alpha) return;
  const alpha = luma + 2 * chroma;
  for (let i = 0; i < luma; i++) out[alpha + i] = clamped(rgba[4 * i + 3] * most);
}
