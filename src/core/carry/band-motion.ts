import type { Affine } from '../geometry/affine';
import { type FramePicture, lumaAt, slopeAt } from '../edge/frame-picture';

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

export interface Search {
  /** px about the guess that are searched, across and down; 0: only fitted from the guess. */
  acrossPx: number;
  downPx: number;
  /** How far, px, the fit may be expected off the guess; it is pulled to it where the band has no structure. */
  trust: number;
  /** Whether the guess is more than a place to begin at. */
  expected?: boolean;
}

const coarsest = 3;
/** Code values within which a sample counts as explained. */
const explainedWithin = 8;
/** Halvings at which a similarity is fitted one after the other, and rounds at each. */
const coarseToFine = [
  [1, 4],
  [0, 4],
] as const;
const fineOnly = [[0, 3]] as const;

/**
 * Where a band of one picture lies in another: a search by truncated differences at an eighth of the size, refined
 * twice, then a similarity by Gauss–Newton with Tukey's weights (Lucas and Kanade 1981; Baker and Matthews 2004;
 * Beaton and Tukey 1974), with a factor on the light.
 *
 * @param points x, y of the band's samples, px of `from`.
 * @returns null where fewer than 40 samples are in the picture.
 */
export function bandMotion(
  from: FramePicture,
  to: FramePicture,
  points: Float64Array,
  guess: Affine,
  search: Search,
): BandMotion | null {
  const room = new Float64Array(points.length);
  let length = 0;
  for (let i = 0; i < points.length; i += 2) {
    const x = points[i];
    const y = points[i + 1];
    if (!(x > 2 && y > 2 && x < from.width - 2 && y < from.height - 2)) continue;
    room[length++] = x;
    room[length++] = y;
  }
  if (length < 80) return null;
  const inside = room.subarray(0, length);
  const wide = search.acrossPx > 0 || search.downPx > 0;
  // What lies where it was expected is not looked for elsewhere.
  if ((search.expected || !wide) && liesThere(from, to, inside, guess))
    return fitted(from, to, inside, guess, search.trust, fineOnly);
  const shift = wide ? searched(from, to, inside, guess, search) : [0, 0];
  const start: Affine = [guess[0], guess[1], guess[2], guess[3], guess[4] + shift[0], guess[5] + shift[1]];
  const found = fitted(from, to, inside, start, search.trust);
  if (Math.hypot(shift[0], shift[1]) <= 2) return found;
  // What repeats fits in several places: what was expected has the say as long as it explains as much.
  const expected = fitted(from, to, inside, guess, search.trust);
  const [less, worse] = search.expected ? [0.03, 2] : [0.005, 0.1];
  const asGood =
    expected.explained >= found.explained - less && expected.residual <= 1.05 * found.residual + worse;
  return asGood ? expected : found;
}

/** Whether nearly all samples lie where the guess takes them, as far as noise lets one tell. */
function liesThere(from: FramePicture, to: FramePicture, points: Float64Array, guess: Affine): boolean {
  const [a, b] = [from.level(0), to.level(0)];
  const differences = new Float32Array(Math.ceil(points.length / 4));
  let off = 0;
  for (let k = 0, i = 0; i < points.length; i += 4, k++) {
    const x = guess[0] * points[i] + guess[2] * points[i + 1] + guess[4];
    const y = guess[1] * points[i] + guess[3] * points[i + 1] + guess[5];
    differences[k] = Math.abs(lumaAt(b, x, y) - lumaAt(a, points[i], points[i + 1]));
    if (differences[k] >= explainedWithin && ++off > 0.03 * differences.length) return false;
  }
  return differences.sort()[differences.length >> 1] < 2.2;
}

function searched(
  from: FramePicture,
  to: FramePicture,
  points: Float64Array,
  guess: Affine,
  { acrossPx, downPx }: Search,
): [number, number] {
  let [bestX, bestY] = [0, 0];
  for (let level = coarsest; level >= 1; level--) {
    const side = 1 << level;
    const [a, b] = [from.level(level), to.level(level)];
    const stride = 2 * Math.max(1, Math.floor(points.length / (level === coarsest ? 700 : 500)));
    const number = Math.ceil(points.length / stride);
    const values = new Float64Array(number);
    const xs = new Float64Array(number);
    const ys = new Float64Array(number);
    let mean = 0;
    for (let k = 0, i = 0; k < number; k++, i += stride) {
      values[k] = lumaAt(a, points[i] / side, points[i + 1] / side);
      mean += values[k] / number;
      xs[k] = guess[0] * points[i] + guess[2] * points[i + 1] + guess[4];
      ys[k] = guess[1] * points[i] + guess[3] * points[i + 1] + guess[5];
    }
    const [rx, ry] =
      level === coarsest
        ? [Math.ceil(acrossPx / side), Math.ceil(downPx / side)]
        : [1, acrossPx + downPx > 0 ? 1 : 0];
    let best = Infinity;
    let [nextX, nextY] = [bestX, bestY];
    const found = new Float32Array(number);
    for (let j = -ry; j <= ry; j++)
      for (let i = -rx; i <= rx; i++) {
        const dx = bestX + i * side;
        const dy = bestY + j * side;
        let sum = 0;
        let count = 0;
        for (let k = 0; k < number; k++) {
          const x = xs[k] + dx;
          const y = ys[k] + dy;
          if (x >= 0 && y >= 0 && x <= to.width && y <= to.height) {
            found[k] = lumaAt(b, x / side, y / side);
            sum += found[k];
            count++;
          } else found[k] = -1;
        }
        if (count < 0.4 * number) continue;
        const gain = Math.min(1.6, Math.max(0.6, sum / count / (mean + 1)));
        let cost = 0;
        for (let k = 0; k < number; k++) {
          if (found[k] < 0) continue;
          const off = Math.abs(found[k] - gain * values[k]);
          cost += off < 40 ? off : 40;
        }
        // Of two that fit alike, the nearer to what was expected.
        const far = Math.sqrt((dx / (acrossPx + 8)) ** 2 + (dy / (downPx + 8)) ** 2);
        cost = cost / count + 0.6 * far + 8 * (1 - count / number);
        if (cost < best) [best, nextX, nextY] = [cost, dx, dy];
      }
    [bestX, bestY] = [nextX, nextY];
  }
  return [bestX, bestY];
}

