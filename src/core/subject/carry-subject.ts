import type { CarriedPose, CarryEnd, CarryJob } from '../carry/carry-poses';
import type { Frames } from '../carry/frames';
import type { Doubt, OutlineKind } from '../model/choices';
import type { Shot } from '../model/shot';
import { type Affine, invert } from '../geometry/affine';
import { changedFrom, laidBare } from './laid-bare';
import { areaOf, grown } from './morphology';
import type { PeopleNetwork } from './people';
import { PeopleSight } from './people-sight';
import { seamRegion } from './seam-region';
import { type Lying, lyingOn, type SeamSide, toShotOf } from './subject-pose';
import { closedLinesOf, type SubjectPart } from './subject-parts';
import { depthsOf } from './prior';
import { OtherPeople } from './other-people';
import { kept, overruledBy, withoutOverruled } from './overruled';
import { PartTracks, withoutBriefParts } from './part-tracks';
import { regionShift, shiftedBy } from './region-shift';
import {
  type CutRegion,
  type Palette,
  type Region,
  type SubjectFrame,
  subjectFrameOn,
} from './subject-frame';
import { shareOfBoth } from './share-of-both';
import type { Stroke } from './strokes';
import { windowAbout } from './window';

const { isNaN } = Number;

/** Share of the shifted region and the new one that both have, below which a pose is unsure, and below which it ends. */
const [sureFrom, stopBelow] = [0.8, 0.5];
/** The same where a person is seen, and the share of both that the region and the person must have (from the bench's walkers). */
const [personSureFrom, agreedFrom] = [0.68, 0.9];
/** Share of a region that may come off it without an outline of its own, as when two people part. */
const comesOff = 0.15;
/** Samples to each side of a person that are looked at: the colours about them are learnt from those. */
const lookedAbout = 40;
/** Share of a subject that may lie where somebody else is. */
const meets = 0.05;
/** Natural logarithm of how much a person may grow or shrink from frame to frame. */
const growing = 0.14;
/** px of the shot, 1280 wide, by which a pose's line may miss its region before it is unsure. */
const missing = 6;

/** Share of a region and of what came to light that both have, from which on they are the same; and from frame to frame (from the bench's gaps). */
const [isBareFrom, bareAlike] = [0.75, 0.5];

/** Share of the width about a region within which what changes is seen, and share of the picture below which nothing does. */
const [aboutOpening, leastStir] = [0.03, 0.002];

type Traced = Pick<Shot, 'width' | 'height' | 'motion'>;

export type SubjectPose = CarriedPose & { parts: SubjectPart[] };

export interface SubjectJob extends Pick<CarryJob, 'direction' | 'most' | 'stops'> {
  from: SubjectStart;
  /** The pose at which it is to arrive; null: it goes on by itself. */
  to: SubjectStart | null;
  /** The frame on which strokes began it: there they alone say what it is; −1: it was begun otherwise. */
  origin: number;
  strokesOn(frame: number): readonly Stroke[];
  kind: OutlineKind;
  /** Says where people are; null: nobody does. */
  people?: PeopleNetwork | null;
}

type SubjectStart = Lying & { frame: number };

/**
 * Carries an outline by cutting out what it belongs to: a loop about it, with its further parts and holes, or a seam on one of its
 * sides. In each frame what was cut out before is looked for where it has gone, cut out by its colours and those about it, by what
 * moves and where people are, and the outlines' points are brought onto that.
 *
 * @param toPicture from the shot's px to the pictures'.
 * @param told of each pose as it is made, null between two known ones, and of the share done; returns whether to go on.
 */
