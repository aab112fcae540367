import { quantile } from '../numbers/quantile';
import type { Doubt } from '../model/choices';
import { movingMean } from '../numbers/moving-mean';
import type { RunSight } from './run-state';

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
/** Share of a line that may leap from one frame to the next before that alone is unsure. */
const mostLeaps = 0.5;
/** Places that must be in the picture: where nothing of the line is, there is nothing to be wrong. */
const fewest = 4;

/**
 * How sure a frame is that was followed from one end, from what the frame said of each run: the spread of the offset,
 * the probability of another one, what the picture beside it leaves unexplained, how far the edge was from where it was
 * expected, how rough it is. The weights are a logistic regression over the bench's passes (bench/passes), and belong
 * to the followers' settings.
 */
export function confidenceOf(sights: readonly RunSight[]): Confidence {
  const said = saidBy(sights);
  const places = sights.map(({ belief, reach }) => {
    const spread = movingMean(Float64Array.from(belief.variance, Math.sqrt), 4);
    const other = movingMean(belief.doubt, 4);
    return spread.map((value, i) => (Math.abs(belief.mean[i]) > 0.9 * reach ? reach : value + 6 * other[i]));
  });
  if (said.spread.length < fewest) return { doubt: 0, places, reason: null };
  const log = (values: readonly number[], share: number) => Math.log(0.05 + quantile(values, share));
  const score =
    oneWay.bias +
    oneWay.spread * log(said.spread, 0.95) +
    oneWay.other * log(said.other, 0.95) +
    oneWay.leap * log(said.leap, 0.95) +
    oneWay.rough * log(said.rough, 0.95) +
    oneWay.unlike * log(said.behind, 0.9);
  // An edge at the end of the search range may lie anywhere beyond it.
  const lost = sights.some(({ belief, seen, reach }) => {
    const at = belief.mean.filter((mean, i) => seen[i] === 1 && Math.abs(mean) > 0.9 * reach);
    return at.length > 0.04 * said.spread.length;
  });
  // A limb may come out; that all of the line is elsewhere is to be looked at.
  const gone = sights.some(({ leaps, seen, reach }) => {
    const far = leaps?.filter((by, i) => seen[i] === 1 && Math.abs(by) > reach) ?? [];
    return far.length > mostLeaps * said.spread.length;
  });
  const doubt = logistic(score + (lost || gone ? 5 : 0));
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
  const doubt = logistic(between.off * Math.log((0.05 + quantile(seen, 0.95)) / between.even));
  if (doubt < unsureFrom) return { doubt, places, reason: null };
  return {
    doubt,
    places,
    reason: reasonOf(saidBy(sights), inPicture(apart.map((run) => movingMean(run, 2)))),
  };
}

/** Shares of the places that a reason is told by. */
const [most, nearlyAll] = [0.8, 0.95];
/**
 * From where on a doubt has a reason: code values that a side is not explained by, px off the expectation, the share of
 * belief in another place, px between the two directions. By eye, on the drawn passes.
 */
const reasons = { unexplained: 12, leap: 6, other: 0.15, endsDiffer: 2.5 };
/** Weights of the logarithms; the bias is such that the chosen threshold lies at 0. */
const oneWay = { bias: 0.739, spread: 1.723, other: 0.756, leap: 1.053, rough: 0.67, unlike: 0.245 };
/** px that one place in twenty may be off where a frame is as likely unsure as sure. */
const between = { even: 3.2, off: 1.12 };

function logistic(score: number): number {
  return 1 / (1 + Math.exp(-score));
}

/** What the frame said of the places in the picture, as moving means along the line. */
interface Said {
  spread: number[];
  other: number[];
  leap: number[];
  rough: number[];
  behind: number[];
  object: number[];
}

function saidBy(sights: readonly RunSight[]): Said {
  const said: Said = { spread: [], other: [], leap: [], rough: [], behind: [], object: [] };
  for (const { belief, behindError, objectError, seen } of sights) {
    const visible = (values: ArrayLike<number>) => Array.from(values).filter((_, i) => seen[i] === 1);
    const { mean, variance, doubt } = belief;
    const run = movingMean(mean, 6);
    said.spread.push(...visible(movingMean(Float64Array.from(variance, Math.sqrt), 4)));
    said.other.push(...visible(movingMean(doubt, 4)));
    said.leap.push(...visible(movingMean(mean.map(Math.abs), 2)));
    said.rough.push(...visible(mean.map((value, i) => Math.abs(value - run[i]))));
    said.behind.push(...visible(behindError));
    said.object.push(...visible(objectError));
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
