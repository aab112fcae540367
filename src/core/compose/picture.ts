import { yuvToRgb } from '../colour/matrix';
import { fromLight, toLight } from '../colour/transfer';
import type { Blend } from '../model/choices';
import { graded, gradeCurve, type GradeSteps, gradeSteps } from '../colour/grade';
import { type Affine, applyAffine } from '../geometry/affine';
import { type Homography, homographyOfAffine } from '../geometry/homography';
import { asFilmed, type Lens } from '../geometry/lens';
import { times3 } from '../geometry/matrix3';
import { type Alpha, fullOf } from '../matte/alpha';
import { MatteScratch } from '../matte/matte';
import type { Shot } from '../model/shot';
import {
  bilinear,
  catmullRom,
  type DeepSamples,
  perDeepCode,
  type PicturePlanes,
  shotToPlanes,
} from '../picture/planes';
import { type Blur, mapDuring } from './blur';
import { deepMatteOf, type Matte, matteOf, matteScale, readyOf } from './layer-matte';
import { clipIn, type Sampling, samplingOf, type Size, uprightSize } from './sampling';
import { type LayerDraw, needsPicture, type Scene } from './scene';
import type { Shots } from './source-frames';

/** Side of a checkerboard's square in crossing px, and its two greys; the neutral grey of an open cut. */
export const checker = { side: 16, light: 170, dark: 120 };
export const neutralGrey = 119;

/**
 * The picture of a scene, drawn without a graphics processor: the reference that the compositor is held against.
 *
 * Luma is sampled bilinearly between sample centres (at full size, where it is shown otherwise than one to one or
 * smaller, by Catmull and Rom's cubic), chroma bilinearly as sited by H.264 and VP9 (level with every other
 * luma column, half-way between the rows); the edge samples go on outward. Layers are put over each other
 * source-over: in display values, rounded to 8 bits after each, or in light, rounded once at the end.
 *
 * @param planesOf a decoded picture, or null where it is missing: the layer is left out.
 * @param out RGBA of the size given, written whole; alpha is 255.
 */
export function drawPicture(scene: Scene, drawn: Drawn, out: Uint8Array | Uint8ClampedArray) {
  const { crossing, width, height } = drawn;
  const quality = width / crossing.width;
  const light = scene.blend === 'display' ? null : new Float32Array(width * height * 3);
  drawBackground(scene.background, width, height, checker.side * quality, out);
  if (light)
    for (let i = 0; i < light.length; i++)
      light[i] = toLight(out[((i / 3) | 0) * 4 + (i % 3)] / 255, scene.blend);
  drawLayers(scene, drawn, matteOf, { out, light, blend: scene.blend, covered: null });
  if (light)
    for (let i = 0; i < light.length; i++)
      out[((i / 3) | 0) * 4 + (i % 3)] = Math.round(255 * fromLight(light[i], scene.blend));
}

/** What a scene is drawn from, and how large. */
interface Drawn {
  shots: Shots;
  crossing: Size;
  planesOf: (of: Pick<LayerDraw, 'shotId' | 'sourceFrame'>) => PicturePlanes | null;
  width: number;
  height: number;
  scratch?: MatteScratch;
}

/** The layers of a scene, each over those before it. */
function drawLayers(
  scene: Scene,
  { shots, crossing, planesOf, width, height, scratch = new MatteScratch() }: Drawn,
  makeMatte: typeof matteOf | typeof deepMatteOf,
  onto: Onto,
) {
  const mix = scene.layers.some(({ mixed }) => mixed !== null) ? new Float32Array(width * height * 4) : null;
  for (const [slot, draw] of scene.layers.entries()) {
    const shot = shots[draw.shotId];
    const own = needsPicture(scene, draw) ? planesOf(draw) : null;
    const planes = scene.paint === 'picture' ? own : null;
    const pictures = { own, ready: readyOf(draw, shots, planesOf) };
    const matte =
      draw.cut.extent === 'outlined'
        ? makeMatte(draw.cut, shot, matteScale(draw, width / crossing.width), scratch, pictures)
        : null;
    const seen = planes !== null || scene.paint === 'matte';
    const sampling = samplingOf(draw, shot, planes, { crossing, width, height });
    if (seen) drawLayer(draw, { shot, planes, matte }, sampling, crossing, width, height, onto, mix);
    if (mix && endsMix(scene.layers, slot)) layMix(mix, onto);
  }
}