export async function carrySubject(
  frames: Frames,
  shot: Traced,
  job: SubjectJob,
  toPicture: Affine,
  told: (pose: SubjectPose | null, share: number) => boolean,
): Promise<{ poses: SubjectPose[]; end: CarryEnd }> {
  const { from, to, direction, most, stops } = job;
  const poses: SubjectPose[] = [];
  const carrier: SubjectCarrier = {
    ...{ frames, shot, toPicture, job },
    stopped: false,
    goOn: () => !(carrier.stopped ||= !told(null, 0)),
  };
  if (!to) {
    const ended = (end: CarryEnd) => ({ poses: withoutBriefParts(poses), end });
    for await (const pose of carriedFrom(carrier, from, direction)) {
      if (pose.doubt === 1) return ended('left');
      poses.push(pose);
      if (!told(pose, poses.length / most)) return ended('stopped');
      if (stops && pose.doubt > 1 - stopBelow) return ended('unsure');
      if (poses.length >= most) return ended('done');
    }
    return ended(carrier.stopped ? 'stopped' : 'shot ends');
  }
  // From both ends, each as far as the middle.
  const between = Math.abs(to.frame - from.frame) - 1;
  const near = Math.ceil(between / 2);
  for (const [start, way, count] of [
    [from, direction, near],
    [to, -direction as 1 | -1, between - near],
  ] as const) {
    if (count === 0) continue;
    const own: SubjectPose[] = [];
    let made = 0;
    for await (const pose of carriedFrom(carrier, start, way)) {
      if (pose.doubt < 1) own.push(pose);
      if (!told(null, (poses.length + own.length) / between)) return { poses: [], end: 'stopped' };
      if (++made >= count) break;
    }
    if (carrier.stopped) return { poses: [], end: 'stopped' };
    poses.push(...withoutBriefParts(own));
  }
  return { poses: poses.sort((a, b) => a.frame - b.frame), end: 'done' };
}

interface SubjectCarrier {
  frames: Frames;
  shot: Traced;
  toPicture: Affine;
  job: SubjectJob;
  /** Asked before the first pose is made; whether to go on. */
  goOn: () => boolean;
  stopped: boolean;
}

/** Poses from frame to frame; a doubt of 1: nothing of it is left. */
async function* carriedFrom(
  carrier: SubjectCarrier,
  from: SubjectStart,
  direction: 1 | -1,
): AsyncGenerator<SubjectPose> {
  const { frames, shot, toPicture, job, goOn } = carrier;
  const sight = new PeopleSight(job.people ?? null);
  let lying: Lying = from;
  let subject = await subjectFrameOn(frames, shot, from.frame, toPicture);
  const begun = await paletteAt(frames, shot, job, toPicture);
  const begins = { frames, subject, job, toPicture, sight, begun, goOn };
  const start = job.kind === 'loop' ? await loopRegion(begins, from) : await regionAtSeam(begins, from, shot);
  if (carrier.stopped) return;
  if (!start) {
    yield nothingLeft(from.frame + direction, lying.coordinates);
    return;
  }
  const { side } = start;
  let region: CutRegion | null = start.region;
  let overruled = overruledBy(region.small, start.people);
  let clean = subject.paletteOf(region);
  const first = begun ?? subject.paletteOf(region);
  const tracks = new PartTracks();
  const others = new OtherPeople();
  if (start.people) others.see(start.people, region.small, subject);
  const opens = job.kind === 'loop' && (await seesOpening(frames, shot, toPicture, from.frame, region.small));
  let gone: [number, number] = [0, 0];
  let isSeen = start.people !== null;
  for (let frame = from.frame + direction; frame >= 0 && frame < frames.count; frame += direction) {
    const { small } = region;
    const picture = await frames.picture(frame);
    const before = await frames.picture(frame - direction);
    const depths = depthsOf(small.inside, small.width, small.height);
    gone = regionShift(before, picture, depths, small, gone);
    others.moveOn(before, picture, small);
    // While it meets somebody its colours may be theirs.
    if (!others.met) clean = subject.paletteOf(region, depths);
    const palette = mixed(first, clean);
    palette.outside = [...palette.outside, ...others.colours];
    const moved = shiftedBy(small, gone, subject.width);
    const { expected, seen: stirs } = opens
      ? await opens(moved, frame, frame - direction)
      : { expected: moved, seen: true };
    const depthsThere = depthsOf(expected, small.width, small.height);
    // Asked before the frame is made ready: the network works beside it.
    const asked = sight.about(picture, depthsThere, small);
    // A failure is met where it is awaited.
    asked.catch(() => {});
    const window = isSeen ? windowAbout(others.with(expected), small.width, small.height, lookedAbout) : null;
    subject = await subjectFrameOn(frames, shot, frame, toPicture, window);
    const stillOverruled = overruled && shiftedBy({ ...small, inside: overruled }, gone, subject.width);
    const seen = await asked;
    isSeen = seen !== null;
    const alone =
      seen &&
      others.without(withoutOverruled(seen, stillOverruled), {
        ...{ expected, depths: depthsThere, width: small.width, height: small.height },
      });
    const people = alone && alone.people;
    const own = alone ?? { expected, depths: depthsThere };
    const strokes = job.strokesOn(frame);
    region = subject.cut({ strokes, prior: { depths: own.depths, palette }, people, toPicture });
    const way = turned(gone, invert(toPicture));
    const found: ReturnType<typeof lyingOn> =
      region && lyingOn(region, side, lying, { way, toShot: toShotOf(region, subject, toPicture), shot });
    if (!region || !found) {
      yield nothingLeft(frame, lying.coordinates);
      return;
    }
    const { inside } = region.small;
    const anew = strokes.length > 0 ? overruledBy(region.small, seen) : null;
    overruled = anew ?? kept(stillOverruled, inside);
    if (seen) others.see(seen, region.small, subject);
    const { coordinates, off, leftOut } = found;
    const parts = tracks.on(frame, found.parts);
    lying = { coordinates, parts };
    const unsure = doubtOf({
      alike: shareOfBoth(own.expected, inside),
      agreed: people && agreement(people, inside, own.depths),
      grown: areaOf(inside) / (areaOf(own.expected) || 1),
      met: others.over(own.expected),
      strays: off > missing || !stirs,
      parted: leftOut > comesOff,
      lost: parts.some(({ lost }) => lost),
    });
    yield { frame, coordinates: [...coordinates], ...unsure, offBy: [], parts: [...parts] };
  }
}

