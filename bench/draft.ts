import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { firstSeam } from '../src/core/begin/first-seam';
import { carryPoses } from '../src/core/carry/carry-poses';
import { modelOfPose } from '../src/core/carry/pose-line';
import type { Frames } from '../src/core/carry/frames';
import { fitOutline } from '../src/core/geometry/fit-curve';
import { identity } from '../src/core/geometry/affine';
import { MotionMeasure } from '../src/core/motion/measure';
import { planFor } from '../src/core/draft/plan-for';
import { timesOfTrace } from '../src/core/draft/trace-times';
import { distancesTo, isWhole, pointsOf, tooFar } from './carry';
import { passesIn, type PassTruth, readClip, readTruth } from './clip-frames';
import { formatInterval, intervalOver } from './interval';
import { chanceSets, type ChanceSet, type Traits } from './passes/by-chance';
import { drawnByChance } from './passes/make';
import { spread } from './spread';

/** What a draft of one take came to, held against the truth. */
export interface Drafted {
  plan: string | null;
  sideRight: boolean;
  /** Frames by which the opening and the closing were missed. */
  opensOff: number | null;
  closesOff: number | null;
  /** px of the first outline's 95th percentile; null where none was offered. */
  begunError: number | null;
  /** Frames on which the whole edge is in the picture, those of them within 3 px with nothing put right, and corrections until all are. */
  whole: number;
  near: number;
  corrections: number;
  /** Seconds of measuring, beginning and carrying, and of carrying alone. */
  seconds: number;
  carrySeconds: number;
}

/** A first outline has what it sweeps on its right. */
const outline = { kind: 'seam', sweptSide: 'right' } as const;

/** Frames by which an opening or a closing may be missed. */
const mostOff = 2;

/**
 * `npm run bench -- draft SET`: what a draft makes of passes put together by chance: its plan and side, its opening and closing
 * frames, its first outline, and that carried both ways, on through what is not sure.
 */
export async function benchDraft(set: string | null): Promise<void> {
  if (!set || !(set in chanceSets))
    throw new Error(`Name a set of passes by chance: ${Object.keys(chanceSets).join(', ')}.`);
  const place = await drawnByChance(set as ChanceSet);
  const names = readdirSync(place)
    .filter((name) => existsSync(path.join(place, name, 'traits.json')))
    .sort();
  const pieces = names.flatMap((name) =>
    passesIn(path.join(place, name)).map((take) => ({
      work: 'draft' as const,
      of: path.join(place, name),
      name: take,
    })),
  );
  const results: { traits: Traits; drafted: Drafted }[] = [];
  await spread<Drafted>(pieces, ({ of, name }, drafted) => {
    const traits = JSON.parse(readFileSync(path.join(of, 'traits.json'), 'utf8')) as Traits;
    results.push({ traits, drafted });
    console.log(
      `${path.basename(of)}, ${name}: ${lineOf(drafted)}${traits.limb ? ', limb' : ''}${traits.flicker ? ', flicker' : ''}`,
    );
  });
  const groups: readonly [string, (traits: Traits) => boolean][] = [
    ['all', () => true],
    ['without limb and flicker', ({ limb, flicker }) => !limb && !flicker],
    ['with limb or flicker', ({ limb, flicker }) => limb || flicker],
  ];
  for (const [group, are] of groups) {
    const those = results.filter(({ traits }) => are(traits)).map(({ drafted }) => drafted);
    if (those.length > 0) report(group, those);
  }
}

function lineOf(drafted: Drafted): string {
  const { plan, sideRight, opensOff, closesOff, begunError, whole, near, corrections } = drafted;
  return [
    `${plan ?? 'no plan'}${sideRight ? '' : ', WRONG SIDE'}`,
    `opens ${opensOff ?? '–'}, closes ${closesOff ?? '–'} off`,
    begunError === null ? 'not begun' : `begun within ${begunError.toFixed(1)} px`,
    `${near} of ${whole} within ${tooFar} px, ${corrections} corrections`,
    `${drafted.seconds.toFixed(0)} s, ${drafted.carrySeconds.toFixed(0)} s of it carrying`,
  ].join('; ');
}

function report(group: string, those: readonly Drafted[]): void {
  const share = (is: (drafted: Drafted) => boolean) =>
    formatInterval(
      intervalOver(those, (some) => (100 * some.filter(is).length) / some.length),
      '%',
    );
  const ratio = (of: (drafted: Drafted) => number, by: (drafted: Drafted) => number) =>
    those.reduce((sum, each) => sum + of(each), 0) / those.reduce((sum, each) => sum + by(each), 0);
  console.log(
    [
      `draft, ${group} (${those.length}): plan and side ${share(({ plan, sideRight }) => plan === 'pass-by' && sideRight)}`,
      `opening ${share(({ opensOff }) => opensOff !== null && Math.abs(opensOff) <= mostOff)}`,
      `closing ${share(({ closesOff }) => closesOff !== null && Math.abs(closesOff) <= mostOff)}`,
      `begun within ${tooFar} px ${share(({ begunError }) => begunError !== null && begunError <= tooFar)}`,
      `at most two corrections ${share(({ corrections }) => corrections <= 2)}`,
      `frames within ${tooFar} px ${(
        100 *
        ratio(
          ({ near }) => near,
          ({ whole }) => whole,
        )
      ).toFixed(1)} %`,
      `${ratio(
        ({ seconds }) => seconds,
        ({ carrySeconds }) => carrySeconds,
      ).toFixed(2)} × carrying alone`,
    ].join(', '),
  );
}

