import { type Ramp, rampBounds } from '../model/time';

/** Whether a list is a ramp: whole frames that ascend, and percents within bounds. */
export function isSoundRamp(ramp: readonly number[]): boolean {
  const [low, high] = rampBounds;
  return (
    ramp.length % 2 === 0 &&
    ramp.every((value, i) =>
      i % 2 === 1
        ? value >= low && value <= high
        : Number.isInteger(value) && value >= 0 && (i === 0 || value > ramp[i - 2]),
    )
  );
}

/** Percent at a moment of the crossing, corners not rounded. */
export function rampPercentAt(ramp: readonly number[], moment: number): number {
  const last = ramp.length - 2;
  if (last < 0) return 100;
  if (moment <= ramp[0]) return ramp[1];
  for (let i = 2; i <= last; i += 2)
    if (moment <= ramp[i]) {
      const share = (moment - ramp[i - 2]) / (ramp[i] - ramp[i - 2]);
      return ramp[i - 1] + (ramp[i + 1] - ramp[i - 1]) * share;
    }
  return ramp[last + 1];
}

/** The integral of the percents from the first key to a moment: of each piece its mean times its length, exact. */
function integralTo(ramp: readonly number[], moment: number): number {
  const last = ramp.length - 2;
  if (moment <= ramp[0]) return (moment - ramp[0]) * ramp[1];
  let sum = 0;
  for (let i = 2; i <= last; i += 2) {
    const [from, to] = [ramp[i - 2], Math.min(moment, ramp[i])];
    sum += ((to - from) * (ramp[i - 1] + rampPercentAt(ramp, to))) / 2;
    if (moment <= ramp[i]) return sum;
  }
  return sum + (moment - ramp[last]) * ramp[last + 1];
}

/** Rounded over a window: its mean, by the trapezoid rule over whole frames. */
function roundedIntegral(ramp: readonly number[], moment: number, window: number): number {
  if (window < 2) return integralTo(ramp, moment);
  let sum = 0;
  for (let k = 0; k <= window; k++)
    sum += integralTo(ramp, moment - window / 2 + k) * (k === 0 || k === window ? 0.5 : 1);
  return sum / window;
}

/**
 * The crossing frame whose picture a ramped layer shows: the integral of its speed from the frame that stays.
 *
 * @returns frames and parts of them; whole hundredths of frames where the speed is constant and without parts.
 */
export function rampedFrame({ ramp = [], rampAt = 0, rampRound = 0 }: Ramp, crossingFrame: number): number {
  if (ramp.length === 0) return crossingFrame;
  const run = roundedIntegral(ramp, crossingFrame, rampRound) - roundedIntegral(ramp, rampAt, rampRound);
  // To whole ten-thousandths, so that a sum of parts that is whole is not missed by a hair.
  return rampAt + Math.round(run * 100) / 10_000;
}

/** The speed at a crossing frame, percent, with its corners rounded. */
export function rampSpeedAt(map: Ramp, crossingFrame: number): number {
  if (!map.ramp?.length) return 100;
  const half = 0.5;
  return 100 * (rampedFrame(map, crossingFrame + half) - rampedFrame(map, crossingFrame - half));
}
