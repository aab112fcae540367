import { type Affine, applyAffine } from '../geometry/affine';
import type { Side } from '../model/choices';
import type { Region } from './subject-frame';

/** A side of a subject's region on which a seam may lie. */
export type BorderSide = Side;

/** Share of the picture's size by which the line runs on beyond the frame, and lies beyond where the region reaches its border. */
const beyond = 0.03;
/** Rows, samples, that become one place of the line: their mean lies on the edge that they step along. */
const together = 3;
/** px of the picture, 1280 wide, by which the border may leap from row to row within one place. */
const leap = 6;

/**
 * The outer border of a region as an open line from above the frame to below it, x, y by turns, shot px: in every row where a ray
 * from that side meets the region first. It may leap from an elbow to a hip. Above the highest row and below the lowest it goes
 * straight on, so that what a seam there sweeps ends upright.
 *
 * @param toShot from the region's px to the shot's.
 * @returns null where the region is empty.
 */
export function outerBorder(
  { inside, width, height }: Region,
  side: BorderSide,
  toShot: Affine,
): number[] | null {
  const rows: [x: number, y: number][] = [];
  for (let j = 0; j < height; j++) {
    let i = side === 'left' ? 0 : width - 1;
    const step = side === 'left' ? 1 : -1;
    const out = () => i < 0 || i >= width;
    while (!out() && !inside[j * width + i]) i += step;
    if (out()) continue;
    if (side === 'left' && i === 0) i = -beyond * width;
    if (side === 'right' && i === width - 1) i += beyond * width;
    rows.push([side === 'left' ? i : i + 1, j + 0.5]);
  }
  if (rows.length === 0) return null;
  const line: number[] = [];
  const put = (x: number, y: number) => line.push(...applyAffine(toShot, x, y));
  const most = (leap * width) / 1280;
  const [top, bottom] = [rows[0], rows[rows.length - 1]];
  put(top[0], -beyond * height);
  for (let k = 0; k < rows.length;) {
    let [x, y, count] = [0, 0, 0];
    const from = rows[k][0];
    while (count < together && k < rows.length && Math.abs(rows[k][0] - from) <= most) {
      x += rows[k][0];
      y += rows[k][1];
      count++;
      k++;
    }
    put(x / count, y / count);
  }
  put(bottom[0], (1 + beyond) * height);
  return line;
}
