import type { EdgeLine } from '../edge/straight';
import { type Affine, applyAffine } from '../geometry/affine';
import { median } from '../numbers/quantile';

/** px across a line, at each place, to the same places of another. */
export function acrossTo(line: EdgeLine, other: EdgeLine): Float64Array {
  return line.x.map((x, i) => (other.x[i] - x) * line.nx[i] + (other.y[i] - line.y[i]) * line.ny[i]);
}

/** px across a line, away from the object, by which a map takes it: a median. */
export function acrossOf(map: Affine, line: EdgeLine): number {
  return median(
    line.x.map((x, i) => {
      const [tx, ty] = applyAffine(map, x, line.y[i]);
      return (tx - x) * line.nx[i] + (ty - line.y[i]) * line.ny[i];
    }),
  );
}

/** A shift of so many px across a line, away from the object. */
export function shiftedAcross({ nx, ny }: EdgeLine, by: number): Affine {
  let [x, y] = [0, 0];
  for (let i = 0; i < nx.length; i++) [x, y] = [x + nx[i], y + ny[i]];
  const length = Math.hypot(x, y) || 1;
  return [1, 0, 0, 1, (by * x) / length, (by * y) / length];
}

/** A movement that may be expected to go on: about (x, y) its shift, and `kept` of its turn and growth. */
export function turnedLess(map: Affine, x: number, y: number, kept: number): Affine {
  const [tx, ty] = applyAffine(map, x, y);
  const [a, b, c, d] = [1 + (map[0] - 1) * kept, map[1] * kept, map[2] * kept, 1 + (map[3] - 1) * kept];
  return [a, b, c, d, tx - a * x - c * y, ty - b * x - d * y];
}