/** What is known of a pose that was made by cutting. */
interface Made {
  /** Share of the shifted region and the new one that both have. */
  alike: number;
  /** The same of the new one and of the people that are seen there; null where nobody is. */
  agreed: number | null;
  /** Its size as a share of the former one's. */
  grown: number;
  /** Share of it that lies where somebody else is expected. */
  met: number;
  /** Whether the points miss the region's line, or what comes to light is no longer seen. */
  strays: boolean;
  /** Whether so much of it came off that it is to be looked at. */
  parted: boolean;
  /** Whether one of its parts was not found. */
  lost: boolean;
}

/** How doubtful a pose is, and why. A person's shape changes from step to step: there the network is asked instead. */
function doubtOf({ alike, agreed, grown, met, strays, parted, lost }: Made): {
  doubt: number;
  unsure: Doubt | null;
} {
  const leaps =
    parted ||
    (agreed === null
      ? alike < sureFrom
      : alike < personSureFrom || agreed < agreedFrom || Math.abs(Math.log(grown)) > growing);
  const covered = met > meets || (lost && agreed === null);
  const unsure: Doubt | null = leaps ? 'leap' : strays ? 'alike' : covered ? 'covered' : null;
  const least = agreed === null ? 1 - alike : 1 - Math.min(1, alike / personSureFrom, agreed / agreedFrom);
  const doubt = Math.min(0.99, Math.max(least, unsure ? 0.3 : 0));
  return { doubt: Math.round(doubt * 1000) / 1000, unsure };
}

/** Samples about what is expected within which a region and the people in it are compared. */
const compared = 12;

function agreement(people: Float32Array, inside: Uint8Array, depths: Float32Array): number {
  let [both, either] = [0, 0];
  for (let at = 0; at < people.length; at++) {
    if (isNaN(people[at]) || depths[at] < -compared) continue;
    const person = people[at] >= 0.5 ? 1 : 0;
    both += person & inside[at];
    either += person | inside[at];
  }
  return both / (either || 1);
}

/** A carried subject's first region, and where people are about it. */
interface Start {
  region: CutRegion;
  side: SeamSide;
  people: Float32Array | null;
}

/** What it is cut by. */
interface Begins {
  frames: Frames;
  subject: SubjectFrame;
  job: SubjectJob;
  toPicture: Affine;
  sight: PeopleSight;
  /** The colours that strokes began it with. */
  begun: Palette | null;
  goOn: () => boolean;
}

