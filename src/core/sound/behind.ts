import { framesPerSecond } from '../time/rate';
import type { Rate, EaseHandles } from '../model/time';
import { cubicBezierEasing } from '../time/easing';
import { mixRate } from '../model/limits';

/** How far the way is open along the crossing, from its coverage frame by frame, without jumps. */
export type Openness = (sample: number) => number;

/** Samples over which the openness is averaged: 40 ms. */
export const smoothing = 0.04 * mixRate;

/** Samples of a crossing frame; of some rates between whole numbers. */
export const samplesPerFrame = (rate: Rate) => mixRate / framesPerSecond(rate);

/** The sample at which a crossing frame begins, whole. */
export const sampleOfFrame = (frame: number, rate: Rate) => Math.round(frame * samplesPerFrame(rate));

/**
 * Openness by coverage: straight from the middle of a frame to that of the next, averaged over 40 ms, so that nothing
 * clicks. Before the first and after the last frame it is as there.
 *
 * @param coverage 0 to 1 for every crossing frame; empty: all is open.
 */
export function opennessOf(coverage: ArrayLike<number>, rate: Rate): Openness {
  const count = coverage.length;
  if (count === 0) return () => 1;
  const length = samplesPerFrame(rate);
  // The integral of the course up to the middle of each frame, in frames.
  const integral = new Float64Array(count);
  for (let n = 1; n < count; n++) integral[n] = integral[n - 1] + (coverage[n - 1] + coverage[n]) / 2;
  const upTo = (frame: number) => {
    if (frame <= 0) return frame * coverage[0];
    if (frame >= count - 1) return integral[count - 1] + (frame - count + 1) * coverage[count - 1];
    const n = Math.floor(frame);
    const share = frame - n;
    return integral[n] + share * coverage[n] + (share * share * (coverage[n + 1] - coverage[n])) / 2;
  };
  const half = smoothing / 2 / length;
  return (sample) => {
    const at = sample / length - 0.5;
    return Math.min(1, Math.max(0, (upTo(at + half) - upTo(at - half)) / (2 * half)));
  };
}

/** A course from closed (0) to open (1), bent by the handles of an eased way; straight without. */
export function bentBy(bend: readonly number[]): (open: number) => number {
  if (bend.length !== 4) return (open) => open;
  const ease = cubicBezierEasing(...(bend as unknown as EaseHandles));
  // Read from a table: it is asked for hundreds of times a second.
  const steps = 256;
  const table = Float64Array.from({ length: steps + 1 }, (_, k) => ease(k / steps));
  return (open) => {
    const at = Math.min(steps - 1e-9, Math.max(0, open * steps));
    const k = Math.floor(at);
    return table[k] + (at - k) * (table[k + 1] - table[k]);
  };
}
