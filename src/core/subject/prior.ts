import { coverage } from '../matte/coverage';
import { MatteScratch } from '../matte/scratch';

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

/** How far each sample lies inside a region, in samples; negative outside. @param inside 1 where it is. */
export function depthsOf(inside: Uint8Array, width: number, height: number): Float32Array {
  const [toOutside, toInside] = [0, 1].map((target) => chamfer(inside, target, width, height));
  const depths = new Float32Array(inside.length);
  for (let i = 0; i < depths.length; i++)
    depths[i] = (inside[i] ? toOutside[i] - along / 2 : along / 2 - toInside[i]) / along;
  return depths;
}

/** Thirds of a sample to the nearest one that is `target`. */
function chamfer(inside: Uint8Array, target: number, width: number, height: number): Int32Array {
  const far = 1 << 24;
  const out = Int32Array.from(inside, (value) => (value === target ? 0 : far));
  const lower = (at: number, other: number, cost: number) => {
    if (out[other] + cost < out[at]) out[at] = out[other] + cost;
  };
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i;
      if (i > 0) lower(at, at - 1, along);
      if (j === 0) continue;
      lower(at, at - width, along);
      if (i > 0) lower(at, at - width - 1, aslant);
      if (i + 1 < width) lower(at, at - width + 1, aslant);
    }
  for (let j = height - 1; j >= 0; j--)
    for (let i = width - 1; i >= 0; i--) {
      const at = j * width + i;
      if (i + 1 < width) lower(at, at + 1, along);
      if (j + 1 === height) continue;
      lower(at, at + width, along);
      if (i + 1 < width) lower(at, at + width + 1, aslant);
      if (i > 0) lower(at, at + width - 1, aslant);
    }
  return out;
}
