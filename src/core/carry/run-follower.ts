import type { EdgeLine } from '../edge/straight';
import type { Affine } from '../geometry/affine';
import type { RunSight, RunState, RunContext } from './run-state';
import { type CameFrom, RunWork } from './run-work';

/** What is known of a run, with where it is expected on the next frame. */
export interface RunExpected {
  readonly expected: RunState;
  readonly map: Affine;
  readonly own: Float64Array;
}

/** What is known of a run that has been looked for on a frame, and is not accepted there yet. */
export interface RunLooked {
  readonly looked: RunState;
  readonly sight: RunSight;
}

/**
 * Learns a run on a frame where it is known.
 *
 * @param exactly whether it lies on the edge: only then its softness is learnt.
 * @param came how it came there from another frame, or will go on; null where that is not known.
 */
export async function learnRun(
  context: RunContext,
  frame: number,
  line: EdgeLine,
  { exactly = true, came = null }: { exactly?: boolean; came?: CameFrom | null } = {},
): Promise<RunState> {
  const work = new RunWork(context, null);
  await work.learn(frame, line, exactly, came);
  return work.state();
}

/**
 * Looks for the edge about a line that is `off` px from it at most, with nothing remembered of the object.
 *
 * @param near whether the line is as good as on the edge: only then softness is learnt.
 */
export async function lookAfresh(
  context: RunContext,
  frame: number,
  line: EdgeLine,
  { off, near }: { off: number; near: boolean },
): Promise<RunSight> {
  return new RunWork(context, null).lookAfresh(frame, line, off, near);
}

/**
 * The first part of a step: how the run is expected to move to the next frame.
 *
 * @param frame on which it is known. @param line where it lies there.
 */
export async function expectRun(
  context: RunContext,
  state: RunState,
  frame: number,
  line: EdgeLine,
): Promise<RunExpected> {
  const work = new RunWork(context, state);
  const { map, own } = await work.expectation(frame, line);
  return { expected: work.state(), map, own };
}

/**
 * The second part: looks for the edge at `frame` about `line`.
 *
 * @param cameFrom for each of the line's places the place on the frame before that it was, as a fraction.
 */
export async function lookForRun(
  context: RunContext,
  { expected }: RunExpected,
  frame: number,
  line: EdgeLine,
  cameFrom: Float64Array,
): Promise<RunLooked> {
  const work = new RunWork(context, expected);
  const sight = await work.lookWide(frame, line, cameFrom);
  return { looked: work.state(), sight };
}

/** The last part: takes over the line as it lies now, and how far off the expectation that was, px across it. */
export async function acceptRun(
  context: RunContext,
  { looked }: RunLooked,
  frame: number,
  line: EdgeLine,
  offsets: Float64Array,
): Promise<RunState> {
  const work = new RunWork(context, looked);
  await work.accept(frame, line, offsets);
  return work.state();
}
