import type { CarriedPose, CarryEnd, CarryJob } from '../carry/carry-poses';
import type { Frames } from '../carry/frames';
import type { Doubt } from '../model/choices';
import type { Shot } from '../model/shot';
import { type Affine, compose, invert } from '../geometry/affine';
import { flattenOutline } from '../outline/curve';
import { changedFrom, laidBare } from './laid-bare';
import { grown } from './morphology';
import { poseAlong } from '../outline/pose-along';
import { closedLinesOf, partsAlong, shiftedPose, type SubjectPart } from './subject-parts';
import { depthsOf } from './prior';
import { regionShift } from './region-shift';
import { type Palette, type Region, type SubjectFrame, subjectFrameOn } from './subject-frame';
import { shareOfBoth } from './share-of-both';
import { contoursIn } from './subject-outline';
import type { Stroke } from './strokes';

/** Share of the shifted region and the new one that both have, below which a pose is unsure, and below which it ends. */
const [sureFrom, stopBelow] = [0.8, 0.5];
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
}

interface SubjectStart {
  frame: number;
  coordinates: readonly number[];
  parts: readonly SubjectPart[];
}

/**
 * Carries a loop that strokes began, with its further parts and holes: in each frame what it enclosed before is looked for where it
 * has gone, cut out by its colours and those about it, and the outlines' points brought onto that.
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
  const carrier = { frames, shot, toPicture, job };
  const poses: SubjectPose[] = [];
  if (!to) {
    for await (const pose of carriedFrom(carrier, from, direction)) {
      if (pose.doubt === 1) return { poses, end: 'left' };
      poses.push(pose);
      if (!told(pose, poses.length / most)) return { poses, end: 'stopped' };
      if (stops && pose.doubt > 1 - stopBelow) return { poses, end: 'unsure' };
      if (poses.length >= most) return { poses, end: 'done' };
    }
    return { poses, end: 'shot ends' };
  }
  // From both ends, each as far as the middle.
  const between = Math.abs(to.frame - from.frame) - 1;
  const near = Math.ceil(between / 2);
  for (const [start, way, count] of [
    [from, direction, near],
    [to, -direction as 1 | -1, between - near],
  ] as const) {
    if (count === 0) continue;
    let made = 0;
    for await (const pose of carriedFrom(carrier, start, way)) {
      if (pose.doubt < 1) poses.push(pose);
      if (!told(null, poses.length / between)) return { poses: [], end: 'stopped' };
      if (++made >= count) break;
    }
  }
  return { poses: poses.sort((a, b) => a.frame - b.frame), end: 'done' };
}

interface SubjectCarrier {
  frames: Frames;
  shot: Traced;
  toPicture: Affine;
  job: SubjectJob;
}

/** Poses from frame to frame; a doubt of 1: nothing of it is left. */
async function* carriedFrom(
  { frames, shot, toPicture, job }: SubjectCarrier,
  from: SubjectStart,
  direction: 1 | -1,
): AsyncGenerator<SubjectPose> {
  let { coordinates, parts }: { coordinates: readonly number[]; parts: readonly SubjectPart[] } = from;
  let subject = await subjectFrameOn(frames, shot, from.frame, toPicture);
  const begun = await paletteAt(frames, shot, job, toPicture);
  const own = subject.priorOf(closedLinesOf(coordinates, parts), toPicture, begun);
  const isOrigin = from.frame === job.origin;
  let region = subject.cut({
    strokes: job.strokesOn(from.frame),
    prior: isOrigin && begun ? null : own,
    toPicture,
  });
  if (!region) {
    yield nothingLeft(from.frame + direction, coordinates);
    return;
  }
  const first = begun ?? subject.paletteOf(region);
  const opens = await seesOpening(frames, shot, toPicture, from.frame, region.small);
  let gone: [number, number] = [0, 0];
  for (let frame = from.frame + direction; frame >= 0 && frame < frames.count; frame += direction) {
    const { small } = region;
    const depths = depthsOf(small.inside, small.width, small.height);
    gone = regionShift(
      await frames.picture(frame - direction),
      await frames.picture(frame),
      depths,
      small,
      gone,
    );
    const palette = mixed(first, subject.paletteOf(region));
    const moved = shiftedBy(small, gone, subject.width);
    const { expected, seen } = opens
      ? await opens(moved, frame, frame - direction)
      : { expected: moved, seen: true };
    const prior = { depths: depthsOf(expected, small.width, small.height), palette };
    subject = await subjectFrameOn(frames, shot, frame, toPicture);
    region = subject.cut({ strokes: job.strokesOn(frame), prior, toPicture });
    const contours = region && contoursIn(region, toShotOf(region, subject, toPicture));
    if (!region || !contours || contours.length === 0) {
      yield nothingLeft(frame, coordinates);
      return;
    }
    const way = turned(gone, invert(toPicture));
    coordinates = poseAlong(shiftedPose(coordinates, way), contours[0].line);
    parts = partsAlong(parts, way, contours.slice(1));
    const alike = shareOfBoth(expected, region.small.inside);
    const off = missed(coordinates, contours[0].line, shot);
    const unsure: Doubt | null =
      alike < sureFrom
        ? 'leap'
        : off > missing || !seen
          ? 'alike'
          : parts.some(({ lost }) => lost)
            ? 'covered'
            : null;
    const doubt = Math.min(0.99, Math.max(1 - alike, unsure ? 0.3 : 0));
    const pose = { frame, coordinates: [...coordinates], doubt: Math.round(doubt * 1000) / 1000 };
    yield { ...pose, unsure, offBy: [], parts: [...parts] };
  }
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
function mixed(a: Palette, b: Palette): Palette {
  return { inside: [...a.inside, ...b.inside], outside: [...a.outside, ...b.outside] };
}

/** A region moved by px of a picture so wide. */
function shiftedBy({ inside, width, height }: Region, [dx, dy]: readonly [number, number], wide: number) {
  const [u, v] = [dx, dy].map((value) => Math.round((value * width) / wide));
  const out = new Uint8Array(inside.length);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      // What comes in over the border is taken to be as it is there.
      const x = Math.min(width - 1, Math.max(0, i - u));
      const y = Math.min(height - 1, Math.max(0, j - v));
      out[j * width + i] = inside[y * width + x];
    }
  return out;
}