/**
 * The same picture without rounding: samples with all the bits they were filmed with, mattes of 16 bits, sums in floats.
 *
 * @param out four numbers a pixel, 0 to 1: display values multiplied by alpha, and alpha, which is 1 unless the scene is
 *   drawn on nothing; written whole.
 */
export function drawDeepPicture(scene: Scene, drawn: Drawn, out: Float32Array) {
  const { crossing, width, height } = drawn;
  const count = width * height;
  const clear = scene.background === 'clear';
  const light = new Float32Array(count * 3);
  const covered = clear ? new Float32Array(count) : null;
  if (!clear) {
    const ground = new Uint8Array(count * 4);
    drawBackground(scene.background, width, height, (checker.side * width) / crossing.width, ground);
    for (let i = 0; i < light.length; i++)
      light[i] = toLight(ground[((i / 3) | 0) * 4 + (i % 3)] / 255, scene.blend);
  }
  drawLayers(scene, drawn, deepMatteOf, { out: null, light, blend: scene.blend, covered });
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++)
      out[4 * i + k] = Math.min(1, Math.max(0, fromLight(light[3 * i + k], scene.blend)));
    out[4 * i + 3] = covered ? covered[i] : 1;
  }
}

/**
 * How much a scene's layers cover, put over each other, with 16 bits: the alpha of {@link drawPicture}'s picture on nothing.
 *
 * @param planesOf decoded pictures, asked for where what is cut hangs on them.
 * @param out of the size given, written whole.
 */
export function drawDeepAlpha(
  scene: Scene,
  { shots, crossing, planesOf, width, height, scratch = new MatteScratch() }: Drawn,
  out: Uint16Array,
) {
  const mixes = scene.layers.some(({ mixed }) => mixed !== null);
  const mix = mixes ? new Float32Array(width * height * 4) : null;
  const covered = new Float32Array(width * height);
  const onto: Onto = { out: null, light: null, blend: scene.blend, covered };
  for (const [slot, draw] of scene.layers.entries()) {
    const shot = shots[draw.shotId];
    const { cut } = draw;
    const own = needsPicture({ paint: 'matte' }, draw) ? planesOf(draw) : null;
    const pictures = { own, ready: readyOf(draw, shots, planesOf) };
    const matte =
      cut.extent === 'outlined'
        ? deepMatteOf(cut, shot, matteScale(draw, width / crossing.width), scratch, pictures)
        : null;
    // Sampled where the picture is, whose size is the shot's.
    const sampling = samplingOf(draw, shot, uprightSize(shot), { crossing, width, height });
    drawLayer(draw, { shot, planes: null, matte }, sampling, crossing, width, height, onto, mix);
    if (mix && endsMix(scene.layers, slot)) layMix(mix, onto);
  }
  for (let i = 0; i < covered.length; i++) out[i] = Math.round(65_535 * covered[i]);
}

/** What a layer is drawn with: its shot, the picture (null: only what it covers, or the matte, counts) and the matte, if one cuts it. */
interface Parts {
  shot: Shot;
  planes: PicturePlanes | null;
  matte: Matte<Alpha> | null;
}

