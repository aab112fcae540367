import { median } from '../numbers/quantile';
import { bilinear } from '../picture/planes';
import type { MotionGroup } from './groups';

/** Code values within which a place looks the same: noise, as it is left in a small picture. */
const same = 6;
/** Share of the picture that has to look the same without any movement, and where nothing is seen that could move. */
const [mostly, nearlyAll] = [0.5, 0.8];
/** Share of the difference that a movement leaves which standing still may leave at the most. */
const better = 0.99;
/** Every how many px are looked at, and the least share of them that has to tell. */
const [stride, leastPlain] = [2, 0.3];
/** Code values to its neighbours up to which a place is plain: what is followed is not. */
const plain = 12;

/** A scene that stands still, as far as it is seen to. */
export const atRest: MotionGroup = { dx: 0, dy: 0, scale: 1, turn: 0, support: 0, extent: 0 };

/**
 * A plain scene, as a wall or a road, that stands still from one frame to the next. No points of it are followed: what passes before it has all
 * of them, and would be taken for the scene. What the scene shows faintly tells whether it goes along: standing still has to explain it
 * better than that movement does.
 *
 * @param from, to luma, row by row. @param moved where the movement takes a place; null where none is known.
 * @returns with the share of the picture that stands still; null where that is not said.
 */
export function sceneAtRest(
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  width: number,
  height: number,
  moved: ((x: number, y: number) => readonly [number, number]) | null,
): MotionGroup | null {
  const light = lightBetween(from, to, width, height);
  let [all, still] = [0, 0];
  let [either, resting, moving] = [0, 0, 0];
  for (let y = 1; y < height - 1; y += stride)
    for (let x = 1; x < width - 1; x += stride) {
      const value = from[y * width + x] + light;
      const rest = Math.abs(to[y * width + x] - value);
      all++;
      if (rest < same) still++;
      if (!moved || steepness(from, width, x, y) > plain) continue;
      const [u, v] = moved(x, y);
      if (u < 0 || v < 0 || u > width - 1 || v > height - 1) continue;
      const gone = Math.abs(bilinear(to, width, height, u, v) - value);
      // What only one of them explains is what moves, or what it uncovers.
      if (rest >= same || gone >= same) continue;
      either++;
      resting += rest;
      moving += gone;
    }
  const share = all === 0 ? 0 : still / all;
  const rests = moved
    ? share >= mostly && either >= leastPlain * all && resting < better * moving
    : share >= nearlyAll;
  return rests ? { ...atRest, support: share, extent: 1 } : null;
}

/** Code values by which the neighbours of a place differ, across and down. */
function steepness(values: ArrayLike<number>, width: number, x: number, y: number): number {
  const i = y * width + x;
  return Math.abs(values[i + 1] - values[i - 1]) + Math.abs(values[i + width] - values[i - width]);
}

/** Code values by which most of a picture became brighter. */
function lightBetween(from: ArrayLike<number>, to: ArrayLike<number>, width: number, height: number): number {
  const off: number[] = [];
  const step = Math.max(1, Math.round(width / 60));
  for (let y = 0; y < height; y += step)
    for (let x = 0; x < width; x += step) off.push(to[y * width + x] - from[y * width + x]);
  return median(off);
}
