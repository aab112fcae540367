import type { Rate } from '../model/time';

/** The rate of a row that keeps it in two fields: a crossing, or what was made of one. */
export const rateOf = ({ rateNum, rateDen }: { rateNum: number; rateDen: number }): Rate => ({
  num: rateNum,
  den: rateDen,
});

/** Rates that are common in footage; a measured rate within 0.1 % of one is taken to be it. */
const commonRates: readonly Rate[] = [
  { num: 24000, den: 1001 },
  { num: 24, den: 1 },
  { num: 25, den: 1 },
  { num: 30000, den: 1001 },
  { num: 30, den: 1 },
  { num: 48000, den: 1001 },
  { num: 48, den: 1 },
  { num: 50, den: 1 },
  { num: 60000, den: 1001 },
  { num: 60, den: 1 },
  { num: 100, den: 1 },
  { num: 120000, den: 1001 },
  { num: 120, den: 1 },
];

/** Rates that a crossing can be given, the most common first (common practice, no source). */
export const crossingRates: readonly Rate[] = [
  { num: 25, den: 1 },
  { num: 24000, den: 1001 },
  { num: 24, den: 1 },
  { num: 30000, den: 1001 },
  { num: 30, den: 1 },
  { num: 50, den: 1 },
  { num: 60000, den: 1001 },
  { num: 60, den: 1 },
  { num: 48, den: 1 },
  { num: 100, den: 1 },
  { num: 120000, den: 1001 },
  { num: 120, den: 1 },
];

/** Share by which a rate may be off a common one and still mean it, where frames come unevenly. */
const unevenTolerance = 0.04;

/**
 * The rate that a shot is meant to run at: its own; where frames come unevenly, the common one that is nearest to the
 * time from most frames to the next.
 *
 * @param frameTimes when each frame comes on, µs; null or left out where they come evenly.
 */
export function nominalRateOf({
  rate,
  frameTimes,
}: {
  rate: Rate;
  frameTimes?: readonly number[] | null;
}): Rate {
  if (!frameTimes || frameTimes.length < 3) return rate;
  const steps = frameTimes.slice(1).map((time, n) => time - frameTimes[n]);
  steps.sort((a, b) => a - b);
  const median = steps[Math.floor(steps.length / 2)];
  // The mean without pauses, and without frames that came in a heap after one.
  const usual = steps.filter((step) => step > median / 2 && step < 1.5 * median);
  const measured = (1e6 * usual.length) / usual.reduce((sum, step) => sum + step, 0);
  const off = (each: Rate) => Math.abs(Math.log(framesPerSecond(each) / measured));
  const [nearest] = [...commonRates].sort((a, b) => off(a) - off(b));
  return off(nearest) < unevenTolerance
    ? { ...nearest }
    : rateFromMeasured(Math.max(1, Math.round(measured)));
}

/** Frames per second as a plain number. */
export function framesPerSecond(rate: Rate): number {
  return rate.num / rate.den;
}

/** Seconds from frame 0 to the start of `frame`. */
export function secondsAt(frame: number, rate: Rate): number {
  return (frame * rate.den) / rate.num;
}

/**
 * The exact rate behind a measured one: the nearest common rate when within 0.05 % (29.97 and 30 differ by
 * 0.1 %), else a fraction of thousandths.
 *
 * @throws RangeError when `measured` is not a positive finite number.
 */
export function rateFromMeasured(measured: number): Rate {
  if (!Number.isFinite(measured) || measured <= 0) {
    throw new RangeError(`A frame rate must be positive, not ${measured}.`);
  }
  let best: Rate | null = null;
  let bestError = 0.0005;
  for (const rate of commonRates) {
    const error = Math.abs(framesPerSecond(rate) / measured - 1);
    if (error < bestError) {
      best = rate;
      bestError = error;
    }
  }
  return best ? { ...best } : reduced(Math.max(1, Math.round(measured * 1000)), 1000);
}

function reduced(num: number, den: number): Rate {
  let a = num;
  let b = den;
  while (b !== 0) [a, b] = [b, a % b];
  return { num: num / a, den: den / a };
}

/** The rate as people write it: 25, 23.976, 29.97. */
export function formatRate(rate: Rate): string {
  return String(Number(framesPerSecond(rate).toFixed(3)));
}
