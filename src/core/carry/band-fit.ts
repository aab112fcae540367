import type { Affine } from '../geometry/affine';
import { solved } from '../numbers/cholesky';
import { type FramePicture, lumaAt, type LumaLevel, slopeAt } from '../picture/frame-picture';

/** How a band of picture moved from one frame to another. */
export interface BandMotion {
  /** A similarity, px to px. */
  map: Affine;
  /** Factor on the light. */
  gain: number;
  /** Median absolute difference after the match, code values. */
  residual: number;
  /** Share of the band that the match explains, 0 to 1. */
  explained: number;
}

/** Code values within which a sample counts as explained. */
export const explainedWithin = 8;

/** Halvings at which a similarity is fitted one after the other, and rounds at each. */
type Levels = readonly (readonly [level: number, rounds: number])[];
const coarseToFine: Levels = [
  [1, 4],
  [0, 4],
];
/** Where the guess is as good as right. */
export const fineOnly: Levels = [[0, 3]];

/** Samples that are fitted at most. */
const most = 700;

/** A band's samples, and about which middle and how wide they lie. */
interface Band {
  count: number;
  x: Float64Array;
  y: Float64Array;
  middle: readonly [x: number, y: number];
  radius: number;
}

/**
 * The similarity, and the factor on the light, that take a band from one picture to the other: Gauss–Newton with Tukey's
 * weights (Lucas and Kanade 1981; Baker and Matthews 2004; Beaton and Tukey 1974).
 *
 * @param points x, y of the band's samples, px of `from`.
 * @param trust px that the start may be expected to be off; where the band has no structure it is kept to.
 */
export function fittedMotion(
  from: FramePicture,
  to: FramePicture,
  {
    points,
    start,
    trust,
    levels = coarseToFine,
  }: { points: Float64Array; start: Affine; trust: number; levels?: Levels },
): BandMotion {
  const band = bandOf(points);
  const { count, x: px, y: py } = band;
  // The similarity about the band's middle: shift, and growth and turn times the band's radius.
  const p = [0, 0, 0, 0];
  let gain = 1;
  let residual = 0;
  let explained = 0;
  const template = new Float32Array(count);
  const differences = new Float32Array(count);
  const sorted = new Float32Array(count);
  for (const [level, rounds] of levels) {
    const side = 1 << level;
    const [a, b] = [from.level(level), to.level(level)];
    for (let k = 0; k < count; k++) template[k] = lumaAt(a, px[k] / side, py[k] / side);
    for (let round = 0; round <= rounds; round++) {
      const map = moved(start, p, band);
      const [m0, m1, m2, m3, m4, m5] = map;
      let used = 0;
      for (let k = 0; k < count; k++) {
        const x = m0 * px[k] + m2 * py[k] + m4;
        const y = m1 * px[k] + m3 * py[k] + m5;
        if (x < 2 || y < 2 || x > to.width - 2 || y > to.height - 2) {
          differences[k] = NaN;
          continue;
        }
        differences[k] = lumaAt(b, x / side, y / side) - gain * template[k];
        sorted[used++] = Math.abs(differences[k]);
      }
      if (used < 30) return { map: start, gain: 1, residual: 255, explained: 0 };
      const part = sorted.subarray(0, used).sort();
      residual = part[used >> 1];
      const scale = Math.max(1.2, 1.4826 * residual);
      let good = 0;
      while (good < used && part[good] < explainedWithin) good++;
      explained = good / count;
      if (round === rounds) break;
      const { h, g } = normalEquations(band, template, differences, b, side, map, 4.685 * scale);
      // Neighbours' differences go together: they count for less, so that the guess has a say.
      const information = 12 * scale * scale;
      const prior = [trust, trust, Math.max(1, 0.3 * trust), Math.max(1, 0.3 * trust)];
      for (let r = 0; r < 4; r++) {
        h[6 * r] += information / prior[r] ** 2;
        g[r] -= (information / prior[r] ** 2) * p[r];
      }
      h[24] += information / 0.15 ** 2;
      g[4] -= (information / 0.15 ** 2) * (gain - 1);
      const step = solved(h, g, 5);
      const length = Math.sqrt(step[0] ** 2 + step[1] ** 2);
      const limit = length > 4 * side ? (4 * side) / length : 1;
      for (let r = 0; r < 4; r++) p[r] += step[r] * limit;
      gain = Math.min(1.8, Math.max(0.5, gain + step[4]));
      if (length < (level > 0 ? 0.01 : 0.004)) break;
    }
  }
  return { map: moved(start, p, band), gain, residual, explained };
}

