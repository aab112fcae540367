import type { SourceTimecode } from '../model/shot';
import type { Rate } from '../model/time';
import { countsInDropFrame, formatTimecode, parseTimecode } from './timecode';

/**
 * The timecode of a shot's frame. Where the shot runs faster than its timecode counts, frames share a number.
 *
 * @param frame of the shot; also before its first frame. @param rate the shot's.
 */
export function timecodeOfFrame(timecode: SourceTimecode, rate: Rate, frame: number): string {
  return formatTimecode(countAt(timecode, rate, frame), timecode.rate, timecode.dropFrame);
}

/** The number that a frame has in its timecode's count, which begins again at midnight. */
export function countAt({ start, rate: counted, dropFrame }: SourceTimecode, rate: Rate, frame: number) {
  const passed = Math.floor((frame * counted.num * rate.den) / (counted.den * rate.num) + 1e-9);
  const day = framesOfDay(counted, dropFrame);
  return (((start + passed) % day) + day) % day;
}

/** Frames that a timecode counts in a day. */
export function framesOfDay(rate: Rate, dropFrame: boolean): number {
  return parseTimecode(`23:59:59${dropFrame ? ';' : ':'}${lastNumber(rate)}`, rate) + 1;
}

const lastNumber = (rate: Rate) => String(Math.ceil(rate.num / rate.den - 1e-9) - 1).padStart(2, '0');

/** The first of a shot's frames that a number of its timecode names; may lie outside the shot. */
export function frameOfCount({ start, rate: counted }: SourceTimecode, rate: Rate, count: number): number {
  // Added to zero, nothing is less than it.
  return 0 + Math.ceil(((count - start) * rate.num * counted.den) / (rate.den * counted.num) - 1e-9);
}

/**
 * A timecode as a person or a file writes it, for a shot's first frame: `10:00:00:00`, with a semicolon or a comma before
 * the frames where it counts in drop-frame.
 *
 * @param rate what it counts in.
 * @throws RangeError with a sentence where it is none.
 */
export function sourceTimecodeFrom(text: string, rate: Rate): SourceTimecode {
  const written = text.trim().replace(/[;.,](\d{2,3})$/, ';$1');
  const dropFrame = written.includes(';');
  if (dropFrame && !countsInDropFrame(rate))
    throw new RangeError(
      `“${text.trim()}” counts in drop-frame, which is for 29.97 and 59.94 frames a second. Write a colon before the frames.`,
    );
  return { start: parseTimecode(written, rate), rate, dropFrame };
}

/**
 * Samples since midnight at which a frame begins, as a Broadcast Wave file says it (EBU Tech 3285, TimeReference). Frames
 * are as long as they are: at 29.97 without drop-frame, one hour of timecode is 3603.6 s (common practice, no source).
 *
 * @param sampleRate of the sound, Hz.
 */
export function samplesSinceMidnight(count: number, { num, den }: Rate, sampleRate: number): number {
  return Math.round((count * den * sampleRate) / num);
}

/** A timecode as it is written. */
export const writtenTimecode = ({ start, rate, dropFrame }: SourceTimecode) =>
  formatTimecode(start, rate, dropFrame);