const most = 700;

function fitted(
  from: FramePicture,
  to: FramePicture,
  points: Float64Array,
  start: Affine,
  trust: number,
  levels: readonly (readonly [level: number, rounds: number])[] = coarseToFine,
): BandMotion {
  const stride = 2 * Math.max(1, Math.ceil(points.length / 2 / most));
  const count = Math.ceil(points.length / stride);
  let [mx, my] = [0, 0];
  for (let i = 0; i < points.length; i += stride) {
    mx += points[i] / count;
    my += points[i + 1] / count;
  }
  let spread = 1;
  for (let i = 0; i < points.length; i += stride)
    spread += ((points[i] - mx) ** 2 + (points[i + 1] - my) ** 2) / count;
  const radius = Math.sqrt(spread);
  // The similarity about the band's middle: shift, and growth and turn times the band's radius.
  const p = [0, 0, 0, 0];
  let gain = 1;
  let residual = 0;
  let explained = 0;
  const px = new Float64Array(count);
  const py = new Float64Array(count);
  for (let k = 0, i = 0; k < count; k++, i += stride) {
    px[k] = points[i];
    py[k] = points[i + 1];
  }
  const template = new Float32Array(count);
  const differences = new Float32Array(count);
  const sorted = new Float32Array(count);
  const slope = new Float64Array(2);
  for (const [level, rounds] of levels) {
    const side = 1 << level;
    const [a, b] = [from.level(level), to.level(level)];
    for (let k = 0; k < count; k++) template[k] = lumaAt(a, px[k] / side, py[k] / side);
    for (let round = 0; round <= rounds; round++) {
      const [m0, m1, m2, m3, m4, m5] = moved(start, p, mx, my, radius);
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
      const reach = 4.685 * scale;
      let good = 0;
      while (good < used && part[good] < explainedWithin) good++;
      explained = good / count;
      if (round === rounds) break;
      let [g0, g1, g2, g3, g4] = [0, 0, 0, 0, 0];
      let [h00, h01, h02, h03, h04] = [0, 0, 0, 0, 0];
      let [h11, h12, h13, h14] = [0, 0, 0, 0];
      let [h22, h23, h24, h33, h34, h44] = [0, 0, 0, 0, 0, 0];
      for (let k = 0; k < count; k++) {
        const off = differences[k];
        if (!(Math.abs(off) < reach)) continue;
        const far = off / reach;
        const weight = (1 - far * far) * (1 - far * far);
        const x = m0 * px[k] + m2 * py[k] + m4;
        const y = m1 * px[k] + m3 * py[k] + m5;
        slopeAt(b, x / side, y / side, slope);
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
      const g = Float64Array.of(g0, g1, g2, g3, g4);
      const h = Float64Array.of(
        ...[h00, h01, h02, h03, h04],
        ...[0, h11, h12, h13, h14],
        ...[0, 0, h22, h23, h24],
        ...[0, 0, 0, h33, h34],
        ...[0, 0, 0, 0, h44],
      );
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
  return { map: moved(start, p, mx, my, radius), gain, residual, explained };
}

/** `start`, then the similarity p about where it takes (mx, my). */
function moved(start: Affine, p: readonly number[], mx: number, my: number, radius: number): Affine {
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

/** Solves the symmetric positive definite h x = g (upper triangle given, n × n) by Cholesky's method. */
export function solved(h: Float64Array, g: Float64Array, n: number): Float64Array {
  const l = new Float64Array(n * n);
  for (let r = 0; r < n; r++)
    for (let c = 0; c <= r; c++) {
      let sum = h[n * c + r];
      for (let k = 0; k < c; k++) sum -= l[n * r + k] * l[n * c + k];
      l[n * r + c] = r === c ? Math.sqrt(Math.max(sum, 1e-12)) : sum / l[n * c + c];
    }
  const x = Float64Array.from(g);
  for (let r = 0; r < n; r++) {
    for (let k = 0; k < r; k++) x[r] -= l[n * r + k] * x[k];
    x[r] /= l[n * r + r];
  }
  for (let r = n - 1; r >= 0; r--) {
    for (let k = r + 1; k < n; k++) x[r] -= l[n * k + r] * x[k];
    x[r] /= l[n * r + r];
  }
  return x;
}
