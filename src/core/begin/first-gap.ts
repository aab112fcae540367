import type { Frames } from '../carry/frames';
import { numbersPerPoint as N, type Shot, type ShotMotion } from '../document/rows';
import { type Affine, compose, invert } from '../geometry/affine';
import type { LumaLevel } from '../edge/frame-picture';
import { differenceOver, smallLuma } from '../motion/moved-mask';
import { sceneMap } from '../motion/scene-map';
import { toShotOf } from '../subject/carry-subject';
import { patchesOf } from '../subject/patches';
import { depthsOf } from '../subject/prior';
import { SubjectFrame } from '../subject/subject-frame';
import { contoursIn, fewestPoints } from '../subject/subject-outline';
import { type Beginning, fromTheMiddle, movingFrames, type NoFirst } from './beginning';

const { max, min, round } = Math;
const { isNaN } = Number;

/** A first outline about what has been laid bare. */
export interface FirstGap {
  /** Source frame. */
  frame: number;
  /** Six numbers a point, shot px, closed. */
  coordinates: number[];
  /** How clearly the gap differs from what was there before, and stays, 0 to 1. */
  clear: number;
}

/** Frames after one with which it is compared: what is laid bare stays. */
const later = [3, 6, 12, 24];
/** Frames before it, besides those before anything moved: what is laid bare was covered then. */
const earlier = [6, 12, 24];
/** Frames before the first that moves in which all is taken to be shut. */
const shutBefore = 2;
/** Share of the samples that are taken to stand still at the least. */
const ground = 0.3;
/** What a sample may differ by, of 1, to count as still, and what it must, to count as changed. */
const [still, changed] = [0.3, 0.5];
/** Share of the values' range about a sample that a picture laid over another may lose by that. */
const blurred = 0.3;
/** Share of the width about a sample within which little may move, and how much: what moves before its like seems still here and there. */
const about = 0.0125;
const stillAbout = 0.15;
/** Half of how wide a strip within the gap may be that says nothing, as a share of the width. */
const strip = 0.025;
/** Share of the picture below which a gap is not yet worth beginning with. */
const leastArea = 0.008;
/** px of a picture 1280 wide within which points follow the border as it was cut: coarser than the edge is found. */
const tolerance = 2.5;
/** Clearness below which nothing is offered, and from which on no other frame is looked at. */
const leastClear = 0.4;
const clearEnough = 0.75;

/**
 * What opens, found from the movement alone: what differs from how the scene looked before, and stays as it is from
 * now on. Its border is then drawn where the colours of the two sides part (a minimum cut, Boykov and Jolly 2001), and
 * pulled onto the moving edge where there is one.
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
  const shut = movingFrames(motion, [0, there[0]])[0] - shutBefore;
  let best: Look | null = null;
  const asked = fromTheMiddle(there);
  for (const [k, frame] of asked.entries()) {
    if (!goOn(k / (asked.length + 2))) return null;
    const look = await lookAt(frames, shot, motion, { frame, shut: max(0, shut) }, beginning.toPicture);
    if (look && (!best || look.clear > best.clear)) best = look;
    if (best && best.clear > clearEnough) break;
  }
  if (!best || best.clear < leastClear) return 'no clear edge';
  if (!goOn(asked.length / (asked.length + 2))) return null;
  const { frame, clear } = best;
  const coordinates = await drawnAbout(frames, shot, best, beginning.toPicture);
  return coordinates ? { frame, coordinates, clear } : 'no clear edge';
}

interface Look {
  frame: number;
  clear: number;
  /** How far inside the gap each sample of the small picture lies. */
  depths: Float32Array;
}

