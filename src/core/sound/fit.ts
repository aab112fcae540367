import type { Rate } from '../model/time';
import { sampleOfFrame } from './behind';
import { mixRate } from '../model/limits';

/** Where the moving edge is in the picture, and where it is fastest, from the coverage. */
export interface EdgePassage {
  /** First frame on which something is covered but not all, and the last. */
  first: number;
  last: number;
  /** The frame into which most is newly covered, or uncovered. */
  fastest: number;
}

/** Share that counts as nothing, and as all. */
const nothing = 0.005;

/** @returns null where nothing is ever partly covered. */
export function passageOf(coverage: ArrayLike<number>): EdgePassage | null {
  const frames = Array.from(coverage, (share, n) => (share > nothing && share < 1 - nothing ? n : -1)).filter(
    (n) => n >= 0,
  );
  if (frames.length === 0) return null;
  const [first, last] = [frames[0], frames[frames.length - 1]];
  let fastest = first;
  const step = (n: number) => Math.abs((coverage[n] ?? 0) - (coverage[n - 1] ?? coverage[n]));
  for (let n = first; n <= Math.min(last + 1, coverage.length - 1); n++)
    if (step(n) > step(fastest)) fastest = n;
  return { first, last, fastest };
}

/** Seconds by which a sweep begins before the edge is seen, and ends after. */
const around = 0.12;

/**
 * A sweep as long as the edge is in the picture, with its loudest moment where it is fastest.
 *
 * @returns its start and length in samples, and its loudest moment in percent of its length.
 */
export function fitSweep(
  { first, last, fastest }: EdgePassage,
  rate: Rate,
): { start: number; length: number; loudestAt: number } {
  const margin = Math.round(around * mixRate);
  const start = sampleOfFrame(first, rate) - margin;
  const length = sampleOfFrame(last + 1, rate) + margin - start;
  // The edge gets into a frame during the one before.
  const loudest = sampleOfFrame(fastest - 0.5, rate) - start;
  return { start, length, loudestAt: Math.round(Math.min(98, Math.max(2, (100 * loudest) / length))) };
}
