import { confidenceOf, type Confidence } from './confidence';
import { evened } from './evened';
import { type Followed, LineFollower } from './line-follower';
import type { LineModel } from './line-model';
import type { Frames } from './frames';
import { type FollowSettings, type RunSight, usualSettings } from './run-follower';

/** A frame that was carried: the line there and how sure it is. */
export interface Carried {
  frame: number;
  model: LineModel;
  confidence: Confidence;
}

/** Follows from a known frame in one direction until `until` says so or the shot ends; yields each frame as it is done. */
export async function* carryOneWay(
  frames: Frames,
  from: { frame: number; model: LineModel },
  direction: 1 | -1,
  eitherSide: boolean,
  settings: FollowSettings = usualSettings,
): AsyncGenerator<Carried> {
  const follower = new LineFollower(frames, direction, settings, eitherSide);
  await follower.begin(from.frame, from.model);
  for (;;) {
    const step = await follower.step();
    if (!step) return;
    yield { frame: step.frame, model: step.model, confidence: confidenceOf(step.sights, null) };
  }
}

/**
 * Carries between two known frames: from both, joined place by place by how sure each direction is there.
 *
 * @param told of each frame followed, 0 to 1 in all.
 */
export async function carryBetween(
  frames: Frames,
  from: { frame: number; model: LineModel },
  to: { frame: number; model: LineModel },
  eitherSide: boolean,
  told: (share: number) => void = () => undefined,
  settings: FollowSettings = usualSettings,
): Promise<Carried[]> {
  const count = to.frame - from.frame - 1;
  if (count < 1) return [];
  let done = 0;
  const follow = async (start: typeof from, direction: 1 | -1) => {
    const follower = new LineFollower(frames, direction, settings, eitherSide);
    await follower.begin(start.frame, start.model);
    const steps: Followed[] = [];
    for (let k = 0; k < count; k++) {
      const step = await follower.step();
      if (!step) break;
      steps.push(step);
      told(++done / (2 * count));
    }
    return steps;
  };
  const forward = await follow(from, 1);
  const backward = (await follow(to, -1)).reverse();
  const aheadTrust = trusts(forward);
  const backTrust = trusts(backward.slice().reverse()).reverse();
  return forward.map((step, k) => joined(step, aheadTrust[k], backward[k], backTrust[k]));
}

/** @param aheadTrust of each run's places, and `backTrust` alike. */
function joined(
  ahead: Followed,
  aheadTrust: Float64Array[],
  back: Followed,
  backTrust: Float64Array[],
): Carried {
  const apart: Float64Array[] = [];
  const offsets = ahead.model.runs.map(({ line }, r) => {
    const other = back.model.runs[r].line;
    const way = line.x.map((x, i) => (other.x[i] - x) * line.nx[i] + (other.y[i] - line.y[i]) * line.ny[i]);
    apart.push(way.map(Math.abs));
    const [a, b] = [aheadTrust[r], backTrust[r]];
    const share = evened(
      a.map((value, i) => b[i] / (value + b[i])),
      2,
    );
    return way.map((value, i) => value * share[i]);
  });
  const weights = offsets.map((run) => new Float64Array(run.length).fill(1));
  const sights = ahead.sights.map((sight, r) => surer(sight, back.sights[r]));
  return {
    frame: ahead.frame,
    model: ahead.model.offset(offsets, weights),
    confidence: confidenceOf(sights, apart),
  };
}

/**
 * How much a direction counts at each place of each run, step by step: what was unsure or unexplained on the way is not
 * made good later, so it adds up.
 */
function trusts(steps: readonly Followed[]): Float64Array[][] {
  let sums: Float64Array[] = [];
  return steps.map(({ sights }) => {
    sums = sights.map(({ belief, misfit }, r) => {
      const now = belief.variance.map(
        (variance, i) => 0.3 * variance + 2 * belief.doubt[i] + 0.5 * Math.max(0, misfit[i] - 1.5),
      );
      const near = evened(now, 2);
      return near.map((value, i) => value + (sums[r]?.[i] ?? 0.1));
    });
    return sums.map((run) => run.map((sum) => sum ** -2));
  });
}

/** Place by place what the direction said that left less unexplained. */
function surer(a: RunSight, b: RunSight): RunSight {
  const pick = (one: Float64Array, two: Float64Array) =>
    one.map((value, i) => (a.misfit[i] <= b.misfit[i] ? value : two[i]));
  return {
    ...a,
    belief: {
      mean: pick(a.belief.mean, b.belief.mean),
      variance: pick(a.belief.variance, b.belief.variance),
      doubt: pick(a.belief.doubt, b.belief.doubt),
    },
  };
}