async function lookAt(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height'>,
  motion: ShotMotion,
  { frame, shut }: { frame: number; shut: number },
  toPicture: Affine,
): Promise<Look | null> {
  const own = await frames.picture(frame);
  const { luma } = smallLuma(own);
  const { width, height } = luma;
  const ranges = rangesAbout(luma);
  /** How surely each sample differs from any of these frames, 0 to 1; NaN where none reaches. */
  const differs = async (others: readonly number[]) => {
    const out = new Float32Array(width * height).fill(NaN);
    for (const other of new Set(others)) {
      if (other < 0 || other >= frames.count || other === frame) continue;
      const map = compose(toPicture, compose(sceneMap(motion, shot, frame, other), invert(toPicture)));
      const difference = differenceOver(own, await frames.picture(other), map);
      const quiet = 1.5 * stillest(difference);
      for (let i = 0; i < out.length; i++) {
        if (isNaN(difference[i])) continue;
        const sure = min(1, max(0, (difference[i] - quiet - blurred * ranges[i]) / (6 + 2 * quiet)));
        if (!(out[i] >= sure)) out[i] = sure;
      }
    }
    return out;
  };
  const since = await differs([shut, ...earlier.map((by) => frame - by)]);
  const moves = await differs(later.map((by) => frame + by));
  const bare = new Uint8Array(width * height);
  const near = boxMeans(moves, round(about * width), width, height);
  for (let i = 0; i < bare.length; i++)
    bare[i] = since[i] > changed && moves[i] < still && near[i] < stillAbout ? 1 : 0;
  const largest = largestPatch(closed(bare, round(strip * width), width, height), width, height);
  if (!largest) return null;
  let [sum, count] = [0, 0];
  for (let i = 0; i < largest.length; i++) {
    if (!largest[i] || isNaN(since[i]) || isNaN(moves[i])) continue;
    sum += since[i] * (1 - moves[i]);
    count++;
  }
  if (count < leastArea * width * height) return null;
  return { frame, clear: sum / count, depths: depthsOf(largest, width, height) };
}

/** The difference that the stillest share of the samples stays below. */
function stillest(difference: Float32Array): number {
  const known: number[] = [];
  for (let i = 0; i < difference.length; i += 7) if (!isNaN(difference[i])) known.push(difference[i]);
  known.sort((a, b) => a - b);
  return known[Math.floor(known.length * ground)] ?? 2;
}

/** The range of the values about each sample, one to each side. */
function rangesAbout({ values, width, height }: LumaLevel): Float32Array {
  const out = new Float32Array(values.length);
  for (let j = 1; j < height - 1; j++)
    for (let i = 1; i < width - 1; i++) {
      let [low, high] = [Infinity, -Infinity];
      for (let y = j - 1; y <= j + 1; y++)
        for (let at = y * width + i - 1; at <= y * width + i + 1; at++) {
          low = min(low, values[at]);
          high = max(high, values[at]);
        }
      out[j * width + i] = high - low;
    }
  return out;
}

/** The mean of what is known about each sample, so many to each side; NaN counts as still. */
function boxMeans(values: Float32Array, by: number, width: number, height: number): Float32Array {
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = (j + 1) * (width + 1) + i + 1;
      const value = values[j * width + i];
      sums[at] = (isNaN(value) ? 0 : value) + sums[at - 1] + sums[at - width - 1] - sums[at - width - 2];
    }
  const out = new Float32Array(values.length);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const [x0, x1] = [max(0, i - by), min(width, i + by + 1)];
      const [y0, y1] = [max(0, j - by), min(height, j + by + 1)];
      const at = (x: number, y: number) => sums[y * (width + 1) + x];
      out[j * width + i] = (at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0)) / ((x1 - x0) * (y1 - y0));
    }
  return out;
}

/** A mask whose narrow strips and small holes are filled: grown by so many samples, then shrunk. */
function closed(mask: Uint8Array, by: number, width: number, height: number): Uint8Array {
  const near = depthsOf(mask, width, height).map((depth) => (depth > -by ? 1 : 0));
  const grown = Uint8Array.from(near);
  const depths = depthsOf(grown, width, height);
  return grown.map((_, i) => (depths[i] > by ? 1 : 0));
}

/** The largest part of a mask, with its holes filled; null where there is none. */
function largestPatch(mask: Uint8Array, width: number, height: number): Uint8Array | null {
  const { of, value, size, atBorder } = patchesOf(mask, width, height);
  let best = -1;
  for (let k = 0; k < value.length; k++) if (value[k] && (best < 0 || size[k] > size[best])) best = k;
  return best < 0 ? null : mask.map((each, i) => (of[i] === best || (!each && !atBorder[of[i]]) ? 1 : 0));
}

/** The line about a gap with the fewest points, shot px; null where the picture shows none. */
async function drawnAbout(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height'>,
  { frame, depths }: Look,
  toPicture: Affine,
): Promise<number[] | null> {
  const picture = new SubjectFrame(await frames.picture(frame), null);
  const region = picture.cut({ strokes: [], prior: { depths, palette: null }, toPicture });
  const [main] = region ? contoursIn(region, toShotOf(region, picture, toPicture)) : [];
  if (!main) return null;
  const coordinates = fewestPoints(main.line, true, shot.width, tolerance);
  return coordinates.length < 3 * N ? null : coordinates;
}
