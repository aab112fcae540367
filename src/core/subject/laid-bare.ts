import type { Frames } from '../carry/frames';
import type { Shot, ShotMotion } from '../model/shot';
import type { LumaLevel } from '../picture/frame-picture';
import { type Affine, compose, invert } from '../geometry/affine';
import { differenceOver, smallLuma } from '../motion/moved-mask';
import { movingFrames } from '../motion/moving-frames';
import { sceneMap } from '../motion/scene-map';
import { closed } from './morphology';
import { patchesOf } from './patches';
import type { Region } from './subject-frame';

const { max, min, round } = Math;
const { isNaN } = Number;

// These are from the bench's drawn gaps (`npm run bench -- gaps`).
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
/** Share of the picture below which nothing came to light yet. */
const leastArea = 0.008;

/** What came to light. */
export interface LaidBare extends Region {
  /** How surely it was covered before and stays now, 0 to 1. */
  clear: number;
}

type MeasuredShot = Pick<Shot, 'width' | 'height'> & { motion: ShotMotion };

/**
 * The largest part of a frame's picture that differs from how the scene looked before and stays as it is from now on, on
 * the small grid that movement is looked for on; null where there is none worth it.
 *
 * @param toPicture from the shot's px to those of the frames' pictures.
 */
export async function laidBare(
  frames: Frames,
  shot: MeasuredShot,
  frame: number,
  toPicture: Affine,
): Promise<LaidBare | null> {
  const { motion } = shot;
  const shut = max(0, (movingFrames(motion, [0, frame])[0] ?? frame) - shutBefore);
  const own = await frames.picture(frame);
  const { width, height } = smallLuma(own).luma;
  const since = await changedSince(
    frames,
    shot,
    frame,
    [shut, ...earlier.map((by) => frame - by)],
    toPicture,
  );
  const moves = await changedSince(
    frames,
    shot,
    frame,
    later.map((by) => frame + by),
    toPicture,
  );
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
  return { width, height, inside: largest, clear: sum / count };
}

/** Where a frame's picture differs from another's, strips between such places too: 1; on the same grid. */
export async function changedFrom(
  frames: Frames,
  shot: MeasuredShot,
  frame: number,
  other: number,
  toPicture: Affine,
): Promise<Uint8Array> {
  const { width, height } = smallLuma(await frames.picture(frame)).luma;
  const differs = await changedSince(frames, shot, frame, [other], toPicture);
  const mask = Uint8Array.from(differs, (value) => (value > changed ? 1 : 0));
  return closed(mask, round(about * width), width, height);
}

/** How surely each sample differs from any of these frames, 0 to 1; NaN where none reaches. */
async function changedSince(
  frames: Frames,
  shot: MeasuredShot,
  frame: number,
  others: readonly number[],
  toPicture: Affine,
): Promise<Float32Array> {
  const own = await frames.picture(frame);
  const { luma } = smallLuma(own);
  const ranges = rangesAbout(luma);
  const out = new Float32Array(luma.values.length).fill(NaN);
  for (const other of new Set(others)) {
    if (other < 0 || other >= frames.count || other === frame) continue;
    const map = compose(toPicture, compose(sceneMap(shot.motion, shot, frame, other), invert(toPicture)));
    const difference = differenceOver(own, await frames.picture(other), map);
    const quiet = 1.5 * stillest(difference);
    for (let i = 0; i < out.length; i++) {
      if (isNaN(difference[i])) continue;
      const sure = min(1, max(0, (difference[i] - quiet - blurred * ranges[i]) / (6 + 2 * quiet)));
      if (!(out[i] >= sure)) out[i] = sure;
    }
  }
  return out;
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

/** The largest part of a mask, with its holes filled; null where there is none. */
function largestPatch(mask: Uint8Array, width: number, height: number): Uint8Array | null {
  const { of, value, size, atBorder } = patchesOf(mask, width, height);
  let best = -1;
  for (let k = 0; k < value.length; k++) if (value[k] && (best < 0 || size[k] > size[best])) best = k;
  return best < 0 ? null : mask.map((each, i) => (of[i] === best || (!each && !atBorder[of[i]]) ? 1 : 0));
}
