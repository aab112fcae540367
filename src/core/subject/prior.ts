import { coverage } from '../matte/coverage';
import { MatteScratch } from '../matte/scratch';
import { samplesIn, windowAbout } from './window';

/** Costs of a step along and aslant, thirds of a sample (Borgefors 1986). */
const [along, aslant] = [3, 4];

/** A closed line about what belongs to a subject, or about a hole in it: x, y by turns. */
export interface ClosedLine {
  line: readonly number[];
  hole: boolean;
}

/** Which samples of a grid lie within closed lines, one after the other: 1 inside. @param lines px of the grid. */
export function filledBy(lines: readonly ClosedLine[], width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const alpha = new Uint8Array(width * height);
  const scratch = new MatteScratch();
  for (const { line, hole } of lines) {
    coverage(line, width, height, alpha, scratch);
    for (let i = 0; i < out.length; i++) if (alpha[i] >= 128) out[i] = hole ? 0 : 1;
  }
  return out;
}

/** Samples outside a region from which on all are taken to be equally far. */
const farOutside = 64;

/** How far each sample lies inside a region, in samples; negative outside, to −64. @param inside 1 where it is. */
export function depthsOf(inside: Uint8Array, width: number, height: number): Float32Array {
  const part = windowAbout(inside, width, height, farOutside);
  const own = samplesIn(inside, width, part);
  const [toOutside, toInside] = [0, 1].map((target) => chamfer(own, target, part.width, part.height));
  const depths = new Float32Array(inside.length).fill(-farOutside);
  for (let j = 0, k = 0; j < part.height; j++)
    for (let i = 0, at = (part.top + j) * width + part.left; i < part.width; i++, at++, k++) {
      const depth = (own[k] ? toOutside[k] - along / 2 : along / 2 - toInside[k]) / along;
      depths[at] = depth > -farOutside ? depth : -farOutside;
    }
  return depths;
}

/** Thirds of a sample to the nearest one that is `target`. */
function chamfer(inside: Uint8Array, target: number, width: number, height: number): Int32Array {
  const far = 1 << 24;
  // With a sample about it that is far from all, so that nothing asks where the border is.
  const wide = width + 2;
  const all = new Int32Array(wide * (height + 2)).fill(far);
  for (let j = 0, from = 0; j < height; j++)
    for (let i = 0, at = (j + 1) * wide + 1; i < width; i++, at++) if (inside[from++] === target) all[at] = 0;
  const pass = (first: number, step: 1 | -1) => {
    for (let k = 0, at = first; k < wide * height - 2; k++, at += step) {
      let least = all[at];
      const before = all[at - step] + along;
      if (before < least) least = before;
      const row = at - step * wide;
      const over = all[row] + along;
      if (over < least) least = over;
      const one = all[row - 1] + aslant;
      if (one < least) least = one;
      const other = all[row + 1] + aslant;
      if (other < least) least = other;
      all[at] = least;
    }
  };
  // The samples about it are passed over too; a line is never shorter through them.
  pass(wide + 1, 1);
  pass(wide * (height + 1) - 2, -1);
  const out = new Int32Array(width * height);
  for (let j = 0; j < height; j++)
    out.set(all.subarray((j + 1) * wide + 1, (j + 1) * wide + 1 + width), j * width);
  return out;
}
