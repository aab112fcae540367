import { quantile } from '../quantile';
import type { Doubt } from '../document/rows';
import { evened } from './evened';
import type { RunSight } from './run-follower';

/** How sure the line is on a frame. */
export interface Confidence {
  /** Probability that it is more than 3 px off at some length, 0 to 1. */
  doubt: number;
  /** px by which each place of each run may be off. */
  places: Float64Array[];
  /** Null where the frame is sure. */
  reason: Doubt | null;
}

/** From this on a frame is unsure. */
export const unsureFrom = 0.5;

/** What the two directions said of a frame, px apart at each place; for a frame followed from one end only there is none. */
export type Disagreement = readonly Float64Array[] | null;

/**
 * How sure a followed frame is, from what the frame said of each run: the spread of the offset, the probability of
 * another one, what the picture beside it leaves unexplained, how far the edge was from where it was expected, how
 * rough it is; and from both ends, how far they disagree. The weights are a logistic regression over the bench's
 * passes (bench/passes), and belong to the followers' settings.
 */
export function confidenceOf(sights: readonly RunSight[], apart: Disagreement): Confidence {
  const all = { spread: [] as number[], other: [] as number[], leap: [] as number[], rough: [] as number[] };
  const [behind, object]: number[][] = [[], []];
  const places = sights.map(({ belief, behindError, objectError, seen, reach }, r) => {
    const visible = <V extends ArrayLike<number>>(values: V) =>
      Array.from(values).filter((_, i) => seen[i] === 1);
    const { mean, variance, doubt } = belief;
    const spread = evened(Float64Array.from(variance, Math.sqrt), 4);
    const other = evened(doubt, 4);
    const leap = evened(mean.map(Math.abs), 2);
    const run = evened(mean, 6);
    all.spread.push(...visible(spread));
    all.other.push(...visible(other));
    all.leap.push(...visible(leap));
    all.rough.push(...visible(mean.map((value, i) => Math.abs(value - run[i]))));
    behind.push(...visible(behindError));
    object.push(...visible(objectError));
    const off = apart ? evened(apart[r], 2) : null;
    return spread.map((value, i) => {
      if (off) return Math.max(value, off[i]);
      return Math.abs(mean[i]) > 0.9 * reach ? reach : value + 6 * other[i];
    });
  });
  // Where nothing of it is in the picture there is nothing to be wrong.
  if (all.spread.length < 4) return { doubt: 0, places, reason: null };
  const far = apart?.flatMap((run, r) => [...evened(run, 2)].filter((_, i) => sights[r].seen[i] === 1)) ?? [];
  const log = (values: readonly number[], share: number) => Math.log(0.05 + quantile(values, share));
  const spread = log(all.spread, 0.95);
  const other = log(all.other, 0.95);
  const leap = log(all.leap, 0.95);
  const rough = log(all.rough, 0.95);
  const unlike = log(behind, 0.9);
  const score = apart
    ? between.bias + between.apart * log(far, 0.95) + between.spread * spread
    : oneWay.bias +
      oneWay.spread * spread +
      oneWay.other * other +
      oneWay.leap * leap +
      oneWay.rough * rough +
      oneWay.unlike * unlike;
  // An edge at the end of what is looked at may lie anywhere beyond.
  const lost = sights.some(({ belief, seen, reach }) => {
    const at = belief.mean.filter((mean, i) => seen[i] === 1 && Math.abs(mean) > 0.9 * reach);
    return at.length > 0.04 * all.spread.length;
  });
  const doubt = 1 / (1 + Math.exp(-score - (lost ? 5 : 0)));
  const reason = doubt < unsureFrom ? null : reasonOf(all, behind, object, far);
  return { doubt, places, reason };
}

/** Weights of the logarithms; the bias is such that the chosen threshold lies at 0. */
const oneWay = { bias: -1.811 + 3.4, spread: 1.723, other: 0.756, leap: 1.053, rough: 0.67, unlike: 0.245 };
const between = { bias: -4.21 + 1.82, apart: 1.422, spread: 1.738 };

function reasonOf(
  all: { spread: number[]; other: number[]; leap: number[] },
  behind: readonly number[],
  object: readonly number[],
  far: readonly number[],
): Doubt {
  if (quantile(object, 0.8) > 12) return 'covered';
  if (quantile(all.leap, 0.95) > 6) return 'leap';
  if (quantile(all.other, 0.95) > 0.15 || quantile(behind, 0.8) > 12) return 'alike';
  if (quantile(far, 0.95) > 2.5) return 'ends differ';
  return 'soft';
}
