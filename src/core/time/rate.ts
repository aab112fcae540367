/** A frame rate as an exact fraction, in frames per second: 30000/1001 is NTSC's 29.97. */
export interface Rate {
  num: number;
  den: number;
}

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