/** @param mix what a share of a mix is added to. */
function drawLayer(
  draw: LayerDraw,
  { shot, planes, matte }: Parts,
  sampling: Sampling,
  crossing: Size,
  width: number,
  height: number,
  onto: Onto,
  mix: Float32Array | null,
) {
  const { samples, taps, lens, mirrored } = sampling;
  const [x0, y0, x1, y1] = sampling.inside;
  const most = matte ? fullOf(matte.alpha) : 1;
  const share = draw.mixed ?? 1;
  const maps =
    samples === 0
      ? [sampling.maps[0]]
      : Array.from({ length: samples }, (_, i) =>
          mapDuring({ maps: sampling.maps as Blur['maps'] }, (i + 0.5) / samples),
        );
  // Where in its pixel each sample lies: those of a blur in one cell of a grid after the other, so that a shot shown
  // smaller does not alias.
  const within = (cell: number) => (samples === 0 ? 0.5 : ((cell % taps) + 0.5) / taps);
  const across = Float64Array.from(maps, (_, i) => within(i));
  const down = Float64Array.from(maps, (_, i) => within(Math.floor(i / taps)));
  const full = draw.cut.extent === 'all' ? 1 : 0;
  const reader = planes && colourReader(draw, shot, planes, sampling, { maps, blend: onto.blend });
  const [left, top, right, bottom] = clipIn(draw, crossing, width, height);
  // No arrays are made for a pixel: this draws all thumbnails.
  const colour = new Float64Array(3).fill(1);
  const sum = new Float64Array(3);
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      let covered = 0;
      sum[0] = sum[1] = sum[2] = 0;
      for (let i = 0; i < maps.length; i++) {
        const h = maps[i];
        const px = x + across[i];
        const py = y + down[i];
        const w = h[6] * px + h[7] * py + h[8];
        let sx = (h[0] * px + h[1] * py + h[2]) / w;
        let sy = (h[3] * px + h[4] * py + h[5]) / w;
        if (lens) [sx, sy] = asFilmed(lens, sx, sy);
        if (w <= 0 || sx < x0 || sy < y0 || sx > x1 || sy > y1) continue;
        if (mirrored) [sx, sy] = [folded(sx, shot.width), folded(sy, shot.height)];
        const cut = matte
          ? bilinear(
              matte.alpha,
              matte.width,
              matte.height,
              (sx * matte.width) / shot.width - 0.5,
              (sy * matte.height) / shot.height - 0.5,
            ) / most
          : full;
        const alpha = (reader || onto.covered ? (1 - cut) * draw.opacity : cut) / maps.length;
        if (alpha <= 0) continue;
        covered += alpha;
        if (reader) readColour(reader, i, px, py, colour);
        for (let k = 0; k < 3; k++) sum[k] += colour[k] * alpha;
      }
      if (covered <= 0) continue;
      const o = (y * width + x) * 4;
      if (mix && draw.mixed !== null) {
        for (let k = 0; k < 3; k++) mix[o + k] += sum[k] * share;
        mix[o + 3] += covered * share;
      } else layOver(onto, o, sum, 0, covered);
    }
  }
}

/** A place mirrored at a border, so that it lies within 0 … `size`; at most one size beyond it. */
function folded(at: number, size: number): number {
  return size - Math.abs(size - Math.abs(at));
}

/** What is drawn onto: display values, and light where that is mixed instead. */
interface Onto {
  /** Null where nothing is rounded to bytes. */
  out: Uint8Array | Uint8ClampedArray | null;
  light: Float32Array | null;
  blend: Blend;
  /** How much is covered, 0 to 1 a pixel, where nothing lies below; else null. */
  covered: Float32Array | null;
}

/** A pixel's colour (three numbers from `at` on), multiplied by how much it covers, over what is there; `o`: its first byte. */
function layOver(
  { out, light, covered: all }: Onto,
  o: number,
  colour: ArrayLike<number>,
  at: number,
  covered: number,
) {
  if (all) all[o >> 2] = covered + all[o >> 2] * (1 - covered);
  for (let k = 0; k < 3; k++) {
    if (light) {
      const i = (o >> 2) * 3 + k;
      light[i] = colour[at + k] + light[i] * (1 - covered);
    } else if (out) out[o + k] = Math.round(255 * colour[at + k] + out[o + k] * (1 - covered));
  }
}

/** Whether what has been mixed so far is whole: the layers' shares from one slot on belong to one layer. */
export function endsMix(layers: readonly LayerDraw[], slot: number): boolean {
  const [here, next] = [layers[slot], layers[slot + 1]];
  return here.mixed !== null && (!next || next.mixed === null || next.layerId !== here.layerId);
}

/** Lays a mix over what is there, and clears it. */
function layMix(mix: Float32Array, onto: Onto) {
  for (let o = 0; o < mix.length; o += 4) if (mix[o + 3] > 0) layOver(onto, o, mix, o, mix[o + 3]);
  mix.fill(0);
}

/** A plain colour as display values or as light, as a picture is put together. */
export function plainColour(plain: readonly number[], blend: Blend): number[] {
  return plain.map((value) => toLight(value, blend));
}

/** How a layer's colours are read. */
interface ColourReader {
  planes: PicturePlanes;
  /** What is read of its samples, and how much of them is a code value of 8 bits. */
  samples: Pick<PicturePlanes, 'y' | 'u' | 'v'> | DeepSamples;
  unit: number;
  /** From px of the picture to samples of the planes (to px of the shot, where there is a lens), for each map. */
  maps: Float64Array[];
  lens: Lens | null;
  /** From px of the shot as shown to samples of the planes. */
  toPlanes: Affine;
  sharp: boolean;
  mirrored: boolean;
  /** Samples along each side of a pixel. */
  side: number;
  fromYuv: Float64Array;
  spill: LayerDraw['spill'];
  negative: boolean;
  grade: GradeSteps | null;
  /** By which display values become light; null where nothing is worked out in light. */
  curve: Exclude<Blend, 'display'> | null;
  /** Whether light goes back to display values in the end. */
  shown: boolean;
  /** The colour that is read everywhere, or null. */
  plain: readonly number[] | null;
}

