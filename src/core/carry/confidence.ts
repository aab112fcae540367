import { quantile } from '../numbers/quantile';
import type { Doubt } from '../model/choices';
import { movingMean } from '../numbers/moving-mean';
import { fittedWeights } from './fitted-weights';
import { isAtTheEnd, type RunSight } from './run-state';

/** How sure the line is on a frame. */
export interface Confidence {
  /** Probability that it is more than 3 px off at some length, 0 to 1. */
  doubt: number;
  /** Likely error at each place of each run, px. */
  places: Float64Array[];
  /** Null where the frame is sure. */
  reason: Doubt | null;
}

/** From this on a frame is unsure. */
export const unsureFrom = 0.5;
/** Share of a line that may be found at the end of the search range. */
const mostLost = 0.04;
/** Share of a line that may leap from one frame to the next before that alone is unsure, and how unsure it is then. */
const [mostLeaps, goneDoubt] = [0.5, 0.95];
/** Places that must be in the picture: where nothing of the line is, there is nothing to be wrong. */
const fewest = 4;

/**
 * How sure a frame is that was followed from one end, from what the frame said of each run: the spread of the offset,
 * the probability of another one, what the picture beside it leaves unexplained, how far the edge was from where it was
 * expected, how rough it is. The weights are a logistic regression over passes by chance (`fitted-weights.ts`).
 */
export function confidenceOf(sights: readonly RunSight[]): Confidence {
  const said = saidBy(sights);
  const places = sights.map(({ belief, reach }) => {
    const spread = movingMean(Float64Array.from(belief.variance, Math.sqrt), 4);
    const other = movingMean(belief.doubt, 4);
    return spread.map((value, i) => (isAtTheEnd({ belief, reach }, i) ? reach : value + 6 * other[i]));
  });
  if (said.spread.length < fewest) return { doubt: 0, places, reason: null };
  // A limb may come out; that all of the line is elsewhere is to be looked at.
  const gone = sights.some(({ leaps, seen, reach }) => {
    const far = leaps?.filter((by, i) => seen[i] === 1 && Math.abs(by) > reach) ?? [];
    return far.length > mostLeaps * said.spread.length;
  });
  const told = logistic(scoreOf(fittedWeights.oneWay, saidOneWay(sights, said)));
  const doubt = gone ? Math.max(goneDoubt, told) : told;
  return { doubt, places, reason: doubt < unsureFrom ? null : reasonOf(said, []) };
}

/**
 * How sure a frame is that was followed from both ends.
 *
 * @param mayBe px by which each place of each run may be off; `apart`: px between the two directions.
 */
export function confidenceBetween(
  sights: readonly RunSight[],
  mayBe: readonly Float64Array[],
  apart: readonly Float64Array[],
): Confidence {
  const places = mayBe.map((run) => movingMean(run, 5));
  const inPicture = (runs: readonly Float64Array[]) =>
    runs.flatMap((run, r) => [...run].filter((_, i) => sights[r].seen[i] === 1));
  const seen = inPicture(places);
  if (seen.length < fewest) return { doubt: 0, places, reason: null };
  const far = inPicture(apart.map((run) => movingMean(run, 2)));
  const doubt = logistic(scoreOf(fittedWeights.between, saidBetween(seen, far)));
  return { doubt, places, reason: doubt < unsureFrom ? null : reasonOf(saidBy(sights), far) };
}

/** What a frame that was followed from one end is judged by. */
export function saidOneWay(
  sights: readonly RunSight[],
  said: Said,
): Record<Exclude<keyof typeof fittedWeights.oneWay, 'bias'>, number> {
  const lost = sights.some((sight) => {
    const at = sight.seen.filter((seen, i) => seen === 1 && isAtTheEnd(sight, i));
    return at.length > mostLost * said.spread.length;
  });
  return {
    lost: lost ? 1 : 0,
    spread: log(said.spread, 0.95),
    other: log(said.other, 0.95),
    leap: log(said.leap, 0.95),
    rough: log(said.rough, 0.95),
    behind: log(said.behind, 0.9),
    object: log(said.object, 0.9),
    beside: log(said.beside, 0.95),
  };
}

/** What a frame between two known ones is judged by. @param mayBe px that each place may be off. @param apart px between both directions. */
export function saidBetween(
  mayBe: readonly number[],
  apart: readonly number[],
): Record<Exclude<keyof typeof fittedWeights.between, 'bias'>, number> {
  return { off: log(mayBe, 0.95), apart: log(apart, 0.95) };
}

function log(values: readonly number[], share: number): number {
  return Math.log(0.05 + quantile(values, share));
}

function scoreOf<Name extends string>(
  weights: { bias: number } & Record<Name, number>,
  said: Record<Name, number>,
): number {
  return (Object.keys(said) as Name[]).reduce((sum, name) => sum + weights[name] * said[name], weights.bias);
}

/** Shares of the places that a reason is told by. */
const [most, nearlyAll] = [0.8, 0.95];
/**
 * From where on a doubt has a reason: code values that a side is not explained by, px off the expectation, the share of
 * belief in another place, px between the two directions. By eye, on the drawn passes.
 */
const reasons = { unexplained: 12, leap: 6, other: 0.15, endsDiffer: 2.5 };
function logistic(score: number): number {
  return 1 / (1 + Math.exp(-score));
}

/** What the frame said of the places in the picture, as moving means along the line. */
export interface Said {
  spread: number[];
  other: number[];
  leap: number[];
  rough: number[];
  behind: number[];
  object: number[];
  /** Cost of the picture right beside the edge. */
  beside: number[];
}

export function saidBy(sights: readonly RunSight[]): Said {
  const said: Said = { spread: [], other: [], leap: [], rough: [], behind: [], object: [], beside: [] };
  for (const { belief, behindError, objectError, misfit, seen } of sights) {
    const visible = (values: ArrayLike<number>) => Array.from(values).filter((_, i) => seen[i] === 1);
    const { mean, variance, doubt } = belief;
    const run = movingMean(mean, 6);
    said.spread.push(...visible(movingMean(Float64Array.from(variance, Math.sqrt), 4)));
    said.other.push(...visible(movingMean(doubt, 4)));
    said.leap.push(...visible(movingMean(mean.map(Math.abs), 2)));
    said.rough.push(...visible(mean.map((value, i) => Math.abs(value - run[i]))));
    said.behind.push(...visible(behindError));
    said.object.push(...visible(objectError));
    said.beside.push(...visible(movingMean(Float64Array.from(misfit), 2)));
  }
  return said;
}

function reasonOf({ object, leap, other, behind }: Said, far: readonly number[]): Doubt {
  if (quantile(object, most) > reasons.unexplained) return 'covered';
  if (quantile(leap, nearlyAll) > reasons.leap) return 'leap';
  if (quantile(other, nearlyAll) > reasons.other || quantile(behind, most) > reasons.unexplained)
    return 'alike';
  if (quantile(far, nearlyAll) > reasons.endsDiffer) return 'ends differ';
  return 'soft';
}
