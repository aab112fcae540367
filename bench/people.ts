import path from 'node:path';
import { peopleNetworkInNode } from '../fixtures/people';
import type { Frames } from '../src/core/carry/frames';
import { MotionMeasure } from '../src/core/motion/measure';
import { quantile } from '../src/core/numbers/quantile';
import type { PeopleNetwork } from '../src/core/subject/people';
import { shareOfBoth } from '../src/core/subject/share-of-both';
import type { FramePicture } from '../src/core/picture/frame-picture';
import { readClip } from './clip-frames';
import { drawnPeople, drawnSubjects } from './passes/make';
import { people } from './passes/people';
import { maskOf, subjects } from './passes/subjects';
import { height, width } from './passes/scene';
import { type BenchShot, carriedOn, firstByPress } from './people/carried';
import { jitterOf } from './people/jitter';
import { atFilmSize, jOf, largeOf } from './people/measure';
import { benchWalkersLines } from './people/lines';
import { benchSeams } from './people/seams';
import { walks } from './people/walkers';
import { boundaryF, nextStroke } from './strokes-by-rule';
import type { Figure } from './figure';

/** J below which a frame is bad, and above which it is good. */
const [badBelow, goodAbove] = [0.88, 0.94];
/** Frames from one stroke to the next, where there are some. */
const strokeEvery = 15;

/** A passage of one person, with what is known of them. */
interface Passage {
  name: string;
  frames: Frames;
  pictures: readonly FramePicture[];
  /** The first frame on which the truth is known. */
  start: number;
  /** J against the truth; null where it is not known. */
  j(frame: number, mask: Uint8Array): number | null;
  /** The truth at the picture's size; null where it is not known. */
  truth(frame: number): Uint8Array | null;
}

interface PassageResult {
  name: string;
  first: number;
  firstF: number;
  firstPoints: number;
  others: number;
  firstMs: number;
  carried: number[];
  flagged: boolean[];
  points: number;
  ms: number[];
  jitter: number;
  ownJitter: number;
  corrected: number[];
  blind: number[];
  unmoved: number[];
}

/**
 * `npm run bench -- people [walkers|unseen|drawn|lines|seams]`: somebody found and taken by one press, and carried with nothing put right; with a
 * stroke every 15 frames; without the network, and without movement. Of real walkers (Debian's opencv-doc), those that the
 * constants were fitted on and others, of drawn people; the lines that real walkers trail, followed; and the seams of drawn ones. J and F as Perazzi et al., CVPR 2016 have them.
 */
export async function benchPeople(which: string | null): Promise<Figure[]> {
  const network = await peopleNetworkInNode();
  const figures: Figure[] = [];
  for (const [part, films, kind] of [
    ['walkers', 'fitted', 'walkers'],
    ['unseen', 'unseen', 'unseen walkers'],
  ] as const) {
    if (which && which !== part) continue;
    const results: PassageResult[] = [];
    for await (const walk of walks(films)) results.push(await measured(walkPassage(walk), network));
    figures.push(...summary(kind, results, { first: 0.95, carried: 0.95, least: 0.88, strokes: 0.96 }));
  }
  if (!which || which === 'drawn') {
    const results: PassageResult[] = [];
    for await (const passage of drawnPassages()) results.push(await measured(passage, network));
    figures.push(
      ...summary('drawn people', results, { first: 0.97, carried: 0.97, least: null, strokes: null }),
    );
  }
  if (!which || which === 'lines') await benchWalkersLines();
  if (!which || which === 'seams') figures.push(...(await benchSeams(network)));
  return figures;
}

function walkPassage(
  walk: Awaited<ReturnType<typeof walks> extends AsyncGenerator<infer W> ? W : never>,
): Passage {
  const { truths, name } = walk;
  return {
    name,
    frames: walk,
    pictures: walk.pictures,
    start: truths.findIndex((truth) => truth !== null),
    j: (frame, mask) => {
      const truth = truths[frame];
      return truth && truth.includes(1) ? jOf(truth, atFilmSize(mask, { width, height })) : null;
    },
    truth: (frame) => truths[frame] && largeOf(truths[frame]),
  };
}

async function* drawnPassages(): AsyncGenerator<Passage> {
  const folders = [
    { folder: await drawnSubjects(), list: subjects.filter(({ name }) => name.startsWith('person')) },
    { folder: await drawnPeople(), list: people },
  ];
  for (const { folder, list } of folders)
    for (const { name, draw } of list) {
      const clip = readClip(path.join(folder, name), { width, height });
      const { inside } = await draw();
      // A mask by formula takes as long as carrying a frame.
      const known = new Map<number, Uint8Array>();
      const truth = (frame: number) => {
        const mask = known.get(frame) ?? maskOf(inside, frame);
        known.set(frame, mask);
        return mask;
      };
      yield {
        name,
        frames: clip,
        pictures: clip.pictures,
        start: 2,
        truth,
        j: (frame, mask) => shareOfBoth(truth(frame), mask),
      };
    }
}

