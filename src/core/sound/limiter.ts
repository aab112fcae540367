import { truePeakAt } from './loudness';
import { gainOf, type Stereo } from './stereo';

/** Highest true peak that is let through, dBTP: a little below −1, as meters differ by some hundredths. */
export const usualCeiling = -1.1;

/** Samples before and after a peak over which the gain goes down and comes back: 10 ms. */
const slope = 480;
/** Samples before and after a stretch that its limiting looks at. */
export const limiterReach = 2 * slope + 16;

// By a short name, as it is called for every sample.
const { abs } = Math;

/** The way down and back: a Hann window whose sum is 1. */
const fade = Float64Array.from(
  { length: 2 * slope + 1 },
  (_, k) => (1 + Math.cos((Math.PI * (k - slope)) / (slope + 1))) / (2 * (slope + 1)),
);

/**
 * Turns a sum down where its true peak would be over the ceiling, both channels alike: the least gain that is needed
 * within 10 ms, smoothed over as long, so that it is never too late. What it does at a sample depends on the samples
 * around only, not on where one began.
 *
 * @param sum with {@link limiterReach} samples more at either end than come back.
 * @param highest true peak that is let through, dBTP.
 */
export function limit(sum: Stereo, highest = usualCeiling): Stereo {
  const count = sum[0].length - 2 * limiterReach;
  const cut = sum.map((channel) => channel.slice(limiterReach, limiterReach + count)) as unknown as Stereo;
  const needed = neededGain(sum, gainOf(highest));
  if (!needed) return cut;
  const lowest = slidingLeast(needed, slope);
  for (let i = 0; i < count; i++) {
    const at = i + limiterReach;
    let gain = 0;
    for (let k = -slope; k <= slope; k++) gain += fade[k + slope] * lowest[at + k];
    cut[0][i] *= gain;
    cut[1][i] *= gain;
  }
  return cut;
}

/** The gain that each sample needs to stay below the ceiling; null where none needs any. */
function neededGain(sum: Stereo, ceiling: number): Float32Array | null {
  const count = sum[0].length;
  let needed: Float32Array | null = null;
  for (const channel of sum)
    for (let i = 0; i < count; i++) {
      if (abs(channel[i]) < ceiling / 2 && abs(channel[i + 1] ?? 0) < ceiling / 2) continue;
      const peak = truePeakAt(channel, i);
      if (peak <= ceiling) continue;
      needed ??= new Float32Array(count).fill(1);
      for (const n of [i, i + 1]) if (n < count) needed[n] = Math.min(needed[n], ceiling / peak);
    }
  return needed;
}

/** The least within `reach` on either side, by a queue of candidates (Lemire 2006). */
function slidingLeast(values: Float32Array, reach: number): Float32Array {
  const out = new Float32Array(values.length);
  const queue = new Int32Array(values.length);
  let [head, tail] = [0, 0];
  for (let i = 0; i < values.length + reach; i++) {
    if (i < values.length) {
      while (tail > head && values[queue[tail - 1]] >= values[i]) tail--;
      queue[tail++] = i;
    }
    const at = i - reach;
    if (at < 0) continue;
    while (queue[head] < at - reach) head++;
    out[at] = values[queue[head]];
  }
  return out;
}