function colourReader(
  draw: LayerDraw,
  shot: Shot,
  planes: PicturePlanes,
  { taps, samples, sharp, lens, mirrored }: Sampling,
  { maps, blend }: { maps: readonly Homography[]; blend: Blend },
): ColourReader {
  const toPlanes = shotToPlanes(shot, planes);
  const whole = homographyOfAffine(toPlanes);
  const grade = draw.grade && gradeSteps(draw.grade);
  return {
    planes,
    samples: planes.deep ?? planes,
    unit: planes.deep ? perDeepCode : 1,
    maps: maps.map((map) => Float64Array.from(lens ? map : times3(whole, map))),
    lens,
    toPlanes,
    sharp,
    mirrored,
    side: samples === 0 ? taps : 1,
    fromYuv: yuvToRgb(planes.colour),
    spill: draw.spill,
    negative: draw.negative,
    grade,
    curve: grade || blend !== 'display' ? gradeCurve(blend) : null,
    shown: blend === 'display',
    plain: draw.plain && plainColour(draw.plain, blend),
  };
}

/**
 * A layer's colour at a place of the picture (of all the pixel, where it is sampled more than once), 0 to 1, as light or as
 * display values: sampled, its keyed colour taken out, graded.
 *
 * @param which of the maps. @param out three numbers, written.
 */
function readColour(reader: ColourReader, which: number, x: number, y: number, out: Float64Array) {
  if (reader.plain) {
    out.set(reader.plain);
    return;
  }
  const { planes, side, sharp, mirrored, fromYuv: m, spill, negative, grade, curve, lens, toPlanes } = reader;
  const h = reader.maps[which];
  const { width, height, chromaWidth, chromaHeight } = planes;
  const { y: lumas, u: us, v: vs } = reader.samples;
  const chromaAcross = chromaWidth / width;
  const chromaDown = chromaHeight / height;
  const step = 1 / side;
  const share = step * step;
  const left = side === 1 ? x : Math.floor(x) + step / 2;
  const top = side === 1 ? y : Math.floor(y) + step / 2;
  let luma = 0;
  let u = 0;
  let v = 0;
  for (let i = 0; i < side; i++) {
    for (let j = 0; j < side; j++) {
      const qx = left + i * step;
      const qy = top + j * step;
      const near = 1 / (h[6] * qx + h[7] * qy + h[8]);
      let px = (h[0] * qx + h[1] * qy + h[2]) * near;
      let py = (h[3] * qx + h[4] * qy + h[5]) * near;
      if (lens) [px, py] = applyAffine(toPlanes, ...asFilmed(lens, px, py));
      if (mirrored) [px, py] = [folded(px, width), folded(py, height)];
      luma +=
        share *
        (sharp
          ? catmullRom(lumas, width, height, px - 0.5, py - 0.5)
          : bilinear(lumas, width, height, px - 0.5, py - 0.5));
      const cx = (px - 0.5) * chromaAcross;
      const cy = py * chromaDown - 0.5;
      u += share * bilinear(us, chromaWidth, chromaHeight, cx, cy);
      v += share * bilinear(vs, chromaWidth, chromaHeight, cx, cy);
    }
  }
  if (reader.unit !== 1) [luma, u, v] = [luma / reader.unit, u / reader.unit, v / reader.unit];
  if (spill) {
    const along = (u - 128) * spill.u + (v - 128) * spill.v;
    if (along > 0) {
      u -= along * spill.share * spill.u;
      v -= along * spill.share * spill.v;
    }
  }
  for (let k = 0; k < 3; k++) {
    const value = (m[4 * k] * luma + m[4 * k + 1] * u + m[4 * k + 2] * v + m[4 * k + 3]) / 255;
    const clamped = value < 0 ? 0 : value > 1 ? 1 : value;
    const shown = negative ? 1 - clamped : clamped;
    out[k] = curve ? toLight(shown, curve) : shown;
  }
  if (!grade || !curve) return;
  const after = graded(grade, out[0], out[1], out[2]);
  for (let k = 0; k < 3; k++) out[k] = reader.shown ? fromLight(after[k], curve) : after[k];
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
        background === 'black' || background === 'clear'
          ? 0
          : background === 'grey'
            ? neutralGrey
            : odd
              ? checker.dark
              : checker.light;
      out[o] = out[o + 1] = out[o + 2] = value;
      out[o + 3] = 255;
    }
  }
}
