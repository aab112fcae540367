import { rampedFrame } from './ramp';
import type { Rate, TimeMap } from '../model/time';

/** What a time map needs to know of a shot. */
export interface ShotClock {
  /** Its own rate; the mean one where its frames come unevenly. */
  rate: Rate;
  /**
   * Where frames come unevenly: when each comes on, in whole microseconds since the first, ascending. Null or left
   * out where they come evenly at the rate.
   */
  frameTimes?: readonly number[] | null;
}

/**
 * The source frame that a layer shows at a crossing frame: the one under way at the crossing frame's start, at the
 * layer's speed and between the two rates; where frames come unevenly, the one on screen, by their times, in the middle of
 * the crossing frame, so that one that comes a little early or late is neither passed over nor shown twice (as ffmpeg's
 * filter `fps` rounds, to the nearest). Whole numbers throughout, so that no frame is shown twice or skipped by rounding.
 *
 * @returns a frame number that may lie before 0 or past the shot's end: there the layer has no picture.
 */
export function sourceFrameAt(crossingFrame: number, map: TimeMap, crossing: Rate, shot: ShotClock): number {
  const [num, whole] = ratio(map, crossing, shot.rate);
  const { offset, reverse, holdFrom } = map;
  // Ramped, it lies between frames, at whole parts of them.
  const parts = map.ramp?.length ? frameParts : 1;
  const run = Math.round(rampedFrame(map, crossingFrame) * parts);
  const den = whole * parts;
  let frame: number;
  if (shot.frameTimes && shot.frameTimes.length > 1) {
    frame = unevenFrameAt(crossingFrame + 0.5, map, crossing, shot.rate, shot.frameTimes);
  } else {
    const shown = divideDown(run, num, den);
    frame = reverse ? offset - shown : offset + shown;
  }
  if (holdFrom === null) return frame;
  return reverse ? Math.max(frame, holdFrom) : Math.min(frame, holdFrom);
}

/** Where frames come unevenly, the one on screen at a moment. @param at crossing frames and halves of them. */
function unevenFrameAt(
  at: number,
  map: TimeMap,
  crossing: Rate,
  rate: Rate,
  frameTimes: readonly number[],
): number {
  const [num, whole] = ratio(map, crossing, rate);
  const parts = map.ramp?.length ? frameParts : 2;
  const run = Math.round(rampedFrame(map, at) * parts);
  const den = BigInt(whole * parts);
  // Backwards, a frame is entered at its end: the moment counts from the end of the one at the offset.
  const start = map.reverse ? map.offset + 1 : map.offset;
  const ticks = BigInt(start) * den + (map.reverse ? -1n : 1n) * BigInt(run) * BigInt(num);
  return frameOnAt(ticks, den, rate, frameTimes, map.reverse);
}

/** Where a crossing frame lies in the shot, in source frames and parts of them; held frames are not regarded. */
export function sourcePositionAt(
  crossingFrame: number,
  map: TimeMap,
  crossing: Rate,
  shot: ShotClock,
): number {
  const [num, den] = ratio(map, crossing, shot.rate);
  const run = (rampedFrame(map, crossingFrame) * num) / den;
  const { frameTimes } = shot;
  if (!frameTimes || frameTimes.length < 2) return map.reverse ? map.offset - run : map.offset + run;
  const moment = (map.reverse ? map.offset + 1 - run : map.offset + run) * tickLength(shot.rate);
  const frame = unevenFrameAt(Math.round(2 * crossingFrame) / 2, map, crossing, shot.rate, frameTimes);
  const [from, to] = [frame, frame + 1].map((n) => timeOf(n, shot.rate, frameTimes));
  const part = Math.min(1, Math.max(0, (moment - from) / (to - from)));
  return map.reverse ? frame - (1 - part) : frame + part;
}

/**
 * The first crossing frame at which the layer shows `sourceFrame` or has run past it; the inverse of
 * {@link sourceFrameAt}. Where the frame lies behind the held one, the frame at which it would have come.
 */
export function crossingFrameOf(sourceFrame: number, map: TimeMap, crossing: Rate, shot: ShotClock): number {
  if (map.ramp?.length) return rampedFrameOf(sourceFrame, map, crossing, shot);
  const [num, den] = ratio(map, crossing, shot.rate);
  const { frameTimes, rate } = shot;
  if (!frameTimes || frameTimes.length < 2) {
    const run = map.reverse ? map.offset - sourceFrame : sourceFrame - map.offset;
    return -divideDown(-run, den, num);
  }
  // Microseconds times the rate's numerator are whole, and so are the ticks that the offset counts.
  const scale = (microseconds: number) => BigInt(microseconds) * BigInt(rate.num);
  const ticks = (count: number) => BigInt(count) * BigInt(rate.den) * second;
  const perFrame = BigInt(num) * BigInt(rate.den) * second;
  const wait = map.reverse
    ? ticks(map.offset + 1) - scale(timeOf(sourceFrame + 1, rate, frameTimes) + tolerance)
    : scale(timeOf(sourceFrame, rate, frameTimes) - tolerance) - ticks(map.offset);
  // The first crossing frame whose middle is not before it.
  const [twice, half] = [2n * wait * BigInt(den), perFrame];
  return map.reverse
    ? Number(floorOf(twice - half, 2n * perFrame)) + 1
    : Number(-floorOf(half - twice, 2n * perFrame));
}

