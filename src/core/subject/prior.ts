import { coverage } from '../matte/coverage';
import { MatteScratch } from '../matte/scratch';

/** Costs of a step along and aslant, thirds of a sample (Borgefors 1986). */
const [along, aslant] = [3, 4];

/**
 * How far each sample lies inside a polygon, in samples; negative outside.
 *
 * @param polygon x, y by turns, px of the grid.
 */
export function depthsIn(polygon: readonly number[], width: number, height: number): Float32Array {
  const alpha = new Uint8Array(width * height);
  coverage(polygon, width, height, alpha, new MatteScratch());
  return depthsOf(
    alpha.map((value) => (value >= 128 ? 1 : 0)),
    width,
    height,
  );
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
