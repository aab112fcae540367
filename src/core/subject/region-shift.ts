import { type FramePicture, halvingsTo, type LumaLevel } from '../picture/frame-picture';
import type { Region } from './subject-frame';

const { ceil, floor, hypot, max, min, round } = Math;

/** Widest picture, samples, on which a shift is looked for first, and how far it is looked for there. */
const widest = 200;
const reach = 14;
/** Samples to each side that are tried at every larger size. */
const finer = 2;
/** Sizes larger than the first that are looked at. */
const largerSizes = 1;
/** What a sample of shift away from what is expected costs, code values: among alike places the nearest counts. */
const far = 0.15;

/**
 * How far what a region encloses has gone from one picture to the next, px: the shift at which its luma differs least, from coarse
 * to fine.
 *
 * @param depths how far each sample of a grid over the picture lies inside the region; negative outside.
 * @param expected px by which it is likely to have gone.
 */
export function regionShift(
  from: FramePicture,
  to: FramePicture,
  depths: Float32Array,
  grid: { width: number; height: number },
  expected: readonly [dx: number, dy: number],
): [dx: number, dy: number] {
  const k = halvingsTo(from.width, widest);
  let best: [number, number] = [...expected];
  for (let size = 0; size <= largerSizes && k - size >= 0; size++) {
    const level = k - size;
    const scale = 2 ** level;
    const places = placesIn(from.level(level), depths, grid);
    if (places.length === 0) return [...expected];
    const [cx, cy] = best.map((value) => round(value / scale));
    const within = size === 0 ? reach : finer;
    const weight = size === 0 ? far : 0;
    let least = Infinity;
    for (let dy = cy - within; dy <= cy + within; dy++)
      for (let dx = cx - within; dx <= cx + within; dx++) {
        const away = hypot(dx - cx, dy - cy);
        const cost = differenceAt(from.level(level), to.level(level), places, dx, dy) + weight * away;
        if (cost < least) [least, best] = [cost, [dx * scale, dy * scale]];
      }
  }
  return best;
}

/** A region moved by px of a picture so wide. */
export function shiftedBy(
  { inside, width, height }: Region,
  [dx, dy]: readonly [number, number],
  wide: number,
): Uint8Array {
  const [u, v] = [dx, dy].map((value) => round((value * width) / wide));
  const out = new Uint8Array(inside.length);
  // What comes in over the border is taken to be as it is there.
  const [first, end] = [min(width, max(0, u)), max(0, min(width, width + u))];
  for (let j = 0; j < height; j++) {
    const from = min(height - 1, max(0, j - v)) * width;
    const row = out.subarray(j * width, (j + 1) * width);
    row.fill(inside[from], 0, first);
    row.fill(inside[from + width - 1], end);
    row.set(inside.subarray(from + first - u, from + max(first, end) - u), first);
  }
  return out;
}

/** Samples of a level that lie in the region, some of them where there are many: x and y by turns. */
function placesIn(
  { width, height }: LumaLevel,
  depths: Float32Array,
  grid: { width: number; height: number },
) {
  const places: number[] = [];
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const u = min(grid.width - 1, floor(((i + 0.5) * grid.width) / width));
      const v = min(grid.height - 1, floor(((j + 0.5) * grid.height) / height));
      if (depths[v * grid.width + u] > 0) places.push(i, j);
    }
  const stride = ceil(places.length / 2 / 1500);
  return stride <= 1 ? places : places.filter((_, n) => (n >> 1) % stride === 0);
}

/** Mean difference of the region's samples from those that far on; of what leaves the picture none. */
function differenceAt(a: LumaLevel, b: LumaLevel, places: readonly number[], dx: number, dy: number): number {
  let [sum, count] = [0, 0];
  for (let n = 0; n < places.length; n += 2) {
    const [i, j] = [places[n], places[n + 1]];
    const [x, y] = [i + dx, j + dy];
    if (x < 0 || y < 0 || x >= b.width || y >= b.height) continue;
    const difference = b.values[y * b.width + x] - a.values[j * a.width + i];
    sum += difference < 0 ? -difference : difference;
    count++;
  }
  // What has all but left says nothing.
  return count < places.length / 16 ? Infinity : sum / count;
}
