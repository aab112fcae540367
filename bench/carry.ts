import path from 'node:path';
import { type Carried, carryBetween, Followings } from '../src/core/carry/between';
import { confidenceOf, unsureFrom } from '../src/core/carry/confidence';
import { LineFollower } from '../src/core/carry/line-follower';
import { type LineModel, LoopModel, SeamModel } from '../src/core/carry/line-model';
import type { Frames } from '../src/core/carry/frames';
import { quantile } from '../src/core/numbers/quantile';
import { passesIn, type PassTruth, readClip, readTruth } from './clip-frames';
import { demoPasses } from './demo-passes';
import { flowReference } from './flow-reference';
import { drawnPasses } from './passes/make';
import { passes } from './passes/passes';
import type { Pass } from './passes/shapes';
import type { Figure } from './figure';

/** px of the 95th percentile of distances from which a frame counts as touched. */
export const tooFar = 3;
const spacing = 4;

/** The bench's own passes by what is hard about them, and those that the finder was not made with. */
const kinds: readonly [name: string, are: (pass: Pass) => boolean | undefined][] = [
  ['plain', ({ hard }) => !hard],
  ['flicker, limbs, shadows, second movers', ({ hard }) => hard],
  ['kept apart', ({ apart }) => apart],
];

/** One frame held against the truth. */
export interface Held {
  error: number;
  doubt: number;
  distances: number[];
}

export interface PassResult {
  name: string;
  touched: number;
  /** The same from the last frame backward. */
  touchedBack: number;
  carried: number;
  putRight: number;
  between: number;
  /** Protocol 1's, forward and back, and protocol 2's first round's frames. */
  held: Held[];
  /** Sums of the second differences over time, px, of the line carried between poses and of the truth on the same rows. */
  turns: { carried: number; truth: number };
  oneWayMs: number;
  bothWaysMs: number;
}

/** Several takes of a pass as one. */
export function joinedResult(name: string, takes: readonly PassResult[]): PassResult {
  const sum = (of: (take: PassResult) => number) => takes.reduce((all, take) => all + of(take), 0);
  const carried = sum((take) => take.carried);
  return {
    name,
    ...{ carried, touched: sum((take) => take.touched), touchedBack: sum((take) => take.touchedBack) },
    ...{ putRight: sum((take) => take.putRight), between: sum((take) => take.between) },
    held: takes.flatMap(({ held }) => held),
    turns: { carried: sum(({ turns }) => turns.carried), truth: sum(({ turns }) => turns.truth) },
    oneWayMs: sum((take) => take.oneWayMs * take.carried) / carried,
    bothWaysMs: sum((take) => take.bothWaysMs * take.carried) / carried,
  };
}

/**
 * `npm run bench -- carry [FOLDER]`: the bench's passes, a folder of passes, or the demo's shots (`demo`), each traced by
 * the two protocols:
 * 1. the first pose from the truth, carried forward; a frame over 3 px is touched and put right before going on; and the last one back;
 * 2. the first, middle and last pose from the truth, carried between; flagged frames are put right, worst first,
 *    each followed by carrying again, until none is over 3 px.
 */
export async function benchCarry(folder: string | null): Promise<Figure[]> {
  const place = folder === 'demo' ? demoPasses() : (folder ?? (await drawnPasses()));
  const names = passesIn(place);
  const results: PassResult[] = [];
  // One after the other: a time beside another one's work would not be its own.
  for (const name of names) {
    const result = await heldAgainstTruth(name, path.join(place, name));
    results.push(result);
    console.log(lineOf(result.name, [result]));
  }
  if (!folder)
    for (const [kind, are] of kinds) {
      const of = new Set(passes.filter(are).map(({ name }) => name));
      console.log(
        lineOf(
          `carry, ${kind}`,
          results.filter(({ name }) => of.has(name)),
        ),
      );
    }
  const reference = await flowReference(
    readClip(path.join(place, names[0]), readTruth(path.join(place, names[0]))).pictures,
  );
  console.log(`OpenCV's flow and homography of as many points: ${reference.toFixed(0)} ms a frame`);
  const twoWays = results.reduce((sum, { bothWaysMs }) => sum + bothWaysMs, 0) / results.length;
  console.log(`both ways: ${twoWays.toFixed(0)} ms a frame`);
  console.log(lineOf('carry, all', results));
  // Of the bench's own passes; others have no bound.
  return folder ? [] : bounded(results, twoWays, reference);
}

