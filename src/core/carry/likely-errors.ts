import { movingMean } from '../numbers/moving-mean';
import type { RunSight } from './run-state';

/**
 * px by which each place of each run may be off, frame by frame in the order followed: what the frame said, and
 * little of what was not sure on the way.
 *
 * @param steps of each frame what it said of each run.
 */
export function likelyErrors(steps: readonly (readonly RunSight[])[]): Float64Array[][] {
  let sums: { variance: Float64Array; doubt: Float64Array }[] = [];
  return steps.map((sights, k) => {
    sums = sights.map(({ belief }, r) => ({
      variance: movingMean(belief.variance, 2).map((value, i) => value + (sums[r]?.variance[i] ?? 0)),
      doubt: movingMean(belief.doubt, 2).map((value, i) => value + (sums[r]?.doubt[i] ?? 0)),
    }));
    return sights.map((sight, r) => {
      const { variance, doubt } = sums[r];
      return spreadOf(sight).map((value, i) => {
        const before = 0.0106 * Math.sqrt(k + 1) + 0.0121 * variance[i] + 0.0059 * doubt[i];
        return grown(value + before);
      });
    });
  });
}

/** px by which each place of a run may be off as one frame alone says. */
export function likelyErrorsOn(sight: RunSight): Float64Array {
  return spreadOf(sight).map(grown);
}

/** A place that is lost may be anywhere. */
function grown(off: number): number {
  return off * (1 + off);
}

/**
 * What a frame says of how far each place of a run may be off, px. The weights, as those above, are fitted over the
 * places of the bench's passes (bench/passes), for the scale of a Cauchy distribution.
 */
function spreadOf({ belief, misfit }: RunSight): Float64Array {
  const doubt = movingMean(belief.doubt, 2);
  const leap = movingMean(belief.mean.map(Math.abs), 2);
  const unlike = movingMean(
    Float64Array.from(misfit, (value) => Math.max(0, value - 1.5)),
    2,
  );
  return movingMean(belief.variance, 2).map(
    (variance, i) => 0.63 * variance + 33 * doubt[i] + 0.1 * unlike[i] + 0.034 * leap[i],
  );
}
