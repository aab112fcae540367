import { yuvToRgb } from '../colour/matrix';
import { type Blend, fromLight, toLight } from '../colour/transfer';
import { compose } from '../geometry/affine';
import { drawKeyed } from '../matte/keyed';
import { drawOutlines } from '../matte/outline-matte';
import { MatteScratch } from '../matte/matte';
import type { Shot } from '../document/rows';
import { bilinear, type PicturePlanes, shotToPlanes } from '../picture/planes';
import type { Rectangle } from '../geometry/rectangle';
import type { LayerDraw, OutlinedCut, Scene, Shots } from './scene';

/** A matte as it is sampled: `width` × `height` alpha bytes that stand for the whole of a shot's frame. */
export interface Matte {
  width: number;
  height: number;
  alpha: Uint8Array;
}

/** Side of a checkerboard's square in crossing px, and its two greys; the neutral grey of an open cut. */
export const checker = { side: 16, light: 170, dark: 120 };
export const neutralGrey = 119;

/**
 * How finely a layer's matte is drawn, as a share of the shot's size: as fine as the picture shows it, never
 * finer than the shot.
 *
 * @param quality share of the crossing's size that is drawn.
 */
export function matteScale(draw: LayerDraw, quality: number): number {
  return Math.min(1, quality / Math.hypot(draw.toShot[0], draw.toShot[1]));
}

/**
 * What is cut from a shot, as a matte at a share of its size.
 *
 * @param planes its picture, which a keyed colour is looked for in.
 */
export function matteOf(
  { posed, full, key, keeps }: Omit<OutlinedCut, 'extent'>,
  shot: Shot,
  scale: number,
  scratch: MatteScratch,
  planes: PicturePlanes | null,
): Matte {
  const width = Math.max(1, Math.round(shot.width * scale));
  const height = Math.max(1, Math.round(shot.height * scale));
  const alpha = new Uint8Array(width * height);
  // Without its picture a keyed colour cuts nothing yet.
  const keyed = key && planes;
  if (keyed) drawKeyed(key, planes, shot, width, height, alpha);
  drawOutlines(posed, keyed ? 'as it is' : full ? 'full' : 'empty', scale, width, height, alpha, scratch);
  if (keeps) for (let i = 0; i < alpha.length; i++) alpha[i] = 255 - alpha[i];
  return { width, height, alpha };
}

/** Samples along each side of an output pixel, so that a shot shown smaller does not alias. */
export function tapsFor(samplesPerPixel: number): number {
  return Math.min(4, Math.max(1, Math.round(samplesPerPixel)));
}

/**
 * The picture of a scene, drawn without a graphics processor: the reference that the compositor is held against.
 *
 * Luma is sampled bilinearly between sample centres, chroma as sited by H.264 and VP9 (level with every other
 * luma column, half-way between the rows); the edge samples go on outward. Layers are put over each other
 * source-over: in display values, rounded to 8 bits after each, or in light, rounded once at the end.
 *
 * @param planesOf the decoded picture of a layer, or null where it is missing: the layer is left out.
 * @param out RGBA of the size given, written whole; alpha is 255.
 */
export function drawPicture(
  scene: Scene,
  shots: Shots,
  crossing: { width: number; height: number },
  planesOf: (draw: LayerDraw) => PicturePlanes | null,
  width: number,
  height: number,
  out: Uint8Array | Uint8ClampedArray,
  scratch = new MatteScratch(),
) {
  const quality = width / crossing.width;
  const light = scene.blend === 'display' ? null : new Float32Array(width * height * 3);
  drawBackground(scene.background, width, height, checker.side * quality, out);
  if (light)
    for (let i = 0; i < light.length; i++)
      light[i] = toLight(out[((i / 3) | 0) * 4 + (i % 3)] / 255, scene.blend);
  for (const draw of scene.layers) {
    const shot = shots[draw.shotId];
    const keyed = draw.cut.extent === 'outlined' && draw.cut.key !== null;
    const decoded = scene.paint === 'picture' || keyed ? planesOf(draw) : null;
    const planes = scene.paint === 'picture' ? decoded : null;
    if (scene.paint === 'picture' && !planes) continue;
    const matte =
      draw.cut.extent === 'outlined'
        ? matteOf(draw.cut, shot, matteScale(draw, quality), scratch, decoded)
        : null;
    drawLayer(draw, shot, planes, matte, crossing, width, height, out, light, scene.blend);
  }
  if (light)
    for (let i = 0; i < light.length; i++)
      out[((i / 3) | 0) * 4 + (i % 3)] = Math.round(255 * fromLight(light[i], scene.blend));
}

