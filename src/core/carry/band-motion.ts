import { type Affine, applyAffine } from '../geometry/affine';
import { type FramePicture, lumaAt } from '../edge/frame-picture';

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
  const inside: number[] = [];
  for (let i = 0; i < points.length; i += 2) {
    const [x, y] = [points[i], points[i + 1]];
    if (x > 2 && y > 2 && x < from.width - 2 && y < from.height - 2) inside.push(x, y);
  }
  if (inside.length < 80) return null;
  const shift = search.acrossPx > 0 || search.downPx > 0 ? searched(from, to, inside, guess, search) : [0, 0];
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

function searched(
  from: FramePicture,
  to: FramePicture,
  points: readonly number[],
  guess: Affine,
  { acrossPx, downPx }: Search,
): [number, number] {
  let [bestX, bestY] = [0, 0];
  for (let level = coarsest; level >= 1; level--) {
    const side = 1 << level;
    const [a, b] = [from.level(level), to.level(level)];
    const stride = 2 * Math.max(1, Math.floor(points.length / (level === coarsest ? 700 : 500)));
    const values: number[] = [];
    const [xs, ys]: number[][] = [[], []];
    for (let i = 0; i < points.length; i += stride) {
      values.push(lumaAt(a, points[i] / side, points[i + 1] / side));
      const [x, y] = applyAffine(guess, points[i], points[i + 1]);
      xs.push(x);
      ys.push(y);
    }
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    const [rx, ry] =
      level === coarsest
        ? [Math.ceil(acrossPx / side), Math.ceil(downPx / side)]
        : [1, acrossPx + downPx > 0 ? 1 : 0];
    let best = Infinity;
    let [nextX, nextY] = [bestX, bestY];
    const found = new Float32Array(values.length);
    for (let j = -ry; j <= ry; j++)
      for (let i = -rx; i <= rx; i++) {
        const [dx, dy] = [bestX + i * side, bestY + j * side];
        let [sum, count] = [0, 0];
        for (let k = 0; k < values.length; k++) {
          const [x, y] = [xs[k] + dx, ys[k] + dy];
          const seen = x >= 0 && y >= 0 && x <= to.width && y <= to.height;
          found[k] = seen ? lumaAt(b, x / side, y / side) : -1;
          if (seen) {
            sum += found[k];
            count++;
          }
        }
        if (count < 0.4 * values.length) continue;
        const gain = Math.min(1.6, Math.max(0.6, sum / count / (mean + 1)));
        let cost = 0;
        for (let k = 0; k < values.length; k++) {
          if (found[k] < 0) continue;
          const off = Math.abs(found[k] - gain * values[k]);
          cost += off < 40 ? off : 40;
        }
        // Of two that fit alike, the nearer to what was expected.
        const far = Math.sqrt((dx / (acrossPx + 8)) ** 2 + (dy / (downPx + 8)) ** 2);
        cost = cost / count + 0.6 * far + 8 * (1 - count / values.length);
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
  points: readonly number[],
  start: Affine,
  trust: number,
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
  const template = new Float32Array(count);
  const differences = new Float32Array(count);
  const sorted = new Float32Array(count);
  const j = new Float64Array(5);
  for (const [level, rounds] of [
    [1, 4],
    [0, 4],
  ]) {
    const side = 1 << level;
    const [a, b] = [from.level(level), to.level(level)];
    for (let k = 0, i = 0; i < points.length; i += stride, k++)
      template[k] = lumaAt(a, points[i] / side, points[i + 1] / side);
    for (let round = 0; round <= rounds; round++) {
      const map = moved(start, p, mx, my, radius);
      let used = 0;
      const h = new Float64Array(25);
      const g = new Float64Array(5);
      for (let k = 0, i = 0; i < points.length; i += stride, k++) {
        const [px, py] = [points[i], points[i + 1]];
        const x = map[0] * px + map[2] * py + map[4];
        const y = map[1] * px + map[3] * py + map[5];
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
      while (good < used && part[good] < 8) good++;
      explained = good / count;
      if (round === rounds) break;
      for (let k = 0, i = 0; i < points.length; i += stride, k++) {
        const off = differences[k];
        if (off !== off || Math.abs(off) >= reach) continue;
        const weight = (1 - (off / reach) ** 2) ** 2;
        const [px, py] = [points[i], points[i + 1]];
        const x = map[0] * px + map[2] * py + map[4];
        const y = map[1] * px + map[3] * py + map[5];
        const gx =
          (lumaAt(b, (x + side) / side, y / side) - lumaAt(b, (x - side) / side, y / side)) / (2 * side);
        const gy =
          (lumaAt(b, x / side, (y + side) / side) - lumaAt(b, x / side, (y - side) / side)) / (2 * side);
        const [rx, ry] = [(px - mx) / radius, (py - my) / radius];
        j[0] = gx;
        j[1] = gy;
        j[2] = gx * rx + gy * ry;
        j[3] = gy * rx - gx * ry;
        j[4] = -template[k];
        for (let r = 0; r < 5; r++) {
          g[r] -= weight * j[r] * off;
          for (let c = r; c < 5; c++) h[5 * r + c] += weight * j[r] * j[c];
        }
      }
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
      if (length < 0.01 && level > 0) break;
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