/** Drafts one take, and holds it against the truth. */
export async function draftedAgainstTruth(folder: string): Promise<Drafted> {
  const pass = readTruth(folder);
  const clip = readClip(folder, pass);
  const begun = performance.now();
  const measure = new MotionMeasure(pass.width, pass.height);
  for (const { planes } of clip.pictures) measure.add(planes.y, planes.width, planes.height);
  const motion = measure.result();
  const beginning = { within: [0, clip.count - 1], toPicture: identity, edge: 'trailing' } as const;
  const found = await firstSeam(clip, { ...pass, motion }, beginning);
  const first = found === null || typeof found === 'string' ? null : found;
  const passage = first?.passage ?? null;
  const judged = planFor({ motion, passage }, { motion: null, passage: null });
  const lookedFor = performance.now();
  const inPicture = framesIn(pass, clip.count);
  const whole = framesWhole(pass, clip.count);
  const moves = meanX(pass, inPicture[inPicture.length - 1]) > meanX(pass, inPicture[0]);
  const carried = new Map<number, number>();
  const posed: { frame: number; coordinates: readonly number[] }[] = [];
  if (first) {
    const errorAt = (frame: number, coordinates: readonly number[]) =>
      distancesTo(pass, frame, modelOfPose(outline, coordinates, identity)).error;
    posed.push(first);
    carried.set(first.frame, pass.truth[first.frame]?.length ? errorAt(first.frame, first.coordinates) : NaN);
    for (const direction of [1, -1] as const) {
      const job = {
        ...{ outline, from: first, to: null, direction, stops: false },
        most: direction > 0 ? clip.count - 1 - first.frame : first.frame,
      };
      if (job.most < 1) continue;
      const { poses } = await carryPoses(clip, job, identity, () => true);
      posed.push(...poses);
      for (const { frame, coordinates } of poses)
        if (pass.truth[frame]?.length) carried.set(frame, errorAt(frame, coordinates));
    }
  }
  const done = performance.now();
  const times = timesOfTrace(
    posed.sort((a, b) => a.frame - b.frame),
    pass.width,
  );
  const opens = times.opens ?? passage?.opens ?? null;
  const closes = times.closes ?? passage?.closes ?? null;
  const near = whole.filter((frame) => (carried.get(frame) ?? Infinity) <= tooFar).length;
  return {
    plan: judged?.plan ?? null,
    sideRight:
      passage !== null && passage.direction > 0 === moves && first!.groundLeft === (pass.side === 'left'),
    opensOff: opens === null ? null : opens - inPicture[0],
    closesOff: closes === null ? null : closes - inPicture[inPicture.length - 1],
    begunError: first && carried.get(first.frame)!,
    whole: whole.length,
    near,
    corrections: await correctionsOf(pass, clip, whole, first),
    seconds: (done - begun) / 1000,
    carrySeconds: (done - lookedFor) / 1000,
  };
}

/** Frames on which some of the edge is in the picture. */
function framesIn(pass: PassTruth, count: number): number[] {
  return framesWhere(pass, count, (points) => points.some(([x]) => x > 0 && x < pass.width));
}

/** Frames on which all of it is. */
function framesWhole(pass: PassTruth, count: number): number[] {
  return framesWhere(pass, count, (points) => isWhole(pass, points));
}

function framesWhere(
  { truth }: PassTruth,
  count: number,
  is: (points: readonly [number, number][]) => boolean,
): number[] {
  return Array.from({ length: count }, (_, t) => t).filter((t) => truth[t]?.length > 0 && is(truth[t]));
}

function meanX({ truth }: PassTruth, frame: number): number {
  return truth[frame].reduce((sum, [x]) => sum + x, 0) / truth[frame].length;
}

/**
 * Poses put right until none is over 3 px: the first outline where it is, and outwards from it each frame that is or that carrying
 * did not get to; from there it is carried on.
 */
async function correctionsOf(
  pass: PassTruth,
  clip: Frames,
  whole: readonly number[],
  first: { frame: number; coordinates: readonly number[] } | null,
): Promise<number> {
  if (whole.length === 0) return 0;
  const off = (frame: number, coordinates: readonly number[]) =>
    distancesTo(pass, frame, modelOfPose(outline, coordinates, identity)).error > tooFar;
  const wrong = !first || !whole.includes(first.frame) || off(first.frame, first.coordinates);
  const from = first && whole.includes(first.frame) ? first.frame : whole[whole.length >> 1];
  let corrections = Number(wrong);
  for (const direction of [1, -1] as const) {
    const last = direction > 0 ? whole[whole.length - 1] : whole[0];
    let at = { frame: from, coordinates: wrong || !first ? truthAt(pass, from) : first.coordinates };
    while (at.frame !== last) {
      let failed: number | null = null;
      let reached = at.frame;
      const job = { outline, from: at, to: null, direction, most: Math.abs(last - at.frame), stops: false };
      await carryPoses(clip, job, identity, (pose) => {
        if (!pose) return true;
        reached = pose.frame;
        if (whole.includes(pose.frame) && off(pose.frame, pose.coordinates)) failed = pose.frame;
        return failed === null;
      });
      if (failed === null && reached === last) break;
      corrections++;
      const frame: number = failed ?? reached + direction;
      if (!whole.includes(frame)) break;
      at = { frame, coordinates: truthAt(pass, frame) };
    }
  }
  return corrections;
}

/** The truth as a pose; what is swept lies on its right. */
function truthAt(pass: PassTruth, frame: number): number[] {
  return fitOutline(pointsOf(pass, frame).flat(), 0.5, false);
}
