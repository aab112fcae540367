import type { Affine } from '../geometry/affine';
import { type FramePicture, lumaAt } from '../picture/frame-picture';
import { type BandMotion, explainedWithin, fineOnly, fittedMotion } from './band-fit';
import { median } from '../numbers/quantile';

export interface Search {
  /** px about the guess that are searched, across and down; 0: only fitted from the guess. */
  acrossPx: number;
  downPx: number;
  /** How far, px, the fit may be expected off the guess; it is pulled to it where the band has no structure. */
  trust: number;
  /** Whether the guess is also expected, not only a starting point. */
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
    return fittedMotion(from, to, { points: inside, start: guess, trust: search.trust, levels: fineOnly });
  const shift = wide ? searched(from, to, inside, guess, search) : [0, 0];
  const start: Affine = [guess[0], guess[1], guess[2], guess[3], guess[4] + shift[0], guess[5] + shift[1]];
  const found = fittedMotion(from, to, { points: inside, start, trust: search.trust });
  if (Math.hypot(shift[0], shift[1]) <= 2) return found;
  // What repeats fits in several places: what was expected has the say as long as it explains as much.
  const expected = fittedMotion(from, to, { points: inside, start: guess, trust: search.trust });
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
  return median(differences) < 2.2;
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
        // Of two equal fits, take the one nearer to the expectation.
        const far = Math.sqrt((dx / (acrossPx + 8)) ** 2 + (dy / (downPx + 8)) ** 2);
        cost = cost / count + 0.6 * far + 8 * (1 - count / number);
        if (cost < best) [best, nextX, nextY] = [cost, dx, dy];
      }
    [bestX, bestY] = [nextX, nextY];
  }
  return [bestX, bestY];
}