function bandOf(points: Float64Array): Band {
  const stride = 2 * Math.max(1, Math.ceil(points.length / 2 / most));
  const count = Math.ceil(points.length / stride);
  const x = new Float64Array(count);
  const y = new Float64Array(count);
  let [mx, my] = [0, 0];
  for (let k = 0, i = 0; k < count; k++, i += stride) {
    x[k] = points[i];
    y[k] = points[i + 1];
    mx += x[k] / count;
    my += y[k] / count;
  }
  let spread = 1;
  for (let k = 0; k < count; k++) spread += ((x[k] - mx) ** 2 + (y[k] - my) ** 2) / count;
  return { count, x, y, middle: [mx, my], radius: Math.sqrt(spread) };
}

/**
 * What Gauss–Newton solves for shift, growth, turn and light: the upper triangle h of 5 × 5, and g.
 *
 * @param picture the other one, halved to 1 / `side`.
 * @param reach difference, code values, from which a sample has no weight.
 */
function normalEquations(
  { count, x: px, y: py, middle: [mx, my], radius }: Band,
  template: Float32Array,
  differences: Float32Array,
  picture: LumaLevel,
  side: number,
  [m0, m1, m2, m3, m4, m5]: Affine,
  reach: number,
): { h: Float64Array; g: Float64Array } {
  const slope = new Float64Array(2);
  let [g0, g1, g2, g3, g4] = [0, 0, 0, 0, 0];
  let [h00, h01, h02, h03, h04] = [0, 0, 0, 0, 0];
  let [h11, h12, h13, h14] = [0, 0, 0, 0];
  let [h22, h23, h24, h33, h34, h44] = [0, 0, 0, 0, 0, 0];
  // Written out: this is done for every sample in every round.
  for (let k = 0; k < count; k++) {
    const off = differences[k];
    if (!(Math.abs(off) < reach)) continue;
    const far = off / reach;
    const weight = (1 - far * far) * (1 - far * far);
    const x = m0 * px[k] + m2 * py[k] + m4;
    const y = m1 * px[k] + m3 * py[k] + m5;
    slopeAt(picture, x / side, y / side, slope);
    const j0 = slope[0] / side;
    const j1 = slope[1] / side;
    const rx = (px[k] - mx) / radius;
    const ry = (py[k] - my) / radius;
    const j2 = j0 * rx + j1 * ry;
    const j3 = j1 * rx - j0 * ry;
    const j4 = -template[k];
    const [w0, w1, w2, w3, w4] = [weight * j0, weight * j1, weight * j2, weight * j3, weight * j4];
    g0 -= w0 * off;
    g1 -= w1 * off;
    g2 -= w2 * off;
    g3 -= w3 * off;
    g4 -= w4 * off;
    h00 += w0 * j0;
    h01 += w0 * j1;
    h02 += w0 * j2;
    h03 += w0 * j3;
    h04 += w0 * j4;
    h11 += w1 * j1;
    h12 += w1 * j2;
    h13 += w1 * j3;
    h14 += w1 * j4;
    h22 += w2 * j2;
    h23 += w2 * j3;
    h24 += w2 * j4;
    h33 += w3 * j3;
    h34 += w3 * j4;
    h44 += w4 * j4;
  }
  const h = Float64Array.of(
    ...[h00, h01, h02, h03, h04],
    ...[0, h11, h12, h13, h14],
    ...[0, 0, h22, h23, h24],
    ...[0, 0, 0, h33, h34],
    ...[0, 0, 0, 0, h44],
  );
  return { h, g: Float64Array.of(g0, g1, g2, g3, g4) };
}

/** `start`, then the similarity p about where it takes the band's middle. */
function moved(start: Affine, p: readonly number[], { middle: [mx, my], radius }: Band): Affine {
  const [tx, ty, grow, turn] = [p[0], p[1], p[2] / radius, p[3] / radius];
  // In coordinates of `from`: q = start(x) + t + [grow −turn; turn grow] (x − m).
  return [
    start[0] + grow,
    start[1] + turn,
    start[2] - turn,
    start[3] + grow,
    start[4] + tx - grow * mx + turn * my,
    start[5] + ty - turn * mx - grow * my,
  ];
}