async function measured(passage: Passage, network: PeopleNetwork): Promise<PassageResult> {
  const { name, frames, pictures, start } = passage;
  const measure = new MotionMeasure(width, height);
  for (const { planes } of pictures) measure.add(planes.y, planes.width, planes.height);
  const shot: BenchShot = { width, height, motion: measure.result() };
  const score = (mask: Uint8Array) => passage.j(start, mask) ?? 0;
  const first = await firstByPress(frames, shot, start, network, score);
  const empty = { carried: [], flagged: [], ms: [], corrected: [], blind: [], unmoved: [] };
  if (!first) {
    console.log(`${name}: nobody was found`);
    return {
      name,
      first: 0,
      firstF: 0,
      firstPoints: 0,
      others: 0,
      firstMs: 0,
      points: 0,
      jitter: 0,
      ownJitter: 0,
      ...empty,
    };
  }
  const from = { start, loops: first.loops };
  const carried = (await carriedOn(frames, shot, from, network)).filter(
    ({ frame }) => passage.truth(frame) !== null,
  );
  const js = (list: typeof carried) =>
    list.map(({ frame, mask }) => passage.j(frame, mask)).filter((j): j is number => j !== null);
  const strokeFor = (frame: number, mask: Uint8Array) => {
    const truth = passage.truth(frame);
    return truth && nextStroke(truth, mask, false);
  };
  const result: PassageResult = {
    name,
    first: score(first.mask),
    firstF: boundaryF(passage.truth(start)!, first.mask),
    firstPoints: first.loops.reduce((sum, { coordinates }) => sum + coordinates.length / 6, 0),
    others: first.others,
    firstMs: first.milliseconds,
    carried: js(carried),
    flagged: carried
      .filter(({ frame, mask }) => passage.j(frame, mask) !== null)
      .map(({ flagged }) => flagged),
    points: carried.reduce((sum, { points }) => sum + points, 0) / (carried.length || 1),
    ms: carried.map(({ milliseconds }) => milliseconds),
    jitter: jitterOf(
      carried.map(({ mask }) => mask),
      width,
    ),
    ownJitter: jitterOf(
      carried.map(({ frame }) => passage.truth(frame)),
      width,
    ),
    corrected: js(await carriedOn(frames, shot, from, network, { every: strokeEvery, strokeFor })),
    blind: js(await carriedOn(frames, shot, from, null)),
    unmoved: js(await carriedOn(frames, { ...shot, motion: null }, from, network)),
  };
  console.log(lineOf(result));
  return result;
}

const mean = (list: readonly number[]) => list.reduce((sum, value) => sum + value, 0) / (list.length || 1);

function lineOf(r: PassageResult): string {
  const least = (list: readonly number[]) => Math.min(...list).toFixed(2);
  const both = (list: readonly number[]) => `${mean(list).toFixed(3)} (least ${least(list)})`;
  return `${r.name}: first J ${r.first.toFixed(3)} F ${r.firstF.toFixed(3)}, ${r.firstPoints} points, ${r.others} others, ${r.firstMs.toFixed(0)} ms; carried over ${r.carried.length} frames J ${both(r.carried)}, ${r.points.toFixed(0)} points, jitter ${r.jitter.toFixed(1)} px of ${r.ownJitter.toFixed(1)}, ${quantile(r.ms, 0.5).toFixed(0)} ms a frame; with strokes ${both(r.corrected)}; without the network ${both(r.blind)}; without movement ${both(r.unmoved)}`;
}

function summary(
  kind: string,
  results: readonly PassageResult[],
  wanted: { first: number; carried: number; least: number | null; strokes: number | null },
): Figure[] {
  const all = results.flatMap(({ carried, flagged }) => carried.map((j, k) => ({ j, flagged: flagged[k] })));
  const js = all.map(({ j }) => j);
  const bad = all.filter(({ j }) => j < badBelow);
  const good = all.filter(({ j }) => j > goodAbove);
  const share = (list: readonly unknown[], of: readonly unknown[]) => (100 * list.length) / (of.length || 1);
  const every = (of: (result: PassageResult) => readonly number[]) => mean(results.flatMap(of));
  console.log(
    `${kind}: ${results.length} passages, ${js.length} frames; first J ${mean(results.map(({ first }) => first)).toFixed(3)}; carried ${mean(js).toFixed(3)}, least ${Math.min(...js).toFixed(2)}, ${bad.length} bad; with strokes ${every((r) => r.corrected).toFixed(3)}; without the network ${every((r) => r.blind).toFixed(3)}; without movement ${every((r) => r.unmoved).toFixed(3)}`,
  );
  return [
    {
      name: `people: ${kind}, first J`,
      value: mean(results.map(({ first }) => first)),
      unit: '',
      atLeast: wanted.first,
    },
    { name: `people: ${kind}, carried J`, value: mean(js), unit: '', atLeast: wanted.carried },
    ...(wanted.least === null
      ? []
      : [{ name: `people: ${kind}, least J`, value: Math.min(...js), unit: '', atLeast: wanted.least }]),
    ...(wanted.strokes === null
      ? []
      : [
          {
            name: `people: ${kind}, J with strokes`,
            value: every((r) => r.corrected),
            unit: '',
            atLeast: wanted.strokes,
          },
        ]),
    {
      name: `people: ${kind}, bad and not flagged`,
      value: share(
        bad.filter(({ flagged }) => !flagged),
        bad,
      ),
      unit: '%',
      atMost: 5,
    },
    {
      name: `people: ${kind}, good and flagged`,
      value: share(
        good.filter(({ flagged }) => flagged),
        good,
      ),
      unit: '%',
      atMost: 15,
    },
    {
      name: `people: ${kind}, a frame`,
      value: quantile(
        results.flatMap(({ ms }) => ms),
        0.5,
      ),
      unit: 'ms',
      atMost: 60,
    },
  ];
}
