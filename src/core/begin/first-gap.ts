import type { Frames } from '../carry/frames';
import { numbersPerPoint as N } from '../model/choices';
import type { Shot } from '../model/shot';
import type { FramePicture } from '../picture/frame-picture';
import type { Affine } from '../geometry/affine';
import { movingFrames } from '../motion/moving-frames';
import { toShotOf } from '../subject/subject-pose';
import { type LaidBare, laidBare } from '../subject/laid-bare';
import { movingMean } from '../subject/morphology';
import { depthsOf } from '../subject/prior';
import { type Region, SubjectFrame } from '../subject/subject-frame';
import { contoursIn, fewestPoints } from '../subject/subject-outline';
import { type Beginning, fromTheMiddle, type NoFirst } from './beginning';

/** A first outline about what has been laid bare. */
export interface FirstGap {
  /** Source frame. */
  frame: number;
  /** Six numbers a point, shot px, closed. */
  coordinates: number[];
  /** How clearly the gap differs from what was there before, and stays, 0 to 1. */
  clear: number;
}

/** Half of how wide slivers are that are left out of its border, as a share of the width. */
const sliver = 0.0012;
/** px of a picture 1280 wide within which points follow the border as it was cut: coarser than the edge is found. */
const tolerance = 2.5;
/** Clearness below which nothing is offered, and from which on no other frame is looked at (from the bench's gaps, as the above). */
const leastClear = 0.4;
const clearEnough = 0.75;

/**
 * What opens, found from the movement alone: what differs from how the scene looked before, and stays as it is from
 * now on. Its border is then drawn where the colours of the two sides part (a minimum cut, Boykov and Jolly 2001).
 *
 * @param goOn told how much is done, 0 to 1; false gives up.
 * @returns the loop; why there is none; or null when it was given up.
 */
export async function firstGap(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  beginning: Beginning,
  goOn: (share: number) => boolean = () => true,
): Promise<FirstGap | NoFirst | null> {
  const { motion } = shot;
  if (!motion) return 'not measured';
  const there = movingFrames(motion, beginning.within);
  if (there.length < 3) return 'nothing crosses';
  let best: (LaidBare & { frame: number }) | null = null;
  const asked = fromTheMiddle(there);
  for (const [k, frame] of asked.entries()) {
    if (!goOn(k / (asked.length + 2))) return null;
    const bare = await laidBare(frames, { ...shot, motion }, frame, beginning.toPicture);
    if (bare && (!best || bare.clear > best.clear)) best = { ...bare, frame };
    if (best && best.clear > clearEnough) break;
  }
  if (!best || best.clear < leastClear) return 'no clear edge';
  if (!goOn(asked.length / (asked.length + 2))) return null;
  const { frame, clear } = best;
  const coordinates = await drawnAbout(await frames.picture(frame), shot, best, beginning.toPicture);
  return coordinates ? { frame, coordinates, clear } : 'no clear edge';
}

/** The line about a gap with the fewest points, shot px; null where the picture shows none. */
function drawnAbout(
  picture: FramePicture,
  shot: Pick<Shot, 'width' | 'height'>,
  bare: Region,
  toPicture: Affine,
): number[] | null {
  const subject = new SubjectFrame(picture, null);
  const depths = depthsOf(bare.inside, bare.width, bare.height);
  const region = subject.cut({ strokes: [], prior: { depths, palette: null }, toPicture });
  if (!region) return null;
  const { width, height } = region;
  const even = {
    width,
    height,
    inside: movingMean(region.inside, Math.round(sliver * width), width, height),
  };
  const [main] = contoursIn(even, toShotOf(region, subject, toPicture));
  if (!main) return null;
  const coordinates = fewestPoints(main.line, true, shot.width, tolerance);
  return coordinates.length < 3 * N ? null : coordinates;
}
