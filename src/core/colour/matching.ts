import { channelNumbers } from '../model/channels';
import type { PicturePlanes } from '../picture/planes';
import { type Grade, graded, gradeSteps, greyLevel, opponentsOf, stopLevel } from './grade';
import { yuvToRgb } from './matrix';
import { toLight } from './transfer';

/** Mean and standard deviation of l, α and β. */
export interface ColourStatistics {
  mean: [l: number, a: number, b: number];
  deviation: [l: number, a: number, b: number];
}

/** @param light colours in light, 0 to 1, three numbers each. @throws RangeError without any. */
export function colourStatistics(light: ArrayLike<number>): ColourStatistics {
  const count = Math.floor(light.length / 3);
  if (count === 0) throw new RangeError('There are no colours to take statistics of.');
  const sums = new Float64Array(6);
  for (let i = 0; i < 3 * count; i += 3) {
    const opponents = opponentsOf(light[i], light[i + 1], light[i + 2]);
    for (let k = 0; k < 3; k++) {
      sums[k] += opponents[k];
      sums[3 + k] += opponents[k] ** 2;
    }
  }
  const mean = [0, 1, 2].map((k) => sums[k] / count) as ColourStatistics['mean'];
  const deviation = mean.map((value, k) => Math.sqrt(Math.max(0, sums[3 + k] / count - value ** 2)));
  return { mean, deviation: deviation as ColourStatistics['deviation'] };
}

/** Deviation below which a picture has no spread to be scaled. */
const flat = 1e-3;

/**
 * The grade that gives a picture another one's mean and spread (Reinhard et al. 2001, equations 10 and 11); α and β share
 * one saturation, the geometric mean of theirs.
 */
export function matchingGrade(own: ColourStatistics, other: ColourStatistics): Grade {
  const ratio = (k: number) => (own.deviation[k] < flat ? 1 : other.deviation[k] / own.deviation[k]);
  const within = (key: keyof Grade, value: number, parts = 10) => {
    const [{ low, high }] = channelNumbers[key];
    return Math.round(parts * Math.min(high, Math.max(low, value))) / parts;
  };
  const contrast = within('contrast', 100 * ratio(0));
  const saturation = within('saturation', 100 * Math.sqrt(ratio(1) * ratio(2)));
  const l = other.mean[0] - greyLevel - (own.mean[0] - greyLevel) * (contrast / 100);
  const chroma = (k: number) => other.mean[k] - (own.mean[k] * saturation) / 100;
  return {
    exposure: within('exposure', l / stopLevel, 100),
    contrast,
    saturation,
    warmth: within('warmth', (100 * chroma(1)) / Math.sqrt(6)),
    tint: within('tint', (100 * chroma(2)) / Math.SQRT2),
  };
}

/** A small picture's colours in light (sRGB's curve), 0 to 1, three numbers each, with a grade if it has one. */
export function lightOf(planes: PicturePlanes, grade: Grade | null): Float32Array {
  const m = yuvToRgb(planes.colour);
  const steps = grade && gradeSteps(grade);
  const light = new Float32Array(planes.width * planes.height * 3);
  for (let y = 0, o = 0; y < planes.height; y++) {
    const row = Math.floor((y * planes.chromaHeight) / planes.height) * planes.chromaWidth;
    for (let x = 0; x < planes.width; x++, o += 3) {
      const c = row + Math.floor((x * planes.chromaWidth) / planes.width);
      const [luma, u, v] = [planes.y[y * planes.width + x], planes.u[c], planes.v[c]];
      const rgb = [0, 4, 8].map((k) =>
        toLight(
          Math.min(1, Math.max(0, (m[k] * luma + m[k + 1] * u + m[k + 2] * v + m[k + 3]) / 255)),
          'linear sRGB',
        ),
      );
      light.set(steps ? graded(steps, rgb[0], rgb[1], rgb[2]) : rgb, o);
    }
  }
  return light;
}