/** The pixels of a picture of `width` × `height` that a layer is drawn in. */
export function clipIn(
  { clip }: LayerDraw,
  crossing: { width: number; height: number },
  width: number,
  height: number,
): Rectangle {
  if (!clip) return [0, 0, width, height];
  const [across, down] = [width / crossing.width, height / crossing.height];
  return [
    Math.round(clip[0] * across),
    Math.round(clip[1] * down),
    Math.round(clip[2] * across),
    Math.round(clip[3] * down),
  ];
}

function drawLayer(
  draw: LayerDraw,
  shot: Shot,
  planes: PicturePlanes | null,
  matte: Matte | null,
  crossing: { width: number; height: number },
  width: number,
  height: number,
  out: Uint8Array | Uint8ClampedArray,
  light: Float32Array | null,
  blend: Blend,
) {
  const toShot = compose(draw.toShot, [crossing.width / width, 0, 0, crossing.height / height, 0, 0]);
  const toPlanes = planes && compose(shotToPlanes(shot, planes), toShot);
  const m = planes && yuvToRgb(planes.colour);
  const taps = toPlanes ? tapsFor(Math.hypot(toPlanes[0], toPlanes[1])) : 1;
  const full = draw.cut.extent === 'all' ? 1 : 0;
  const [left, top, right, bottom] = clipIn(draw, crossing, width, height);
  const share = 1 / (taps * taps);
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const sx = toShot[0] * (x + 0.5) + toShot[2] * (y + 0.5) + toShot[4];
      const sy = toShot[1] * (x + 0.5) + toShot[3] * (y + 0.5) + toShot[5];
      if (sx < 0 || sy < 0 || sx > shot.width || sy > shot.height) continue;
      const cut = matte
        ? bilinear(
            matte.alpha,
            matte.width,
            matte.height,
            (sx * matte.width) / shot.width - 0.5,
            (sy * matte.height) / shot.height - 0.5,
          ) / 255
        : full;
      const o = (y * width + x) * 4;
      if (!planes || !toPlanes || !m) {
        for (let k = 0; k < 3; k++) out[o + k] = Math.round(out[o + k] + (255 - out[o + k]) * cut);
        continue;
      }
      const alpha = (1 - cut) * draw.opacity;
      if (alpha <= 0) continue;
      let luma = 0;
      let u = 0;
      let v = 0;
      for (let i = 0; i < taps; i++) {
        for (let j = 0; j < taps; j++) {
          const tx = x + (i + 0.5) / taps;
          const ty = y + (j + 0.5) / taps;
          const px = toPlanes[0] * tx + toPlanes[2] * ty + toPlanes[4];
          const py = toPlanes[1] * tx + toPlanes[3] * ty + toPlanes[5];
          luma += share * bilinear(planes.y, planes.width, planes.height, px - 0.5, py - 0.5);
          const cx = ((px - 0.5) * planes.chromaWidth) / planes.width;
          const cy = (py * planes.chromaHeight) / planes.height - 0.5;
          u += share * bilinear(planes.u, planes.chromaWidth, planes.chromaHeight, cx, cy);
          v += share * bilinear(planes.v, planes.chromaWidth, planes.chromaHeight, cx, cy);
        }
      }
      if (draw.spill) {
        const along = (u - 128) * draw.spill.u + (v - 128) * draw.spill.v;
        if (along > 0) {
          u -= along * draw.spill.share * draw.spill.u;
          v -= along * draw.spill.share * draw.spill.v;
        }
      }
      for (let k = 0; k < 3; k++) {
        const value = m[4 * k] * luma + m[4 * k + 1] * u + m[4 * k + 2] * v + m[4 * k + 3];
        const clamped = value < 0 ? 0 : value > 255 ? 255 : value;
        const colour = draw.negative ? 255 - clamped : clamped;
        if (light) {
          const i = (o >> 2) * 3 + k;
          light[i] = toLight(colour / 255, blend) * alpha + light[i] * (1 - alpha);
        } else out[o + k] = Math.round(colour * alpha + out[o + k] * (1 - alpha));
      }
    }
  }
}

function drawBackground(
  background: Scene['background'],
  width: number,
  height: number,
  side: number,
  out: Uint8Array | Uint8ClampedArray,
) {
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o += 4) {
      const odd = (Math.floor((x + 0.5) / side) + Math.floor((y + 0.5) / side)) % 2 === 1;
      const value =
        background === 'black' ? 0 : background === 'grey' ? neutralGrey : odd ? checker.dark : checker.light;
      out[o] = out[o + 1] = out[o + 2] = value;
      out[o + 3] = 255;
    }
  }
}
