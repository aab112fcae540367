import svgpath from 'svgpath';
import { splitCubic } from '@/core/geometry/bezier';
import type { Affine } from '@/core/geometry/affine';
import { NoPaths } from './no-paths';

/** One line of a drawing, in px of the shot. */
export interface Line {
  name: string;
  /** Source frame that it is named for; null: none. */
  frame: number | null;
  closed: boolean;
  /** Six numbers a point. */
  coordinates: number[];
}

/** What was found in a drawing. */
export interface FoundLines {
  lines: Line[];
  /** What was not taken, and why: a sentence each. */
  leftOut: string[];
}

export function isCoordinate(value: unknown): boolean {
  return typeof value === 'number' && Math.abs(value) <= 1e6;
}

/** A point with the middle of the cubic from it to the next one, both with their handles. */
function halved([x, y, ix, iy, ox, oy]: readonly number[], to: readonly number[]): number[][] {
  const [first, second] = splitCubic([x, y, x + ox, y + oy, to[0] + to[2], to[1] + to[3], to[0], to[1]], 0.5);
  // The way into the point comes from the other half, which is halved too.
  const start = [x, y, ix / 2, iy / 2, first[2] - x, first[3] - y];
  const [mx, my] = [first[6], first[7]];
  return [start, [mx, my, first[4] - mx, first[5] - my, second[2] - mx, second[3] - my]];
}

/**
 * The subpaths of path data (SVG 2, §9.3) as lines of cubics.
 *
 * @param toShot from the path's own units to px of the shot.
 * @returns `brokenAt`: the character from which on it cannot be read; what comes before it is taken (§9.5.4).
 * @throws NoPaths where a line lies farther away than Kiv can take.
 */
export function linesOfPath(
  d: string,
  toShot: Affine,
  name: string,
  frame: number | null,
): { lines: Line[]; brokenAt: number | null } {
  // The library knows a command that SVG does not.
  const foreign = d.search(/r/i);
  const read = svgpath(foreign < 0 ? d : d.slice(0, foreign)) as ReturnType<typeof svgpath> & { err: string };
  const at = /at pos (\d+)/.exec(read.err)?.[1];
  const brokenAt = read.err ? Number(at ?? 0) : foreign < 0 ? null : foreign;
  const path = read.matrix([...toShot]);
  const lines: Line[] = [];
  let points: number[][] = [];
  const finish = (closes: boolean) => {
    let closed = closes;
    const [first, last] = [points[0], points.at(-1)];
    if (points.length > 2 && first && last && Math.hypot(first[0] - last[0], first[1] - last[1]) < 1e-3) {
      // It came back by itself: the last point is the first, with the way into it.
      [first[2], first[3]] = [last[2], last[3]];
      points.pop();
      closed = true;
    }
    // A loop has three points at least: one of two, as a leaf, is halved on either side.
    if (closed && points.length === 2) points = [0, 1].flatMap((k) => halved(points[k], points[1 - k]));
    if (points.length >= (closed ? 3 : 2)) lines.push({ name, frame, closed, coordinates: points.flat() });
    points = [];
  };
  const goTo = (x: number, y: number, into: readonly number[], out: readonly number[]) => {
    const from = points.at(-1);
    if (from) [from[4], from[5]] = [out[0] - from[0], out[1] - from[1]];
    points.push([x, y, into[0] - x, into[1] - y, 0, 0]);
  };
  path
    .abs()
    .unarc()
    .unshort()
    .iterate((segment, _index, x, y) => {
      const [command, ...v] = segment as [string, ...number[]];
      // After a closed subpath the next one begins where that did, unless it is told otherwise (§9.3.4).
      if (points.length === 0 && command !== 'M' && command !== 'Z') points = [[x, y, 0, 0, 0, 0]];
      const straight = (tx: number, ty: number) => goTo(tx, ty, [tx, ty], [x, y]);
      if (command === 'M') {
        finish(false);
        points = [[v[0], v[1], 0, 0, 0, 0]];
      } else if (command === 'L') straight(v[0], v[1]);
      else if (command === 'H') straight(v[0], y);
      else if (command === 'V') straight(x, v[0]);
      else if (command === 'C') goTo(v[4], v[5], [v[2], v[3]], [v[0], v[1]]);
      else if (command === 'Q') {
        const third = (from: number, to: number) => from + ((to - from) * 2) / 3;
        goTo(v[2], v[3], [third(v[2], v[0]), third(v[3], v[1])], [third(x, v[0]), third(y, v[1])]);
      } else if (command === 'Z') finish(true);
    });
  finish(false);
  if (lines.some(({ coordinates }) => !coordinates.every(isCoordinate)))
    throw new NoPaths('A line in this SVG lies farther away than Kiv can take.');
  return { lines, brokenAt };
}
