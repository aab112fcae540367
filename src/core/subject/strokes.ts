import type { StrokeMark } from '../model/choices';
import { type Affine, applyAffine } from '../geometry/affine';

const { abs, ceil, floor, max, min, sqrt } = Math;

/** What a person has painted over: what it is, what it is not, or what is open again. */
export interface Stroke {
  mark: StrokeMark;
  /** Half the brush's width, px of the shot. */
  radius: number;
  /** x, y by turns, px of the shot. */
  path: readonly number[];
}

/** What is known of a sample. */
export const [unknown, isThis, isNot] = [0, 1, 2];

/**
 * What strokes say of each sample of a grid, one after the other: the newest counts.
 *
 * @param toGrid from the strokes' px to samples of the grid, the first one's corner at (0, 0).
 */
export function seedsOf(
  strokes: readonly Stroke[],
  width: number,
  height: number,
  toGrid: Affine,
): Uint8Array {
  const seeds = new Uint8Array(width * height);
  const scale = sqrt(abs(toGrid[0] * toGrid[3] - toGrid[1] * toGrid[2]));
  for (const { mark, radius, path } of strokes) {
    const value = mark === 'this' ? isThis : mark === 'not this' ? isNot : unknown;
    // A thin stroke marks the samples that it runs through.
    const reach = max(0.5, radius * scale);
    const places = pointsOf(path, toGrid);
    places.forEach((place, k) =>
      paintCapsule(seeds, width, height, places[max(0, k - 1)], place, reach, value),
    );
  }
  return seeds;
}

function pointsOf(path: readonly number[], map: Affine): [number, number][] {
  return Array.from({ length: path.length / 2 }, (_, k) => applyAffine(map, path[2 * k], path[2 * k + 1]));
}

/** Sets all samples whose middle lies within `reach` of the way from one place to the other. */
function paintCapsule(
  seeds: Uint8Array,
  width: number,
  height: number,
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
  reach: number,
  value: number,
) {
  const [dx, dy] = [bx - ax, by - ay];
  const length = dx * dx + dy * dy;
  const top = max(0, floor(min(ay, by) - reach));
  const bottom = min(height - 1, ceil(max(ay, by) + reach));
  const left = max(0, floor(min(ax, bx) - reach));
  const right = min(width - 1, ceil(max(ax, bx) + reach));
  for (let j = top; j <= bottom; j++)
    for (let i = left; i <= right; i++) {
      const [x, y] = [i + 0.5 - ax, j + 0.5 - ay];
      const along = length === 0 ? 0 : min(1, max(0, (x * dx + y * dy) / length));
      const [ex, ey] = [x - along * dx, y - along * dy];
      if (ex * ex + ey * ey <= reach * reach) seeds[j * width + i] = value;
    }
}