/** A way in one frame's px in another's: turned and scaled, not shifted. */
function turned([x, y]: readonly [number, number], [a, b, c, d]: Affine): [number, number] {
  return [a * x + c * y, b * x + d * y];
}

/** From a region's samples to the shot's px. */
export function toShotOf({ width, height }: Region, picture: SubjectFrame, toPicture: Affine): Affine {
  return invert(compose([width / picture.width, 0, 0, height / picture.height, 0, 0], toPicture));
}

/** px, of a shot 1280 wide, within which nine tenths of a region's line in the picture have the pose's. */
function missed(pose: readonly number[], line: readonly number[], shot: Traced): number {
  const own = flattenOutline(pose, true, 1, 0.5);
  const distances: number[] = [];
  for (let i = 0; i < line.length; i += 16) {
    const inside = line[i] > 0 && line[i + 1] > 0 && line[i] < shot.width && line[i + 1] < shot.height;
    if (!inside) continue;
    let least = Infinity;
    for (let k = 0; k < own.length; k += 2) {
      const j = k + 2 === own.length ? 0 : k + 2;
      const [dx, dy] = [own[j] - own[k], own[j + 1] - own[k + 1]];
      const [x, y] = [line[i] - own[k], line[i + 1] - own[k + 1]];
      const along = Math.min(1, Math.max(0, (x * dx + y * dy) / (dx * dx + dy * dy || 1)));
      least = Math.min(least, (x - along * dx) ** 2 + (y - along * dy) ** 2);
    }
    distances.push(Math.sqrt(least));
  }
  if (distances.length === 0) return 0;
  distances.sort((a, b) => a - b);
  return (distances[Math.floor(0.9 * distances.length)] * 1280) / shot.width;
}
