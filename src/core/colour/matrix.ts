import type { ColourMatrix, VideoColour } from '../model/shot';

/** Kr and Kb of each matrix. Sources: BT.601-7 §2.5.1, BT.709-6 §3.2, BT.2020-2 table 4. */
const weights: Record<ColourMatrix, readonly [kr: number, kb: number]> = {
  bt601: [0.299, 0.114],
  bt709: [0.2126, 0.0722],
  bt2020: [0.2627, 0.0593],
};

/**
 * The 3×4 matrix, by rows, that takes 8-bit code values (Y, Cb, Cr, 1) to display R, G, B in code values 0 to
 * 255, unclamped.
 */
export function yuvToRgb({ matrix, fullRange }: VideoColour): Float64Array {
  const [kr, kb] = weights[matrix];
  const kg = 1 - kr - kb;
  const luma = fullRange ? 1 : 255 / 219;
  const chroma = fullRange ? 1 : 255 / 224;
  const black = fullRange ? 0 : 16;
  const rows = [
    [luma, 0, 2 * (1 - kr) * chroma],
    [luma, ((-2 * kb * (1 - kb)) / kg) * chroma, ((-2 * kr * (1 - kr)) / kg) * chroma],
    [luma, 2 * (1 - kb) * chroma, 0],
  ];
  return Float64Array.from(rows.flatMap(([y, u, v]) => [y, u, v, -y * black - (u + v) * 128]));
}

/** The 3×4 matrix, by rows, that takes display R, G, B, 1 (0 to 255) to 8-bit code values Y, Cb, Cr. */
export function rgbToYuv({ matrix, fullRange }: VideoColour): Float64Array {
  const [kr, kb] = weights[matrix];
  const kg = 1 - kr - kb;
  const luma = fullRange ? 1 : 219 / 255;
  const chroma = fullRange ? 1 : 224 / 255;
  const black = fullRange ? 0 : 16;
  const row = (r: number, g: number, b: number, scale: number, offset: number) => [
    r * scale,
    g * scale,
    b * scale,
    offset,
  ];
  return Float64Array.from([
    ...row(kr, kg, kb, luma, black),
    ...row(-kr / (2 * (1 - kb)), -kg / (2 * (1 - kb)), 0.5, chroma, 128),
    ...row(0.5, -kg / (2 * (1 - kr)), -kb / (2 * (1 - kr)), chroma, 128),
  ]);
}

/**
 * An RGBA picture as planar Y, Cb, Cr 4:2:0, chroma averaged over 1 2 1 columns about each even one (sited on
 * it, as H.264's and VP9's default has it) and the two rows.
 *
 * @param rgba 4 bytes a pixel, row by row; alpha is ignored.
 * @param width, height even numbers of pixels.
 * @param out width·height·3/2 bytes.
 * @throws RangeError for odd sizes or wrong lengths.
 */
export function rgbaToI420(
  rgba: Uint8Array | Uint8ClampedArray,
  width: number,
  height: number,
  colour: VideoColour,
  out: Uint8Array,
) {
  if (width % 2 || height % 2)
    throw new RangeError(`4:2:0 pictures need even sizes, not ${width}×${height}.`);
  if (rgba.length !== width * height * 4 || out.length !== (width * height * 3) / 2) {
    throw new RangeError('The picture does not have the length its size says.');
  }
  const [yr, yg, yb, y0, ur, ug, ub, u0, vr, vg, vb, v0] = rgbToYuv(colour);
  for (let i = 0, p = 0; i < width * height; i++, p += 4) {
    out[i] = yr * rgba[p] + yg * rgba[p + 1] + yb * rgba[p + 2] + y0 + 0.5;
  }
  const u = width * height;
  const v = u + u / 4;
  const stride = width * 4;
  for (let y = 0, c = 0; y < height; y += 2) {
    let p = y * stride;
    // The column to the left, both rows together; the first stands for the one before it too.
    let r0 = rgba[p] + rgba[p + stride];
    let g0 = rgba[p + 1] + rgba[p + stride + 1];
    let b0 = rgba[p + 2] + rgba[p + stride + 2];
    for (let x = 0; x < width; x += 2, c++, p += 8) {
      const r2 = rgba[p + 4] + rgba[p + stride + 4];
      const g2 = rgba[p + 5] + rgba[p + stride + 5];
      const b2 = rgba[p + 6] + rgba[p + stride + 6];
      const r = (r0 + 2 * (rgba[p] + rgba[p + stride]) + r2) / 8;
      const g = (g0 + 2 * (rgba[p + 1] + rgba[p + stride + 1]) + g2) / 8;
      const b = (b0 + 2 * (rgba[p + 2] + rgba[p + stride + 2]) + b2) / 8;
      [r0, g0, b0] = [r2, g2, b2];
      const [cb, cr] = [ur * r + ug * g + ub * b + u0 + 0.5, vr * r + vg * g + vb * b + v0 + 0.5];
      out[u + c] = cb > 255 ? 255 : cb;
      out[v + c] = cr > 255 ? 255 : cr;
    }
  }
}
