import { movingMean } from '../numbers/moving-mean';
import { fittedWeights } from './fitted-weights';
import type { RunSight } from './run-state';

/** What each place's likely error is told from, an array over the places of a run each. */
export interface PlacesSaid {
  /** px² about the edge that was found, and the belief that it is elsewhere. */
  variance: Float64Array;
  doubt: Float64Array;
  /** Cost of the picture beside it over that of a good match. */
  unlike: Float64Array;
  /** px off the expectation. */
  leap: Float64Array;
  /** Root of the number of frames followed, and the sums of the first two on the way. */
  steps: Float64Array;
  varianceBefore: Float64Array;
  doubtBefore: Float64Array;
}

/** Cost of a sample up to which the picture beside an edge is a good match. */
const goodMatch = 1.5;

/** What frames followed in this order say of each place of each run. @param steps of each frame what it said of each run. */
export function saidOfPlaces(steps: readonly (readonly RunSight[])[]): PlacesSaid[][] {
  let before: PlacesSaid[] = [];
  return steps.map((sights, k) => {
    before = sights.map((sight, r) => {
      const said = saidOn(sight);
      const sum = (values: Float64Array, sums?: Float64Array) =>
        values.map((value, i) => value + (sums?.[i] ?? 0));
      return {
        ...said,
        steps: new Float64Array(said.variance.length).fill(Math.sqrt(k + 1)),
        varianceBefore: sum(said.variance, before[r]?.varianceBefore),
        doubtBefore: sum(said.doubt, before[r]?.doubtBefore),
      };
    });
    return before;
  });
}

function saidOn({ belief, misfit }: RunSight): Omit<PlacesSaid, 'steps' | 'varianceBefore' | 'doubtBefore'> {
  return {
    variance: movingMean(belief.variance, 2),
    doubt: movingMean(belief.doubt, 2),
    leap: movingMean(belief.mean.map(Math.abs), 2),
    unlike: movingMean(
      Float64Array.from(misfit, (value) => Math.max(0, value - goodMatch)),
      2,
    ),
  };
}

/** px by which each place of each run may be off, frame by frame in the order followed: what the frame said, and little of what was not sure on the way. */
export function likelyErrors(steps: readonly (readonly RunSight[])[]): Float64Array[][] {
  return saidOfPlaces(steps).map((runs) => runs.map(errorsOf));
}

/** px by which each place of a run may be off as one frame alone says. */
export function likelyErrorsOn(sight: RunSight): Float64Array {
  return errorsOf(saidOn(sight));
}

/** The weighted sum of what is said, which grows: a place that is lost may be anywhere. */
function errorsOf(said: Partial<PlacesSaid>): Float64Array {
  const weighed = Object.entries(said).map(([name, values]) => ({
    values,
    weight: fittedWeights.places[name as keyof PlacesSaid],
  }));
  return said.variance!.map((_, i) =>
    grown(weighed.reduce((sum, { values, weight }) => sum + weight * values[i], 0)),
  );
}

/** px by which a place may be off of which so much is said. */
export function grown(off: number): number {
  return off * (1 + off);
}
