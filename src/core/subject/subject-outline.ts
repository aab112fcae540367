import { numbersPerPoint as N } from '../model/choices';
import { type Affine, applyAffine } from '../geometry/affine';
import { fitOutline } from '../geometry/fit-curve';
import { contoursOf } from './contours';
import type { ClosedLine } from './prior';
import type { Region } from './subject-frame';

/** A closed line of a subject: about it or a part of it, or about a hole. */
export interface SubjectLoop {
  /** Six numbers a point, shot px. */
  coordinates: number[];
  hole: boolean;
}

/** px of a picture 1280 wide within which points follow a region's border. */
const usualTolerance = 1.6;
/** Most points wanted: a line of more is followed less well, so that it is drawn less closely. */
const manyPoints = 60;
/** How much more a line may be off when it has too many points. */
const coarser = 1.5;
/** How often a line is fitted anew, less closely or closer. */
const mostTries = 5;
/** Share of the picture below which a part or a hole is not worth a line, and most lines there are. */
const leastArea = 0.0004;
const mostLoops = 12;
/** Share of the width by which a line runs outside where the subject reaches the frame's border. */
const beyond = 0.03;

/**
 * The lines of a region with the fewest points, the largest part first.
 *
 * @param toShot from the region's px to the shot's.
 * @param shotWidth px.
 */
export function subjectLoops(region: Region, toShot: Affine, shotWidth: number): SubjectLoop[] {
  return contoursIn(region, toShot).map(({ line, hole }) => ({
    coordinates: fewestPoints(line, true, shotWidth),
    hole,
  }));
}

/**
 * The region's lines that are worth an outline, closed, x, y by turns, shot px: the largest part first, holes after
 * all parts.
 *
 * @param refine puts the places of a contour, px of the region, where its border lies more exactly.
 */
export function contoursIn(
  region: Region,
  toShot: Affine,
  refine: (line: readonly number[]) => readonly number[] = (line) => line,
): ClosedLine[] {
  const least = leastArea * region.width * region.height;
  return contoursOf(region, Math.round(beyond * region.width))
    .filter(({ area }) => area >= least)
    .sort((a, b) => Number(a.hole) - Number(b.hole) || b.area - a.area)
    .slice(0, mostLoops)
    .map(({ line, hole }) => ({ line: toShotLine(refine(line), toShot), hole }));
}

/** The two ways from the highest place of a closed line to its lowest, as open lines: its left side and its right. */
export function sidesOf(line: readonly number[]): { left: number[]; right: number[] } {
  const places = Array.from({ length: line.length / 2 }, (_, k) => [line[2 * k], line[2 * k + 1]] as const);
  const best = (better: (a: number, b: number) => boolean) =>
    places.reduce((at, [, y], k) => (better(y, places[at][1]) ? k : at), 0);
  const [top, bottom] = [best((a, b) => a < b), best((a, b) => a > b)];
  const way = (from: number, to: number) => {
    const out = [...places[from]];
    for (let k = from; k !== to;) out.push(...places[(k = (k + 1) % places.length)]);
    return out;
  };
  const down = way(top, bottom);
  const up = way(bottom, top);
  const mean = (side: readonly number[]) =>
    side.reduce((sum, value, i) => (i % 2 === 0 ? sum + value : sum), 0) / (side.length / 2);
  const upTurned = Array.from({ length: up.length / 2 }, (_, k) => up.slice(-2 * k - 2).slice(0, 2)).flat();
  return mean(down) < mean(up) ? { left: down, right: upTurned } : { left: upTurned, right: down };
}

/** A side of a subject as a seam from its highest place to its lowest, with the fewest points. */
export function subjectSeam(line: readonly number[], side: 'left' | 'right', shotWidth: number): number[] {
  return fewestPoints(sidesOf(line)[side], false, shotWidth);
}

/** Places of a contour, a sample apart or less, that become one: their mean lies on the edge that they step along. */
const together = 3;

function toShotLine(line: readonly number[], toShot: Affine): number[] {
  const out: number[] = [];
  const count = line.length / 2;
  const each = count > 12 * together ? together : 1;
  for (let k = 0; k < count; k += each) {
    const own = Math.min(each, count - k);
    let [x, y] = [0, 0];
    for (let i = k; i < k + own; i++) {
      x += line[2 * i] / own;
      y += line[2 * i + 1] / own;
    }
    out.push(...applyAffine(toShot, x, y));
  }
  return out;
}

/** The fewest points that follow a line: less closely where it has too many, closer where they are too few for a loop. */
export function fewestPoints(
  line: readonly number[],
  closed: boolean,
  shotWidth: number,
  tolerance = usualTolerance,
): number[] {
  let within = (tolerance * shotWidth) / 1280;
  let coordinates = fitOutline(line, within, closed);
  // A circle goes by two points; a loop has three.
  for (let k = 0; k < mostTries && closed && coordinates.length < 3 * N; k++) {
    within /= coarser;
    coordinates = fitOutline(line, within, closed);
  }
  for (let k = 0; k < mostTries && coordinates.length > manyPoints * N; k++) {
    within *= coarser;
    coordinates = fitOutline(line, within, closed);
  }
  return coordinates;
}

/** The side of a subject's closed line that an open pose lies on. */
export function nearerSide(line: readonly number[], coordinates: readonly number[]): readonly number[] {
  const { left, right } = sidesOf(line);
  const far = (side: readonly number[]) => {
    let sum = 0;
    for (let p = 0; p < coordinates.length; p += N) {
      let least = Infinity;
      for (let i = 0; i < side.length; i += 2)
        least = Math.min(least, Math.hypot(side[i] - coordinates[p], side[i + 1] - coordinates[p + 1]));
      sum += least;
    }
    return sum;
  };
  return far(left) <= far(right) ? left : right;
}
