import type { Rate } from './rate';

/** How a layer's source frames follow the crossing's frames. */
export interface TimeMap {
  /** The source frame shown at crossing frame 0; may lie outside the shot. */
  offset: number;
  /** Percent of the shot's own speed, 25 to 800, to two decimals. */
  speed: number;
  /** Whether the shot runs backwards. */
  reverse: boolean;
  /** The source frame that is held once it is reached, or null. */
  holdFrom: number | null;
}

/** The shot at its own speed from its first frame. */
export const plainTime: TimeMap = { offset: 0, speed: 100, reverse: false, holdFrom: null };

/**
 * The source frame that a layer shows at a crossing frame: the one under way at the crossing frame's start, at the
 * layer's speed and between the two rates. Whole numbers throughout, so that no frame is shown twice or skipped by
 * rounding.
 *
 * @returns a frame number that may lie before 0 or past the shot's end: there the layer has no picture.
 */
export function sourceFrameAt(crossingFrame: number, map: TimeMap, crossing: Rate, shot: Rate): number {
  const [num, den] = ratio(map, crossing, shot);
  const run = divideDown(crossingFrame, num, den);
  const { offset, reverse, holdFrom } = map;
  const frame = reverse ? offset - run : offset + run;
  if (holdFrom === null) return frame;
  return reverse ? Math.max(frame, holdFrom) : Math.min(frame, holdFrom);
}

/** Where a crossing frame lies in the shot, in source frames and parts of them; held frames are not regarded. */
export function sourcePositionAt(crossingFrame: number, map: TimeMap, crossing: Rate, shot: Rate): number {
  const [num, den] = ratio(map, crossing, shot);
  const run = (crossingFrame * num) / den;
  return map.reverse ? map.offset - run : map.offset + run;
}

/**
 * The first crossing frame at which the layer shows `sourceFrame` or has run past it; the inverse of
 * {@link sourceFrameAt}. Where the frame lies behind the held one, the frame at which it would have come.
 */
export function crossingFrameOf(sourceFrame: number, map: TimeMap, crossing: Rate, shot: Rate): number {
  const [num, den] = ratio(map, crossing, shot);
  const run = map.reverse ? map.offset - sourceFrame : sourceFrame - map.offset;
  return -divideDown(-run, den, num);
}

/**
 * The same map with another speed or direction, so that `crossingFrame` goes on showing what it showed.
 */
export function withSpeed(
  map: TimeMap,
  change: Partial<Pick<TimeMap, 'speed' | 'reverse'>>,
  crossingFrame: number,
  crossing: Rate,
  shot: Rate,
): TimeMap {
  const shown = sourceFrameAt(crossingFrame, { ...map, holdFrom: null }, crossing, shot);
  const changed = { ...map, ...change, offset: 0, holdFrom: null };
  return {
    ...map,
    ...change,
    offset: shown - sourceFrameAt(crossingFrame, changed, crossing, shot),
  };
}

/** Source frames a crossing frame, as a reduced fraction. */
function ratio({ speed }: TimeMap, crossing: Rate, shot: Rate): [num: number, den: number] {
  const [a, b] = reduced(crossing.den * shot.num, crossing.num * shot.den);
  const [c, d] = reduced(Math.round(speed * 100), 10_000);
  const [e, f] = reduced(a, d);
  const [g, h] = reduced(c, b);
  return [e * g, f * h];
}

function reduced(num: number, den: number): [number, number] {
  let [a, b] = [num, den];
  while (b !== 0) [a, b] = [b, a % b];
  return [num / a, den / a];
}

/** ⌊n·num/den⌋, exact beyond 2⁵³ too. */
function divideDown(n: number, num: number, den: number): number {
  const product = n * num;
  if (Number.isSafeInteger(product)) return Math.floor(product / den);
  const [big, by] = [BigInt(n) * BigInt(num), BigInt(den)];
  const quotient = big / by;
  return Number(big % by < 0n ? quotient - 1n : quotient);
}
