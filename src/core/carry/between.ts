import { acrossTo } from './across';
import { heldToArrivals } from './arrivals';
import { confidenceBetween, confidenceOf, type Confidence } from './confidence';
import { evenCourse, type Witness } from './course';
import { movingMean } from '../numbers/moving-mean';
import { likelyErrors } from './likely-errors';
import { type Followed, type KnownLine, LineFollower } from './line-follower';
import type { LineModel } from './line-model';
import type { Frames } from './frames';
import { usualSettings } from './follow-settings';
import type { RunSight } from './run-state';

type Point = [x: number, y: number];

/** A frame that was carried: the line there and how sure it is. */
export interface Carried {
  frame: number;
  model: LineModel;
  confidence: Confidence;
}

/** Follows from a known frame in one direction until the shot ends; yields each frame as it is done. */
export async function* carryOneWay(
  frames: Frames,
  from: { frame: number; model: LineModel },
  direction: 1 | -1,
  eitherSide: boolean,
): AsyncGenerator<Carried> {
  const follower = new LineFollower(frames, direction, usualSettings, eitherSide);
  await follower.begin(from.frame, from.model);
  for (;;) {
    const step = await follower.step();
    if (!step) return;
    yield { frame: step.frame, model: step.model, confidence: confidenceOf(step.sights) };
  }
}

/** Number of known lines whose followings are cached. */
const mostKept = 8;

/**
 * What was followed from known lines, kept: when a frame between two is put right, what leads up to it from either side
 * has been followed already.
 */
export class Followings {
  private readonly kept = new Map<string, { follower: LineFollower; steps: Followed[] }>();

  constructor(
    private readonly frames: Frames,
    private readonly eitherSide: boolean,
  ) {}

  /** @param to where it is known next. @param told of each frame between, whether it was followed now or before. */
  async from({ frame, model }: KnownLine, to: KnownLine, told: () => void): Promise<Followed[]> {
    const direction = to.frame > frame ? 1 : -1;
    const count = Math.abs(to.frame - frame) - 1;
    const places = model.runs.map(({ line }) => line.count);
    // The same line may come by another way, and differ by a rounding.
    const points = model
      .points()
      .flat()
      .map((value) => value.toFixed(6));
    const key = [frame, direction, ...places, ...points].join(' ');
    let known = this.kept.get(key);
    // While it is followed nobody else has it.
    this.kept.delete(key);
    if (!known) {
      known = {
        follower: new LineFollower(this.frames, direction, usualSettings, this.eitherSide),
        steps: [],
      };
      await known.follower.begin(frame, model, to);
    }
    for (let k = 0; k < count; k++) {
      if (k >= known.steps.length) {
        const step = await known.follower.step();
        if (!step) break;
        known.steps.push(step);
      }
      try {
        told();
      } catch (stopped) {
        this.keep(key, known);
        throw stopped;
      }
    }
    this.keep(key, known);
    return known.steps.slice(0, count);
  }

  private keep(key: string, known: { follower: LineFollower; steps: Followed[] }): void {
    this.kept.set(key, known);
    // Evict the least recently used one.
    if (this.kept.size > mostKept) this.kept.delete(this.kept.keys().next().value!);
  }
}

/**
 * Carries between two known frames: from both, joined into the course that both and the known frames lead to.
 *
 * @param told of each frame followed, 0 to 1 in all.
 */
export async function carryBetween(
  followings: Followings,
  from: { frame: number; model: LineModel },
  to: { frame: number; model: LineModel },
  told: (share: number) => void = () => undefined,
): Promise<Carried[]> {
  const count = to.frame - from.frame - 1;
  if (count < 1) return [];
  let done = 0;
  const one = () => told(++done / (2 * count));
  const model = from.model.denseFor(to.model);
  const start = { frame: from.frame, model };
  const end = { frame: to.frame, model: model.through(to.model.points()) };
  const forward = await followings.from(start, end, one);
  return joined(start, end, forward, await followings.from(end, start, one));
}

/**
 * Both directions' lines joined into one course between the known frames.
 *
 * @param forward followed from the first known frame, and `back` from the second, each in its own order.
 */
function joined(
  from: { frame: number; model: LineModel },
  to: { frame: number; model: LineModel },
  forward: readonly Followed[],
  back: readonly Followed[],
): Carried[] {
  const ends = [from.model.points(), to.model.points()];
  const even = forward.map((_, k) =>
    from.model.through(mixed(ends[0], ends[1], (k + 1) / (forward.length + 1))),
  );
  const backward = back.slice().reverse();
  const errorsOf = (steps: readonly Followed[]) => likelyErrors(steps.map(({ sights }) => sights));
  const errors = [errorsOf(forward), errorsOf(back).reverse()];
  const courses = from.model.runs.map((_, r) => {
    const witnesses = [forward, backward].map((steps, w): Witness => ({
      offsets: steps.map(({ model }, t) => acrossTo(even[t].runs[r].line, model.runs[r].line)),
      errors: errors[w].map((runs) => runs[r]),
    }));
    return { witnesses, held: heldToArrivals(witnesses[0], witnesses[1]), course: evenCourse(witnesses) };
  });
  return forward.map(({ frame, sights }, t) => {
    const offsets = courses.map(({ course }) => course[t]);
    const weights = courses.map(({ witnesses, course }) =>
      movingMean(offBy(witnesses, course[t], t), 2).map((off) => (0.3 + off) ** -2),
    );
    const model = even[t].offset(offsets, weights);
    // A loop's shape goes along only as far as it can.
    const off = courses.map(({ held }, r) =>
      offBy(held, acrossTo(even[t].runs[r].line, model.runs[r].line), t),
    );
    const apart = courses.map(({ witnesses: [a, b] }) =>
      a.offsets[t].map((value, i) => Math.abs(value - b.offsets[t][i])),
    );
    const surest = sights.map((sight, r) => surer(sight, backward[t].sights[r]));
    return { frame, model, confidence: confidenceBetween(surest, off, apart) };
  });
}

function mixed(a: readonly Point[], b: readonly Point[], share: number): Point[] {
  return a.map(([x, y], k) => [x + (b[k][0] - x) * share, y + (b[k][1] - y) * share]);
}

/** px by which each place may be off: as the witness that bears it out best says. */
function offBy(witnesses: readonly Witness[], at: Float64Array, t: number): Float64Array {
  return at.map((value, i) =>
    Math.min(...witnesses.map(({ offsets, errors }) => Math.abs(value - offsets[t][i]) + 0.5 * errors[t][i])),
  );
}

/** For each place, the reading of the direction that explained the picture better. */
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