/** What of all passes has a bound. @param twoWays, reference ms a frame of following both ways, and of OpenCV's. */
function bounded(results: readonly PassResult[], twoWays: number, reference: number): Figure[] {
  const mean = (of: (result: PassResult) => number) =>
    (100 * results.reduce((sum, result) => sum + of(result), 0)) / results.length;
  const held = results.flatMap((result) => result.held);
  const good = held.filter(({ error }) => error <= tooFar);
  const distances = held.flatMap((frame) => frame.distances);
  const falselyFlagged = good.filter(({ doubt }) => doubt >= unsureFrom).length;
  const touched = mean((result) => result.touched / result.carried);
  const back = mean((result) => result.touchedBack / result.carried);
  const putRight = mean((result) => result.putRight / result.between);
  return [
    { name: 'carry: touched', value: touched, unit: '%', atMost: 5 },
    { name: 'carry: touched, backward', value: back, unit: '%', atMost: 5 },
    { name: 'carry: put right', value: putRight, unit: '%', atMost: 7 },
    { name: 'carry: p95', value: quantile(distances, 0.95), unit: 'px', atMost: 1.5 },
    {
      name: 'carry: flagged without need',
      value: (100 * falselyFlagged) / good.length,
      unit: '%',
      atMost: 15,
    },
    {
      name: 'carry: both ways',
      value: twoWays,
      unit: 'ms a frame',
      reference: { name: 'OpenCV’s flow and homography', value: reference },
      atMost: 1,
    },
  ];
}

export async function heldAgainstTruth(name: string, folder: string): Promise<PassResult> {
  const pass = readTruth(folder);
  const clip = readClip(folder, pass);
  const frames = wholeInFrame(pass, clip.count);
  const first = modelOf(pass, frames[0]);
  const one = await protocolOne(pass, clip, frames, first);
  const back = frames.slice().reverse();
  const two = await protocolTwo(pass, clip, frames, first);
  const other = await protocolOne(pass, clip, back, first.through(pointsOf(pass, back[0])));
  return {
    name,
    ...one,
    ...two,
    touchedBack: other.touched,
    held: [...one.held, ...other.held, ...two.held],
  };
}
/** Whether an edge is in the picture from end to end, off its borders. */
export const isWhole = ({ width }: PassTruth, points: readonly [number, number][]) =>
  points.every(([x]) => x >= 50 && x <= width - 50);

/** The longest stretch of frames in which the whole edge is in the picture. */
export function wholeInFrame(pass: PassTruth, count: number): number[] {
  const whole = (t: number) => t < count && pass.truth[t]?.length > 0 && isWhole(pass, pass.truth[t]);
  let longest: number[] = [];
  let stretch: number[] = [];
  for (let t = 0; t < count; t++) {
    stretch = whole(t) ? [...stretch, t] : [];
    if (stretch.length > longest.length) longest = stretch;
  }
  return longest;
}

/** The truth as a line: a seam runs so that what it sweeps lies on its right. */
export function pointsOf(pass: PassTruth, frame: number): [number, number][] {
  const points = pass.truth[frame];
  return pass.kind === 'seam' && pass.side === 'right' ? points.slice().reverse() : points;
}

export function modelOf(pass: PassTruth, frame: number): LineModel {
  const points = pointsOf(pass, frame);
  return pass.kind === 'seam' ? SeamModel.along(points, spacing) : LoopModel.around(points, spacing);
}

async function protocolOne(pass: PassTruth, clip: Frames, frames: number[], first: LineModel) {
  const direction = frames[0] < frames[frames.length - 1] ? 1 : -1;
  const follower = new LineFollower(clip, direction, undefined, pass.kind === 'loop');
  const held: Held[] = [];
  let touched = 0;
  let spent = 0;
  const timed = async <T>(work: Promise<T>): Promise<T> => {
    const begun = performance.now();
    const result = await work;
    spent += performance.now() - begun;
    return result;
  };
  await timed(follower.begin(frames[0], first));
  for (const t of frames.slice(1)) {
    const step = await timed(follower.step());
    if (!step) break;
    const against = distancesTo(pass, t, step.model);
    held.push({ ...against, doubt: confidenceOf(step.sights).doubt });
    if (against.error <= tooFar) continue;
    touched++;
    await timed(follower.begin(t, first.through(pointsOf(pass, t))));
  }
  return { touched, carried: frames.length - 1, held, oneWayMs: spent / (frames.length - 1) };
}