/** The region of a loop on the frame that it is carried from. */
async function loopRegion(
  { frames, subject, job, toPicture, sight, begun }: Begins,
  { frame, coordinates, parts }: SubjectStart,
): Promise<Start | null> {
  const own = subject.priorOf(closedLinesOf(coordinates, parts), toPicture, begun);
  const people = await sight.about(await frames.picture(frame), own.depths, subject.small);
  const prior = frame === job.origin && begun ? null : own;
  const region = subject.cut({ strokes: job.strokesOn(frame), prior, people, toPicture });
  return region && { region, side: null, people };
}

/** What a seam belongs to on the frame that it is carried from; null where it was stopped. @throws Error where nothing has its border there. */
async function regionAtSeam(
  { frames, subject, job, toPicture, sight, goOn }: Begins,
  from: SubjectStart,
  { width }: Traced,
): Promise<Start | null> {
  const strokes = job.strokesOn(from.frame);
  const asked = { strokes, network: job.people ?? null, shot: { width }, goOn };
  const found = await seamRegion({ frames, subject, toPicture }, from, asked);
  if (!found && !goOn()) return null;
  if (!found)
    throw new Error(
      'Nothing beside the seam stands out: neither a person nor something that moves. Carry it along its edge instead (Ctrl Shift J).',
    );
  const { small } = found.region;
  const depths = depthsOf(small.inside, small.width, small.height);
  return { ...found, people: await sight.about(await frames.picture(from.frame), depths, small) };
}

/** What a region becomes in a frame by what came to light there. */
type Opening = (
  moved: Uint8Array,
  frame: number,
  before: number,
) => Promise<{ expected: Uint8Array; seen: boolean }>;

/**
 * Where a subject is what came to light, as a door's gap is: how it grows or shrinks from frame to frame. What did not
 * change since the frame before stays as it was, so that a leaf that has come to rest is not taken for what it laid bare.
 * Null where it is something else.
 */
async function seesOpening(
  frames: Frames,
  { motion, ...size }: Traced,
  toPicture: Affine,
  frame: number,
  region: Region,
): Promise<Opening | null> {
  if (!motion) return null;
  const shot = { width: size.width, height: size.height, motion };
  const bare = await laidBare(frames, shot, frame, toPicture);
  if (!bare || shareOfBoth(bare.inside, region.inside) < isBareFrom) return null;
  return async (moved, at, before) => {
    const changed = await changedFrom(frames, shot, at, before, toPicture);
    const now = await laidBare(frames, shot, at, toPicture);
    if (!now || shareOfBoth(now.inside, moved) < bareAlike) {
      const about = grown(moved, Math.round(aboutOpening * region.width), region.width, region.height);
      const stirs = changed.reduce((sum, value, i) => sum + (about[i] && value), 0);
      return { expected: moved, seen: stirs < leastStir * changed.length };
    }
    return { expected: moved.map((value, i) => (changed[i] ? now.inside[i] : value)), seen: true };
  };
}

function nothingLeft(frame: number, coordinates: readonly number[]): SubjectPose {
  return { frame, coordinates: [...coordinates], doubt: 1, unsure: 'covered', offBy: [], parts: [] };
}

/** The subject's colours where it was begun; null where nothing is painted there by now. */
async function paletteAt(
  frames: Frames,
  shot: Traced,
  { origin, strokesOn }: SubjectJob,
  toPicture: Affine,
): Promise<Palette | null> {
  const strokes = strokesOn(origin);
  if (strokes.length === 0 || origin < 0 || origin >= frames.count) return null;
  const subject = await subjectFrameOn(frames, shot, origin, toPicture);
  const region = subject.cut({ strokes, prior: null, toPicture });
  return region && subject.paletteOf(region);
}

/** Half of what the first frame's colours were, half of the last one's: neither a change of light nor a slip takes over. */
function mixed(a: Palette, b: Palette): { inside: number[]; outside: number[] } {
  return { inside: [...a.inside, ...b.inside], outside: [...a.outside, ...b.outside] };
}

/** A way in one frame's px in another's: turned and scaled, not shifted. */
function turned([x, y]: readonly [number, number], [a, b, c, d]: Affine): [number, number] {
  return [a * x + c * y, b * x + d * y];
}
