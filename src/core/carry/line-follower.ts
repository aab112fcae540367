import { evenOffsets } from '../edge/chain';
import type { EdgeLine } from '../edge/straight';
import { median } from '../numbers/quantile';
import { acrossTo } from './across';
import { likelyErrorsOn } from './likely-errors';
import type { LineModel } from './line-model';
import { confidenceOf, unsureFrom } from './confidence';
import { edgeGoesWithRight } from './object-side';
import type { Frames } from './frames';
import { type FollowSettings, usualSettings } from './follow-settings';
import { paceAt } from './pace';
import { acceptRun, expectRun, learnRun, lookForRun } from './run-follower';
import type { RunContext, RunSight, RunState } from './run-state';
import type { CameFrom } from './run-work';
import { SteadyFrames } from './steady-light';

/** A line on one frame as it was followed there. */
export interface Followed {
  frame: number;
  model: LineModel;
  /** For each run what the frame said of it. */
  sights: readonly RunSight[];
}

/** A line where it is known. */
export interface KnownLine {
  frame: number;
  model: LineModel;
}

/** Follows a whole line, run by run, from frame to frame in one direction. */
export class LineFollower {
  private runs: RunState[] = [];
  private frame = 0;
  private model!: LineModel;
  /** Where it was on the frame before. */
  private before: KnownLine | null = null;

  /** Steady in their light from the frame on at which it began. */
  private context: RunContext;

  constructor(
    private readonly frames: Frames,
    private readonly direction: 1 | -1,
    settings: FollowSettings = usualSettings,
    /** Whether the object's side of a run is not known beforehand: a loop may be the object or an opening. */
    private readonly eitherSide = false,
  ) {
    this.context = { frames, direction, settings };
  }

  /** For each run whether the object is on the right of it walked forward. */
  private flipped: boolean[] = [];

  /**
   * Begins at a frame where the line is known, or goes on from a frame that was put right.
   *
   * @param also another frame on which it is known: what it went from one to the other says how it goes on.
   */
  async begin(frame: number, model: LineModel, also: KnownLine | null = null): Promise<void> {
    const before = !also && this.frame === frame ? this.before : null;
    const other = also ?? before ?? (await this.seenBefore(frame, model));
    await this.learn(frame, model, other, before === null);
  }

  /** @param known whether `other` is more than what was found on the way. */
  private async learn(
    frame: number,
    model: LineModel,
    other: KnownLine | null,
    known: boolean,
  ): Promise<void> {
    this.context = { ...this.context, frames: new SteadyFrames(this.frames) };
    this.frame = frame;
    this.model = model;
    this.flipped = [];
    for (const { line } of model.runs)
      this.flipped.push(
        this.eitherSide && (await edgeGoesWithRight(this.context.frames, frame, this.direction, line)),
      );
    this.runs = [];
    for (const [r, { line }] of model.runs.entries()) {
      const own = this.faced(line, r);
      const came = this.cameFrom(other, r, known) ?? (await paceAt(this.context, frame, own));
      this.runs.push(await learnRun(this.context, frame, own, { came }));
    }
  }

  /** Goes one frame on; null at the end of the shot. */
  async step(): Promise<Followed | null> {
    const next = this.frame + this.direction;
    if (next < 0 || next >= this.frames.count) return null;
    const { context } = this;
    const expected = [];
    for (const [r, run] of this.runs.entries())
      expected.push(await expectRun(context, run, this.frame, this.faced(this.model.runs[r].line, r)));
    const sign = (r: number) => (this.flipped[r] ? -1 : 1);
    const model = this.model.moved(
      expected.map(({ map }) => map),
      expected.map(({ own }, r) => own.map((value) => value * sign(r))),
    );
    const looked = [];
    const offsets: Float64Array[] = [];
    const weights: Float64Array[] = [];
    for (const [r, run] of expected.entries()) {
      const { line, cameFrom } = model.runs[r];
      const seen = await lookForRun(context, run, next, this.faced(line, r), cameFrom);
      const { sight } = seen;
      looked.push(seen);
      offsets.push(
        evenOffsets(sight.belief, 0.35).map((value, i) => (value + (sight.leaps?.[i] ?? 0)) * sign(r)),
      );
      weights.push(likelyErrorsOn(sight).map((off) => (0.3 + off) ** -2));
    }
    const found = model.offset(offsets, weights);
    const accepted: RunState[] = [];
    for (const [r, run] of looked.entries()) {
      const line = this.faced(found.runs[r].line, r);
      const expectedLine = this.faced(model.runs[r].line, r);
      const across = acrossTo(expectedLine, line);
      accepted.push(await acceptRun(context, run, next, line, across));
    }
    this.runs = accepted;
    this.before = { frame: this.frame, model: this.model };
    this.frame = next;
    this.model = found;
    return { frame: next, model: found, sights: looked.map(({ sight }) => sight) };
  }

  /**
   * Where a line lies on the frame before the one on which it is known: it says how it goes on, and with that how it smears. Null where it
   * is not clear, and does not go on evenly there.
   */
  private async seenBefore(frame: number, model: LineModel): Promise<KnownLine | null> {
    const { settings } = this.context;
    const back = new LineFollower(this.frames, this.direction > 0 ? -1 : 1, settings, this.eitherSide);
    await back.learn(frame, model, null, false);
    const first = await back.step();
    if (!first || confidenceOf(first.sights).doubt < unsureFrom) return first;
    const second = await back.step();
    if (!second) return null;
    const { apart, leastApart } = settings.pace;
    const even = model.runs.every(({ line }, r) => {
      const [one, two] = [first, second].map((step) => step.model.runs[r].line);
      if (one.count !== line.count || two.count !== line.count) return false;
      const [by, next] = [median(acrossTo(line, one)), median(acrossTo(one, two))];
      return Math.abs(by - next) < Math.max(leastApart, apart * Math.abs(by));
    });
    return even ? first : null;
  }

  /** How a run came from where it is on another frame; null where its places are not the same. */
  private cameFrom(other: KnownLine | null, run: number, known: boolean): CameFrom | null {
    const line = this.faced(this.model.runs[run].line, run);
    const there = other?.model.runs[run]?.line;
    if (!other || there?.count !== line.count || other.frame === this.frame) return null;
    const frames = this.frame - other.frame;
    const by = (-median(acrossTo(line, there)) * this.direction) / frames;
    return { by, frames: Math.abs(frames), known };
  }

  private faced(line: EdgeLine, run: number): EdgeLine {
    return faced(line, this.flipped[run]);
  }
}

/** A run's line with its directions away from the object, which lies on its right if `flipped`. */
export function faced(line: EdgeLine, flipped: boolean): EdgeLine {
  if (!flipped) return line;
  const [inside, outside] = line.room;
  return { ...line, nx: line.nx.map((v) => -v), ny: line.ny.map((v) => -v), room: [outside, inside] };
}
