import { type FramePicture, lumaAt } from '../picture/frame-picture';
import type { EdgeLine } from '../edge/straight';
import { type Affine, applyAffine } from '../geometry/affine';
import { bandBeside } from './band';
import { type BandMotion, explainedWithin } from './band-fit';
import { bandMotion } from './band-motion';

/** No shifts besides the whole's. */
export function still(count: number) {
  return { dx: new Float64Array(count), dy: new Float64Array(count) };
}

/** px outside the edge's softness at which what lies behind begins; and share of the picture's width at which it is past a shadow. */
const beside = 6;
const pastShadow = 0.05;
/** Share of a band that is explained so well that nothing in it leads astray; and share of the difference which is clearly less. */
const [sureOf, clearlyLess] = [0.95, 0.8];

/**
 * How what lies behind moves: a wide band says it, and the near one corrects that where it is clearly better, as where
 * something nearer stands there; a shadow that goes along with the object does not lead it astray.
 */
export function behindMotion(
  here: FramePicture,
  there: FramePicture,
  line: EdgeLine,
  soft: number,
  guess: Affine,
  [acrossPx, downPx]: readonly [number, number],
  object: readonly [number, number],
): BandMotion | null {
  const middle = line.count >> 1;
  const [x, y] = [line.x[middle], line.y[middle]];
  const band = (from: number) => bandBeside(line, soft + from, from + 0.2 * here.width);
  const motionOf = (points: Float64Array) =>
    bandMotion(here, there, points, guess, { acrossPx, downPx, trust: 6, expected: true });
  const next = motionOf(band(beside));
  // A shadow may be all that is seen to move there, or lead astray what fits: then what lies beyond it has the say.
  let wide = next;
  const along = next && goesAlong(x, y, next.map, guess, object);
  if (next && (along || next.explained < sureOf)) {
    const past = band(pastShadow * here.width);
    const beyond = motionOf(past);
    const less = (by: BandMotion) =>
      unlike(here, there, past, by) < clearlyLess * unlike(here, there, past, next);
    if (beyond && (along || less(beyond))) wide = beyond;
  }
  const points = bandBeside(line, soft + 4, 70);
  const near = bandMotion(here, there, points, wide?.map ?? guess, {
    acrossPx: wide ? 0 : acrossPx,
    downPx: wide ? 0 : downPx,
    trust: 2,
  });
  if (!wide || !near) return wide ?? near;
  const held = explainedBy(here, there, points, wide);
  const better = near.explained > held + 0.06 && !goesAlong(x, y, near.map, wide.map, object);
  return better ? near : wide;
}

/** Whether a part moves as the object does rather than as the whole: a shadow, which is nothing that lies behind. */
function goesAlong(
  x: number,
  y: number,
  part: Affine,
  whole: Affine,
  object: readonly [number, number],
): boolean {
  const [ax, ay] = applyAffine(part, x, y);
  const [bx, by] = applyAffine(whole, x, y);
  const [toObject, toWhole] = [
    Math.hypot(ax - x - object[0], ay - y - object[1]),
    Math.hypot(ax - bx, ay - by),
  ];
  return toObject < 0.6 * toWhole;
}

/** Places whose surroundings behind are looked at together. */
const group = 24;

/** Shifts besides the whole's movement of what lies behind, where parts of it lie at other depths: by groups of places. */
export function localShifts(
  here: FramePicture,
  there: FramePicture,
  line: EdgeLine,
  { soft, whole, object }: { soft: number; whole: BandMotion; object: readonly [number, number] },
) {
  const shifts = still(line.count);
  const groups = Math.max(1, Math.round(line.count / group));
  if (groups < 2 || whole.explained > 0.97) return shifts;
  const size = line.count / groups;
  const found: [number, number][] = [];
  for (let g = 0; g < groups; g++) {
    const [from, to] = [Math.floor(g * size), Math.floor((g + 1) * size)];
    const part: EdgeLine = {
      count: to - from,
      x: line.x.subarray(from, to),
      y: line.y.subarray(from, to),
      nx: line.nx.subarray(from, to),
      ny: line.ny.subarray(from, to),
      room: line.room,
    };
    const points = bandBeside(part, soft + 3, soft + 40);
    const held = explainedBy(here, there, points, whole);
    const own =
      held > 0.9 ? null : bandMotion(here, there, points, whole.map, { acrossPx: 8, downPx: 8, trust: 3 });
    const middle = (to - from) >> 1;
    if (
      !own ||
      own.explained < held + 0.1 ||
      goesAlong(part.x[middle], part.y[middle], own.map, whole.map, object)
    ) {
      found.push([0, 0]);
      continue;
    }
    const [ax, ay] = applyAffine(whole.map, part.x[middle], part.y[middle]);
    const [bx, by] = applyAffine(own.map, part.x[middle], part.y[middle]);
    found.push([bx - ax, by - ay]);
  }
  for (let i = 0; i < line.count; i++)
    [shifts.dx[i], shifts.dy[i]] = found[Math.min(groups - 1, Math.floor(i / size))];
  return shifts;
}

/** Goes over the points of one picture: told of each what differs, code values, where a motion takes it; NaN where that is out of the other. */
function differencesAt(
  here: FramePicture,
  there: FramePicture,
  points: Float64Array,
  { map, gain }: Pick<BandMotion, 'map' | 'gain'>,
  told: (difference: number) => void,
): void {
  const [a, b] = [here.level(0), there.level(0)];
  for (let i = 0; i < points.length; i += 4) {
    const [x, y] = [points[i], points[i + 1]];
    if (!isWithin(here, x, y)) continue;
    const [tx, ty] = applyAffine(map, x, y);
    told(isWithin(there, tx, ty) ? Math.abs(lumaAt(b, tx, ty) - gain * lumaAt(a, x, y)) : NaN);
  }
}

function isWithin({ width, height }: FramePicture, x: number, y: number): boolean {
  return x >= 2 && y >= 2 && x <= width - 2 && y <= height - 2;
}

/** Share of the points that a motion explains. */
function explainedBy(
  here: FramePicture,
  there: FramePicture,
  points: Float64Array,
  motion: BandMotion,
): number {
  let [good, count] = [0, 0];
  differencesAt(here, there, points, motion, (difference) => {
    count++;
    if (difference < explainedWithin) good++;
  });
  return count ? good / count : 0;
}

/** Most that a point's difference counts, code values, and how many points there must be. */
const [mostUnlike, fewest] = [30, 40];

/** How unlike two pictures are at points that a motion takes from one to the other: mean difference, code values; Infinity where too few are in both. */
export function unlike(
  here: FramePicture,
  there: FramePicture,
  points: Float64Array,
  motion: Pick<BandMotion, 'map' | 'gain'>,
): number {
  let [sum, count] = [0, 0];
  differencesAt(here, there, points, motion, (difference) => {
    if (difference !== difference) return;
    sum += Math.min(mostUnlike, difference);
    count++;
  });
  return count < fewest ? Infinity : sum / count;
}
