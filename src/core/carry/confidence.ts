import { evened } from './evened';
import type { RunSight } from './run-follower';

/** Why a frame is not sure, worst first counts. */
export type Doubt = 'covered' | 'soft' | 'alike' | 'leap' | 'ends differ';

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
  const places = sights.map(({ belief, behindError, objectError }, r) => {
    const { mean, variance, doubt } = belief;
    const spread = evened(Float64Array.from(variance, Math.sqrt), 4);
    const other = evened(doubt, 4);
    const leap = evened(mean.map(Math.abs), 2);
    const run = evened(mean, 6);
    all.spread.push(...spread);
    all.other.push(...other);
    all.leap.push(...leap);
    all.rough.push(...mean.map((value, i) => Math.abs(value - run[i])));
    behind.push(...behindError);
    object.push(...objectError);
    const off = apart ? evened(apart[r], 2) : null;
    return spread.map((value, i) => (off ? Math.max(value, off[i]) : value + 6 * other[i]));
  });
  (globalThis as any).__f = () => { const q = (v: readonly number[], s: number) => quantile(v, s); const ap = apart ? apart.flatMap((run) => [...evened(run, 2)]) : [0]; return [q(all.spread, .95), q(all.spread,.5), q(all.other, .95), q(sights.flatMap((g) => [...evened(Float64Array.from(g.misfit), 4)]), .95), q(all.leap, .95), q(behind, .9), q(object, .9), q(all.rough, .95), q(ap, .95), q(ap, .5), q(ap, .8)]; };
  (globalThis as any).__last = (globalThis as any).__f();
  const log = (values: readonly number[], share: number) => Math.log(0.05 + quantile(values, share));
  const spread = log(all.spread, 0.95);
  const other = log(all.other, 0.95);
  const leap = log(all.leap, 0.95);
  const rough = log(all.rough, 0.95);
  const unlike = log(behind, 0.9);
  const score = apart
    ? between.bias +
      between.apart * log(apart.flatMap((run) => [...evened(run, 2)]), 0.95) +
      between.spread * spread
    : oneWay.bias +
      oneWay.spread * spread +
      oneWay.other * other +
      oneWay.leap * leap +
      oneWay.rough * rough +
      oneWay.unlike * unlike;
  const doubt = 1 / (1 + Math.exp(-score));
  const reason = doubt < unsureFrom ? null : reasonOf(all, behind, object, apart);
  return { doubt, places, reason, feat: (globalThis as any).__last } as any;
}

/** Weights of the logarithms; the bias is such that the chosen threshold lies at 0. */
const oneWay = { bias: -1.811 + 3.4, spread: 1.723, other: 0.756, leap: 1.053, rough: 0.67, unlike: 0.245 };
const between = { bias: -4.21 + 1.82, apart: 1.422, spread: 1.738 };

function reasonOf(
  all: { spread: number[]; other: number[]; leap: number[] },
  behind: readonly number[],
  object: readonly number[],
  apart: Disagreement,
): Doubt {
  if (quantile(object, 0.8) > 12) return 'covered';
  if (quantile(all.leap, 0.95) > 6) return 'leap';
  if (quantile(all.other, 0.95) > 0.15 || quantile(behind, 0.8) > 12) return 'alike';
  if (apart && quantile(apart.flatMap((run) => [...run]), 0.95) > 2.5) return 'ends differ';
  return 'soft';
}

function quantile(values: readonly number[], share: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}
