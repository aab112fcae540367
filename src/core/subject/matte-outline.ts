import type { Affine } from '../geometry/affine';
import type { ClosedLine } from './prior';
import { fittedTo } from '../outline/fitted-pose';
import { type SubjectPart, partsAlong } from './subject-parts';
import { contoursIn, fewestPoints } from './subject-outline';

/** A picture's luma, and whether it uses all 256 values. */
export interface MattePicture {
  values: Uint8Array;
  width: number;
  height: number;
  fullRange: boolean;
}

/** Poses of a closed line of a matte, by its frames. */
export interface MatteLoop {
  hole: boolean;
  poses: { frame: number; coordinates: number[] }[];
}

/** The lines about what is white in a matte's picture, shot px: where it is half white, the largest part first. */
export function matteLines(picture: MattePicture, shot: { width: number; height: number }): ClosedLine[] {
  const { values, width, height, fullRange } = picture;
  // Half-way from black to white, ITU-R BT.709-6 §3: 16 to 235 where the range is not full.
  const half = fullRange ? 127.5 : 125.5;
  const inside = Uint8Array.from(values, (value) => (value > half ? 1 : 0));
  const toShot: Affine = [shot.width / width, 0, 0, shot.height / height, 0, 0];
  return contoursIn({ inside, width, height }, toShot, (line) => crossingsOf(line, picture, half));
}

/**
 * A contour's places, each on the side between a white and a black sample, moved to where the matte passes half between
 * the two samples' middles: as far as soft edges say, finer than a sample.
 */
function crossingsOf(
  line: readonly number[],
  { values, width, height }: MattePicture,
  half: number,
): number[] {
  const out = line.slice();
  for (let i = 0; i < line.length; i += 2) {
    const [x, y] = [line[i], line[i + 1]];
    if (x <= 0 || y <= 0 || x >= width || y >= height) continue;
    const across = Number.isInteger(x);
    const at = Math.floor(y) * width + Math.floor(x);
    const [a, b] = [values[across ? at - 1 : at - width], values[at]];
    out[across ? i : i + 1] += (half - a) / (b - a) - 0.5;
  }
  return out;
}

/** px of a shot 1280 wide within which a matte's line is followed: it has no grain. */
const tolerance = 1;

/**
 * Outlines about the white of a matte, with the same points on all its frames: drawn where the most of it is seen with the
 * fewest points, brought from there onto the line of each frame before and after.
 *
 * @param lines of each frame, in order.
 * @returns none where nothing is white anywhere.
 */
export function loopsOfMatte(
  frames: readonly { frame: number; lines: readonly ClosedLine[] }[],
  shot: { width: number; height: number },
): MatteLoop[] {
  const shown = frames.filter(({ lines }) => lines.length > 0);
  if (shown.length === 0) return [];
  const most = Math.max(...shown.map(({ lines }) => lines.length));
  const full = shown.filter(({ lines }) => lines.length === most);
  const start = shown.indexOf(full[full.length >> 1]);
  const loops: MatteLoop[] = shown[start].lines.map(({ line, hole }) => ({
    hole,
    poses: [{ frame: shown[start].frame, coordinates: fewestPoints(line, true, shot.width, tolerance) }],
  }));
  for (const way of [1, -1]) {
    let parts: SubjectPart[] = loops.map(({ hole, poses }, k) => ({ ...poses[0], id: String(k), hole }));
    for (let k = start + way; k >= 0 && k < shown.length; k += way) {
      const { frame, lines } = shown[k];
      const [largest, ...others] = lines;
      const [main, ...rest] = parts;
      const coordinates = fittedTo(main.coordinates, true, largest.line);
      parts = [{ ...main, coordinates }, ...partsAlong(rest, [0, 0], others).parts];
      parts.forEach((part, p) => loops[p].poses.push({ frame, coordinates: [...part.coordinates] }));
    }
  }
  for (const { poses } of loops) poses.sort((a, b) => a.frame - b.frame);
  return loops;
}