async function protocolTwo(pass: PassTruth, clip: Frames, frames: number[], first: LineModel) {
  const at = (t: number) => ({ frame: t, model: first.through(pointsOf(pass, t)) });
  const known = [frames[0], frames[frames.length >> 1], frames[frames.length - 1]];
  const found = new Map<number, Carried>();
  const followings = new Followings(clip, pass.kind === 'loop');
  let [spent, carriedFrames] = [0, 0];
  const carry = async (from: number, to: number) => {
    const begun = performance.now();
    for (const frame of await carryBetween(followings, at(from), at(to))) {
      found.set(frame.frame, frame);
      carriedFrames++;
    }
    spent += performance.now() - begun;
  };
  await carry(known[0], known[1]);
  await carry(known[1], known[2]);
  const between = found.size;
  const errors = new Map<number, number>();
  const hold = () => {
    const held: Held[] = [];
    for (const { frame, model, confidence } of found.values()) {
      const against = distancesTo(pass, frame, model);
      errors.set(frame, against.error);
      held.push({ ...against, doubt: confidence.doubt });
    }
    return held;
  };
  const held = hold();
  const turns = secondDifferences(known, found, (t) => first.through(pointsOf(pass, t)));
  let putRight = 0;
  while ([...found.keys()].some((t) => errors.get(t)! > tooFar)) {
    const [worst] = [...found.values()].sort((a, b) => b.confidence.doubt - a.confidence.doubt);
    found.delete(worst.frame);
    putRight++;
    known.push(worst.frame);
    known.sort((a, b) => a - b);
    const k = known.indexOf(worst.frame);
    await carry(known[k - 1], worst.frame);
    await carry(worst.frame, known[k + 1]);
    hold();
  }
  return { putRight, between, held, turns, bothWaysMs: spent / Math.max(1, carriedFrames) };
}

/** px of second difference over time, summed over the points of three frames each of which the middle one was carried. */
function secondDifferences(
  known: readonly number[],
  found: ReadonlyMap<number, Carried>,
  truth: (frame: number) => LineModel,
): PassResult['turns'] {
  const turns = { carried: 0, truth: 0 };
  const at = (frame: number) => (known.includes(frame) ? truth(frame) : found.get(frame)?.model);
  const turn = ([a, b, c]: readonly LineModel[]) => {
    const [before, now, after] = [a.points(), b.points(), c.points()];
    return now.reduce(
      (sum, [x, y], i) =>
        sum + Math.hypot(before[i][0] - 2 * x + after[i][0], before[i][1] - 2 * y + after[i][1]),
      0,
    );
  };
  for (const frame of found.keys()) {
    const three = [at(frame - 1), at(frame), at(frame + 1)];
    if (three.some((model) => !model)) continue;
    turns.carried += turn(three as LineModel[]);
    turns.truth += turn([frame - 1, frame, frame + 1].map(truth));
  }
  return turns;
}

/** Distances, px, of the line from the truth, as far as it is in the picture, and their 95th percentile. */
export function distancesTo(pass: PassTruth, frame: number, model: LineModel): Omit<Held, 'doubt'> {
  const truth = pass.truth[frame];
  const distances: number[] = [];
  for (const { line } of model.runs)
    for (let i = 0; i < line.count; i++) {
      if (line.y[i] < 0 || line.y[i] > pass.height) continue;
      distances.push(toPolyline(line.x[i], line.y[i], truth, pass.kind === 'loop'));
    }
  distances.sort((a, b) => a - b);
  return { error: quantile(distances, 0.95), distances };
}

/** px from a place to a line. */
export function toPolyline(x: number, y: number, line: readonly [number, number][], closed: boolean): number {
  let least = Infinity;
  for (let k = 0; k + (closed ? 0 : 1) < line.length; k++) {
    const [ax, ay] = line[k];
    const [bx, by] = line[(k + 1) % line.length];
    const [dx, dy] = [bx - ax, by - ay];
    const share = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    least = Math.min(least, (x - ax - share * dx) ** 2 + (y - ay - share * dy) ** 2);
  }
  return Math.sqrt(least);
}

/** Shares are means over the passes, so that a long one counts no more; distances, flags and times are over all frames. */
export function lineOf(name: string, results: readonly PassResult[]): string {
  const mean = (of: (result: PassResult) => number) =>
    results.reduce((sum, result) => sum + of(result), 0) / results.length;
  const held = results.flatMap((result) => result.held);
  const distances = Float64Array.from(held.flatMap((frame) => frame.distances)).sort();
  const wrong = held.filter(({ error }) => error > tooFar);
  const good = held.filter(({ error }) => error <= tooFar);
  const flagged = (frames: readonly Held[]) =>
    frames.length === 0
      ? '–'
      : `${((100 * frames.filter(({ doubt }) => doubt >= unsureFrom).length) / frames.length).toFixed(0)} %`;
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
  return [
    `${name}: touched ${percent(mean(({ touched, carried }) => touched / carried))}, backward ${percent(mean(({ touchedBack, carried }) => touchedBack / carried))} (1)`,
    `put right ${percent(mean(({ putRight, between }) => putRight / between))} (2)`,
    `median ${quantile(distances, 0.5).toFixed(2)} px`,
    `p95 ${quantile(distances, 0.95).toFixed(2)} px`,
    `flagged ${flagged(wrong)}`,
    `false ${flagged(good)}`,
    `${mean(({ oneWayMs }) => oneWayMs).toFixed(0)} ms a frame` +
      (!name.startsWith('carry, ') ? `, ${results[0].bothWaysMs.toFixed(0)} both ways` : ''),
  ].join(', ');
}