/** The crossing frame, from the one that stays outward, at which a ramped layer first shows a source frame or passes it. */
function rampedFrameOf(sourceFrame: number, map: TimeMap, crossing: Rate, shot: ShotClock): number {
  const plain = crossingFrameOf(sourceFrame, { ...map, ramp: [] }, crossing, shot);
  const { ramp = [], rampAt: from = 0, rampRound = 0 } = map;
  const way = plain >= from ? 1 : -1;
  const passed = (frame: number) =>
    way > 0 ? rampedFrame(map, frame) >= plain : rampedFrame(map, frame) < plain;
  // Backwards the last that has not passed it yet.
  const found = (frame: number) => (way > 0 ? frame : frame + 1);
  // Beyond its keys a ramp runs straight on: there it is reckoned, not searched.
  const end =
    way > 0
      ? Math.max(from, Math.ceil(ramp[ramp.length - 2] + rampRound))
      : Math.min(from, Math.floor(ramp[0] - rampRound));
  for (let frame = from; way * (end - frame) >= 0; frame += way) if (passed(frame)) return found(frame);
  const speed = (way > 0 ? ramp[ramp.length - 1] : ramp[1]) / 100;
  if (speed <= 0) return plain;
  let frame = end + way * Math.max(1, Math.floor(Math.abs(plain - rampedFrame(map, end)) / speed) - 1);
  while (!passed(frame)) frame += way;
  return found(frame);
}

/**
 * The offset with which `sourceFrame` is on screen at crossing frame 0; where frames come unevenly, the nearest there
 * is, as offsets count the shot's mean frames.
 */
export function offsetShowing(sourceFrame: number, map: TimeMap, { rate, frameTimes }: ShotClock): number {
  if (!frameTimes || frameTimes.length < 2) return sourceFrame;
  const time = timeOf(map.reverse ? sourceFrame + 1 : sourceFrame, rate, frameTimes);
  const ticks = time / tickLength(rate);
  const slack = tolerance / tickLength(rate);
  return map.reverse ? Math.floor(ticks + slack) - 1 : Math.ceil(ticks - slack);
}

/**
 * The offset with which a source frame is on screen at any crossing frame; the map's own offset is not regarded. Where frames come
 * unevenly it may be a frame beside it, as offsets count the shot's mean frames.
 */
export function offsetAt(
  sourceFrame: number,
  crossingFrame: number,
  map: TimeMap,
  crossing: Rate,
  shot: ShotClock,
): number {
  const entry = offsetShowing(sourceFrame, map, shot);
  const about = sourceFrameAt(-crossingFrame, { ...map, offset: entry }, crossing, { rate: shot.rate });
  // Rounded, it shows the frame before or after the one that is meant.
  const shows = (offset: number) => sourceFrameAt(crossingFrame, { ...map, offset }, crossing, shot);
  return [about, about + 1, about - 1].find((offset) => shows(offset) === sourceFrame) ?? about;
}

/** Parts of a crossing frame that a ramp's course is kept to. */
const frameParts = 10_000;

const second = 1_000_000n;
/**
 * Microseconds by which a frame's time may be off: containers round to the millisecond (Matroska's usual timestamp
 * scale, RFC 9559 §11.1), decoders to the microsecond.
 */
const tolerance = 600;

/** Length of a frame at the mean rate, µs. */
const tickLength = ({ num, den }: Rate) => (den * 1e6) / num;

/** When a frame comes on, µs since the first, whole; beyond the shot's ends at its mean rate. */
function timeOf(frame: number, rate: Rate, times: readonly number[]): number {
  const last = times.length - 1;
  if (frame < 0) return Math.round(frame * tickLength(rate));
  return frame <= last ? times[frame] : times[last] + Math.round((frame - last) * tickLength(rate));
}

/**
 * The frame on screen at `ticks / per` mean frames since the first came on. Backwards, a frame is on from its end
 * (not before it) down to its beginning.
 */
function frameOnAt(
  ticks: bigint,
  per: bigint,
  rate: Rate,
  times: readonly number[],
  backwards: boolean,
): number {
  const moment = Number(floorOf(ticks * BigInt(rate.den) * second, per * BigInt(rate.num)));
  const latest = backwards ? moment - tolerance : moment + tolerance;
  const tick = tickLength(rate);
  const last = times.length - 1;
  const end = times[last] + tick;
  if (latest < 0) return backwards ? Math.ceil(latest / tick) - 1 : Math.floor(latest / tick);
  if (latest >= end) return last + 1 + Math.floor((latest - end) / tick);
  let low = 0;
  let high = last;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (times[middle] <= latest) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** ⌊a / b⌋ for b > 0. */
function floorOf(a: bigint, b: bigint): bigint {
  const quotient = a / b;
  return a % b < 0n ? quotient - 1n : quotient;
}

/**
 * The same map with another speed or direction, so that `crossingFrame` goes on showing what it showed.
 *
 * @param shot its rate; offsets count frames of the mean rate also where frames come unevenly.
 */
export function withSpeed(
  map: TimeMap,
  change: Partial<Pick<TimeMap, 'speed' | 'reverse'>>,
  crossingFrame: number,
  crossing: Rate,
  shot: Rate,
): TimeMap {
  const shown = sourceFrameAt(crossingFrame, { ...map, holdFrom: null }, crossing, { rate: shot });
  const changed = { ...map, ...change, offset: 0, holdFrom: null };
  return {
    ...map,
    ...change,
    offset: shown - sourceFrameAt(crossingFrame, changed, crossing, { rate: shot }),
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
  return Number(floorOf(BigInt(n) * BigInt(num), BigInt(den)));
}
