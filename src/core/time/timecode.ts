import type { Rate } from '../model/time';

/**
 * Timecode of a frame counted from 00:00:00:00, after SMPTE ST 12-1.
 *
 * Non-drop counting runs at the rate rounded up to a whole number (24 for 23.976). Drop-frame counting, for
 * 29.97 and 59.94 only, leaves out the numbers 0 and 1 (0 to 3 at 59.94) at the start of every minute but each
 * tenth, and is written with a semicolon before the frames. Counts wrap at 24 hours.
 *
 * @param frame whole number, 0 or more.
 * @throws RangeError for a negative or broken frame, or drop-frame at a rate that has none.
 */
export function formatTimecode(frame: number, rate: Rate, dropFrame = false): string {
  if (!Number.isInteger(frame) || frame < 0) throw new RangeError(`No timecode for frame ${frame}.`);
  const base = nominalRate(rate);
  let count = frame;
  if (dropFrame) {
    const dropped = droppedPerMinute(rate);
    const perMinute = base * 60 - dropped;
    const perTenMinutes = base * 600 - dropped * 9;
    count %= perTenMinutes * 144;
    const tens = Math.floor(count / perTenMinutes);
    const rest = count % perTenMinutes;
    const minutes = rest < base * 60 ? 0 : 1 + Math.floor((rest - base * 60) / perMinute);
    count += dropped * (9 * tens + minutes);
  }
  count %= base * 86400;
  const two = (value: number) => String(value).padStart(2, '0');
  const seconds = Math.floor(count / base);
  return (
    `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}` +
    `${dropFrame ? ';' : ':'}${two(count % base)}`
  );
}

/**
 * The frame that a timecode names; the inverse of {@link formatTimecode}. A semicolon before the frames means
 * drop-frame.
 *
 * @throws RangeError when the text is no timecode, a field is out of range, or drop-frame has no such number.
 */
export function parseTimecode(text: string, rate: Rate): number {
  const match = /^(\d{1,2}):(\d{2}):(\d{2})([:;])(\d{2,3})$/.exec(text.trim());
  if (!match) throw new RangeError(`“${text}” is not a timecode; write it as 00:00:04:12.`);
  const [hours, minutes, seconds, frames] = [match[1], match[2], match[3], match[5]].map(Number);
  const base = nominalRate(rate);
  if (hours > 23 || minutes > 59 || seconds > 59 || frames >= base) {
    throw new RangeError(`“${text}” is out of range at ${base} frames a second.`);
  }
  const count = ((hours * 60 + minutes) * 60 + seconds) * base + frames;
  if (match[4] === ':') return count;
  const dropped = droppedPerMinute(rate);
  if (seconds === 0 && frames < dropped && minutes % 10 !== 0) {
    throw new RangeError(`Drop-frame timecode has no “${text}”.`);
  }
  const totalMinutes = hours * 60 + minutes;
  return count - dropped * (totalMinutes - Math.floor(totalMinutes / 10));
}

/** Whether drop-frame counting is defined at a rate: 29.97 and 59.94. */
export function countsInDropFrame(rate: Rate): boolean {
  return rate.den === 1001 && (nominalRate(rate) === 30 || nominalRate(rate) === 60);
}

function nominalRate(rate: Rate): number {
  return Math.ceil(rate.num / rate.den - 1e-9);
}

function droppedPerMinute(rate: Rate): number {
  const base = nominalRate(rate);
  if (!countsInDropFrame(rate)) {
    throw new RangeError('Drop-frame timecode is defined for 29.97 and 59.94 frames a second only.');
  }
  return base / 15;
}
