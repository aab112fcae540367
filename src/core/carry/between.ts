import { confidenceOf, type Confidence } from './confidence';
import { chainBelief, evenOffsets, weightsOf } from '../edge/chain';
import type { EdgeLine } from '../edge/straight';
import { evened } from './evened';
import { type Followed, LineFollower } from './line-follower';
import type { LineModel } from './line-model';
import type { Frames } from './frames';
import { type FollowSettings, type RunSight, usualSettings } from './run-follower';

/** px apart at which the less trusted direction counts for clearly less. */
const undecided = 2;
/** Steps to either side in which a joined line is solved again. */
const resolved = 12;

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
  return forward.map((step, k) =>
    joined(step, aheadTrust[k], backward[k], backTrust[k], settings, Math.min(k + 1, count - k)),
  );
}

/**
 * A frame from both ends: where they differ by little, what either found out of the frame is weighed together and the
 * line solved again; where by much, the one that is to be trusted more stands.
 *
 * @param aheadTrust of each run's places, and `backTrust` alike.
 */
function joined(
  ahead: Followed,
  aheadTrust: Float64Array[],
  back: Followed,
  backTrust: Float64Array[],
  settings: FollowSettings,
  gap: number,
): Carried {
  const apart: Float64Array[] = [];
  const [offsets, weights]: Float64Array[][] = [[], []];
  const sights = ahead.sights.map((sight, r) => {
    const { line } = ahead.model.runs[r];
    const other = back.model.runs[r].line;
    const way = line.x.map((x, i) => (other.x[i] - x) * line.nx[i] + (other.y[i] - line.y[i]) * line.ny[i]);
    apart.push(way.map(Math.abs));
    const [a, b] = [aheadTrust[r], backTrust[r]];
    const share = evened(
      a.map((value, i) => 1 / (1 + (value / b[i]) ** (1 + Math.abs(way[i]) / undecided))),
      2,
    );
    const step = Math.max(sight.grain, back.sights[r].grain) / 2;
    const centre = way.map((value, i) => Math.round((value * share[i]) / step) * step);
    const { belief, misfit } = weighed([sight, back.sights[r]], [a, b], line, centre, step, settings);
    offsets.push(evenOffsets(belief, 0.35));
    weights.push(weightsOf(belief));
    return { ...sight, belief, misfit };
  });
  return {
    frame: ahead.frame,
    model: ahead.model.offset(offsets, weights),
    confidence: confidenceOf(sights, apart, gap),
  };
}

/** Where a line lies, about `centre` at each place, by the costs of both directions. */
function weighed(
  sights: readonly [RunSight, RunSight],
  trust: readonly [Float64Array, Float64Array],
  line: EdgeLine,
  centre: Float64Array,
  step: number,
  settings: FollowSettings,
) {
  const offsets = 2 * resolved + 1;
  const costs = new Float32Array(line.count * offsets);
  for (const [s, sight] of sights.entries()) {
    const { costs: own, half, grain, line: from } = sight;
    const wide = 2 * half + 1;
    for (let i = 0; i < line.count; i++) {
      const weight = (1.2 * trust[s][i]) / (trust[0][i] + trust[1][i]);
      // Directions may be opposite where either side could be the object.
      const same = line.nx[i] * from.nx[i] + line.ny[i] * from.ny[i] < 0 ? -1 : 1;
      const off = (line.x[i] - from.x[i]) * from.nx[i] + (line.y[i] - from.y[i]) * from.ny[i];
      let mean = 0;
      for (let k = 0; k < wide; k++) mean += own[i * wide + k] / wide;
      for (let k = 0; k < offsets; k++) {
        const at = (off + same * (centre[i] + (k - resolved) * step)) / grain + half;
        const below = Math.floor(at);
        const share = at - below;
        const cost =
          at < 0 || below + 1 >= wide
            ? mean
            : own[i * wide + below] * (1 - share) + own[i * wide + below + 1] * share;
        costs[i * offsets + k] += weight * cost;
      }
    }
  }
  const belief = chainBelief(costs, line.count, offsets, step, settings, centre);
  return { belief, misfit: sights[0].misfit.map((value, i) => Math.min(value, sights[1].misfit[i])) };
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
