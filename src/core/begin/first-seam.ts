import { acrossTo } from '../carry/across';
import { sightAt, shownShare } from '../carry/settle';
import { SeamModel } from '../carry/line-model';
import type { Frames } from '../carry/frames';
import { SteadyFrames } from '../carry/steady-light';
import type { Shot, ShotMotion } from '../model/shot';
import { type Affine, applyAffine, compose, invert } from '../geometry/affine';
import { fitOutline } from '../geometry/fit-curve';
import { sceneMap } from '../motion/scene-map';
import { median } from '../numbers/quantile';
import { whittaker } from '../numbers/whittaker';
import { differenceOver, smallLuma } from '../motion/moved-mask';
import { movingFrames, movingStretches } from '../motion/moving-frames';
import type { Beginning, NoFirst } from './beginning';
import { type Ground, pastShadow } from './past-shadow';
import { inShot, type Passage, passageThrough, passes } from './passage';

/** A first outline that rests on what moves: a seam on the edge of what crosses. */
export interface FirstSeam {
  /** Source frame. */
  frame: number;
  /** Six numbers a point, shot px; the ground lies on its right. */
  coordinates: number[];
  /** How clearly the picture parts there, 0 to 1. */
  clear: number;
  /** Whether still ground lies to the left of the edge. */
  groundLeft: boolean;
  /** How the edge goes through the picture; null where it was not seen to go on from frame to frame. */
  passage: Passage | null;
}

/** Frames away that are compared with each, besides the one on which what crosses has gone, or is yet to come. */
const away = [3, 6, 12];
/** Frames away beyond which that is not looked for: more are no longer one passage, and cost too much. */
const mostAway = 120;
/** Clearness below which nothing is offered (from the bench's passes). */
const leastClear = 0.3;
/** Share of the width beside the borders within which an edge is about to leave. */
const rim = 0.06;

/** Where a first seam is looked for. */
export interface SeamBeginning extends Beginning {
  /** `trailing`: behind which the way opens, ground that stays; `leading`: before which ground was until then. */
  edge: 'trailing' | 'leading';
}

/**
 * The edge of what crosses, found from the movement alone: on frames all over, every row's place at which what is still ends
 * and what moves begins, as one course (Viterbi 1967); of these the ones that go on through the picture as one edge does. The clearest is
 * pulled onto the picture's edge by the finder, and drawn with the fewest points.
 *
 * @param goOn told how much is done, 0 to 1; false gives up.
 * @returns the seam; why there is none; or null when it was given up.
 */
export async function firstSeam(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  beginning: SeamBeginning,
  goOn: (share: number) => boolean = () => true,
): Promise<FirstSeam | NoFirst | null> {
  const { motion } = shot;
  if (!motion) return 'not measured';
  const stretches = stretchesOf(motion, beginning.within);
  let passage: ReturnType<typeof passageThrough<Look>> = null;
  const looks: Look[] = [];
  for (const [s, within] of stretches.entries()) {
    // Flicker of the light is no movement.
    const steady = new SteadyFrames(frames);
    const look = (frame: number) => lookAt(steady, shot, motion, frame, { ...beginning, within });
    const { width } = await frames.picture(within[0]);
    const found = await lookThrough(
      framesToLookAt(motion, within),
      within,
      look,
      (seen) => passageThrough(seen, width, beginning.edge),
      (share) => goOn((s + share) / stretches.length),
    );
    if (!found) return null;
    const { seen, through } = found;
    if (through && (!passage || worthOf(through) > worthOf(passage))) passage = through;
    looks.push(...seen);
    if (passes(passage)) break;
  }
  if (!goOn(1 - 1 / (mostLooks * stretches.length))) return null;
  const there = movingFrames(motion, beginning.within);
  if (!passage && there.length < 3) return 'nothing crosses';
  const best = bestOf(passage ? passage.looks : looks);
  if (!best || best.clear < leastClear) return 'no clear edge';
  const { denoised } = await frames.picture(best.frame);
  const course = await pastShadow(
    denoised,
    best.points,
    groundsFor(frames, shot, motion, best.frame, beginning),
  );
  const settled = await settle(frames, best.frame, course, course !== best.points);
  const toShot = invert(beginning.toPicture);
  const drawn = settled.flatMap(([x, y]) => applyAffine(toShot, x, y));
  const coordinates = fitOutline(drawn, (2 * shot.width) / 1280, false);
  const { frame, clear, groundLeft } = best;
  return { frame, coordinates, clear, groundLeft, passage: passage && inShot(passage, toShot) };
}

/** Frames away, the farthest first, in which the ground may lie bare where what crosses is now. */
const bareAfter = [mostAway, 48, 24, 12];

/** What the ground beside an edge is like in frames in which it lies bare, each read when it is asked for. */
async function* groundsFor(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height'>,
  motion: ShotMotion,
  frame: number,
  beginning: SeamBeginning,
): AsyncGenerator<Ground> {
  const room = roomFor(frame, beginning);
  for (const by of new Set(bareAfter.map((most) => Math.min(most, room)))) {
    const there = by > 0 ? sceneAway(frames.count, shot, motion, frame, by, beginning) : null;
    if (there) yield { picture: (await frames.picture(there.other)).denoised, map: there.map };
  }
}

/** Frames there are on the side on which what crosses has gone, or is yet to come. */
const roomFor = (frame: number, { edge, within }: SeamBeginning) =>
  edge === 'trailing' ? within[1] - frame : frame - within[0];

/** The frame so many away on that side, and the scene's way there, px of the pictures; null beyond the shot. */
function sceneAway(
  count: number,
  shot: Pick<Shot, 'width' | 'height'>,
  motion: ShotMotion,
  frame: number,
  by: number,
  { toPicture, edge }: SeamBeginning,
): { other: number; map: Affine } | null {
  const other = edge === 'trailing' ? frame + by : frame - by;
  if (other < 0 || other >= count) return null;
  const map = compose(toPicture, compose(sceneMap(motion, shot, frame, other), invert(toPicture)));
  return { other, map };
}

/** Longest stretch that is looked through as one, frames, and how many of a long shot are. */
const [atOnce, mostStretches] = [150, 5];

/** Where something may cross: in a long shot where most moves. */
function stretchesOf(motion: ShotMotion, within: readonly [number, number]): (readonly [number, number])[] {
  if (within[1] - within[0] < atOnce) return [within];
  const moving = movingStretches(motion, within, atOnce, mostStretches);
  return moving.length > 0 ? moving : [within];
}

const worthOf = ({ looks }: { looks: readonly Look[] }) => looks.reduce((sum, { clear }) => sum + clear, 0);

/** Frames of a stretch that are looked at. */
const mostLooks = 18;
/** Share of all frames up to which those on which something moves are looked at alone. */
const few = 0.7;

/** Some frames, evenly: of those on which something moves where they are few, else of all. */
function framesToLookAt(motion: ShotMotion, within: readonly [number, number]): number[] {
  const [first, last] = within;
  const all = Array.from({ length: last - first + 1 }, (_, k) => first + k);
  const there = movingFrames(motion, within);
  const among = there.length >= mostLooks && there.length < few * all.length ? there : all;
  const count = Math.min(mostLooks, among.length);
  return Array.from({ length: count }, (_, k) => among[Math.round(((k + 0.5) * among.length) / count - 0.5)]);
}

/** Frames to either side of a clear look that are looked at where no passage was seen, and of how many looks. */
const [beside, mostBeside] = [8, 3];

type Through = ReturnType<typeof passageThrough<Look>>;

/**
 * Looks at some frames of a stretch. What is fast is in the picture on few of them: where nothing passes, those beside the clearest look
 * tell, then those beside another.
 *
 * @returns null when it was given up.
 */
async function lookThrough(
  frames: readonly number[],
  [first, last]: readonly [number, number],
  look: (frame: number) => Promise<Look[]>,
  throughOf: (seen: readonly Look[]) => Through,
  goOn: (share: number) => boolean,
): Promise<{ seen: Look[]; through: Through } | null> {
  const seen: Look[] = [];
  const looked = new Set<number>();
  // Looks that may still come are counted, so that the share never falls.
  const most = frames.length + mostBeside * 2 * beside + 2;
  const lookAtAll = async (some: readonly number[]) => {
    for (const frame of some) {
      if (looked.has(frame)) continue;
      if (!goOn(looked.size / most)) return false;
      looked.add(frame);
      seen.push(...(await look(frame)));
    }
    return true;
  };
  if (!(await lookAtAll(frames))) return null;
  let through = throughOf(seen);
  const tried: number[] = [];
  while (!passes(through) && tried.length < mostBeside) {
    const apart = seen.filter(({ frame }) => tried.every((other) => Math.abs(other - frame) > beside));
    const clearest = bestOf(apart);
    if (!clearest || clearest.clear < leastClear) break;
    tried.push(clearest.frame);
    const about = Array.from({ length: 2 * beside + 1 }, (_, k) => clearest.frame - beside + k);
    if (!(await lookAtAll(about.filter((frame) => frame >= first && frame <= last)))) return null;
    through = throughOf(seen);
  }
  return { seen, through };
}

const bestOf = (looks: readonly Look[]) =>
  looks.reduce<Look | null>((best, look) => (best && best.clear >= look.clear ? best : look), null);

interface Look {
  frame: number;
  clear: number;
  groundLeft: boolean;
  /** px of the picture, in the order of a seam that has the ground on its right. */
  points: [number, number][];
}

async function lookAt(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height'>,
  motion: ShotMotion,
  frame: number,
  beginning: SeamBeginning,
): Promise<Look[]> {
  const own = await frames.picture(frame);
  const { luma, share } = smallLuma(own);
  const { width, height } = luma;
  const differences: Float32Array[] = [];
  const farthestAway = Math.min(mostAway, roomFor(frame, beginning));
  // A thing whose own marks stand still while its edges move looks like ground until it has gone.
  for (const by of new Set([...away, Math.max(away[0], farthestAway)])) {
    const there = sceneAway(frames.count, shot, motion, frame, by, beginning);
    if (!there) continue;
    const { other, map } = there;
    differences.push(differenceOver(own, await frames.picture(other), map));
  }
  if (differences.length === 0) return [];
  const masks = masksOf(differences, width, height);
  return [true, false].map((groundLeft) => {
    const { course: coarse, clear } = courseThrough(masks, width, height, groundLeft);
    const even = whittaker(coarse, evenness);
    const off = toMiddle(even, differences, width, groundLeft);
    const course = even.map((x) => x + off);
    const near = course.filter((x) => x < rim * width || x > (1 - rim) * width).length / height;
    const points = Array.from(course, (x, j): [number, number] => [x / share, (j + 0.5) / share]);
    // From border to border.
    points.unshift([points[0][0], 0]);
    points.push([points[points.length - 1][0], height / share]);
    return { frame, clear: clear * (1 - near), groundLeft, points: groundLeft ? points : points.reverse() };
  });
}

/** Samples on the ground's side of a course, and on the other, within which an edge out of focus, or blurred, runs out. */
const [outward, inward] = [20, 24];
/** Samples beside the course within which it runs out surely not. */
const [before, beyond] = [6, 8];
/** Levels by which the one side has to differ more than the other. */
const leastStep = 3;

/**
 * Samples by which a course lies off the middle of its edge, to the right: a blurred edge differs from the ground long before its middle. That
 * lies where the picture differs from the ground half as much as it does well inside, along the whole course together.
 */
function toMiddle(
  course: Float64Array,
  differences: readonly Float32Array[],
  width: number,
  groundLeft: boolean,
): number {
  const way = groundLeft ? 1 : -1;
  const profile = Array.from({ length: outward + inward + 1 }, (_, k) => {
    let [sum, count] = [0, 0];
    course.forEach((middle, j) => {
      const x = Math.round(middle) + way * (k - outward);
      if (x < 0 || x >= width) return;
      let least = Infinity;
      for (const each of differences) if (each[j * width + x] < least) least = each[j * width + x];
      if (least === Infinity) return;
      sum += least;
      count++;
    });
    return count === 0 ? NaN : sum / count;
  });
  const [outer, inner] = [
    median(profile.slice(0, outward - before)),
    median(profile.slice(outward + beyond)),
  ];
  if (!(inner > outer + leastStep)) return 0;
  const half = (outer + inner) / 2;
  const crossings = profile.flatMap((value, k) =>
    k > 0 && profile[k - 1] < half && value >= half
      ? [k - 1 + (half - profile[k - 1]) / (value - profile[k - 1]) - outward]
      : [],
  );
  const [nearest = 0] = crossings.sort((a, b) => Math.abs(a) - Math.abs(b));
  return way * nearest;
}

/** Share of the samples that are taken to show the ground at the least. */
const ground = 0.3;

/** How likely each sample moves otherwise than the scene, 0 to 1: as every comparison has it, and as any has. */
interface Masks {
  every: Float32Array;
  any: Float32Array;
}

/**
 * Behind the edge that opens the way all comparisons agree: there is ground, and stays. On the other side of what
 * crosses they do not, as it goes on over ground: so one edge is told from the other.
 */
function masksOf(differences: readonly Float32Array[], width: number, height: number): Masks {
  const every = new Float32Array(width * height).fill(1);
  const any = new Float32Array(width * height);
  for (const each of differences) {
    const known: number[] = [];
    for (let i = 0; i < each.length; i += 7) if (!Number.isNaN(each[i])) known.push(each[i]);
    known.sort((a, b) => a - b);
    const quiet = 1.5 * (known[Math.floor(known.length * ground)] ?? 2);
    for (let i = 0; i < each.length; i++) {
      const value = each[i];
      // What is not known is neither.
      const moving = Number.isNaN(value)
        ? unknown
        : Math.min(1, Math.max(0, (value - quiet) / (6 + 2 * quiet)));
      every[i] = Math.min(every[i], moving);
      any[i] = Math.max(any[i], moving);
    }
  }
  return { every, any };
}

/** What a sample counts that says nothing, and from which on it counts as moving. */
const unknown = 0.2;
/** How dear it is, per px, for the course to go across from row to row; and farthest that it may. */
const across = 0.2;
const farthest = 6;
/** How even a course is made before it is settled (Whittaker 1923). */
const evenness = 60;
/** Samples on the ground's side of the edge, and on the other, that are compared. */
const [onGround, onThing] = [24, 16];
/** What each moving sample costs that is left on the ground's side. */
const left = 0.012;
/** Share of the rows, the clearest, that say how clear a course is: not all of what crosses reaches from border to border. */
const told = 0.6;

/** Every row's place where the ground ends, as one course; and by how much more moves on its one side than on the other. */
function courseThrough(
  { every, any }: Masks,
  width: number,
  height: number,
  groundLeft: boolean,
): { course: Float64Array; clear: number } {
  // Seen with the ground on the left.
  const low = 3;
  const count = width - 6;
  const contrast = new Float32Array(height * count);
  const cost = new Float32Array(height * count);
  const sums = new Float64Array(width + 1);
  const still = new Float64Array(width + 1);
  for (let j = 0; j < height; j++) {
    for (let x = 0; x < width; x++) {
      const at = j * width + (groundLeft ? x : width - 1 - x);
      sums[x + 1] = sums[x] + every[at];
      still[x + 1] = still[x] + any[at];
    }
    for (let k = 0; k < count; k++) {
      const x = low + k;
      const [a, b] = [Math.max(0, x - onGround), Math.min(width, x + onThing)];
      const own = (sums[b] - sums[x]) / (b - x) - (still[x] - still[a]) / (x - a);
      contrast[j * count + k] = own;
      cost[j * count + k] = left * Math.max(0, sums[x] - unknown * x) - own;
    }
  }
  const best = new Float64Array(height * count);
  const from = new Int16Array(height * count);
  for (let k = 0; k < count; k++) best[k] = cost[k];
  for (let j = 1; j < height; j++)
    for (let k = 0; k < count; k++) {
      let [least, at] = [Infinity, k];
      for (let step = -farthest; step <= farthest; step++) {
        const other = k + step;
        if (other < 0 || other >= count) continue;
        const value = best[(j - 1) * count + other] + across * Math.abs(step);
        if (value < least) [least, at] = [value, other];
      }
      best[j * count + k] = least + cost[j * count + k];
      from[j * count + k] = at;
    }
  let k = 0;
  for (let n = 1; n < count; n++) if (best[(height - 1) * count + n] < best[(height - 1) * count + k]) k = n;
  const course = new Float64Array(height);
  const clears = new Float64Array(height);
  for (let j = height - 1; j >= 0; j--) {
    course[j] = groundLeft ? low + k : width - low - k;
    clears[j] = contrast[j * count + k];
    k = from[j * count + k];
  }
  const clearest = clears.sort().subarray(Math.floor(height * (1 - told)));
  return { course, clear: clearest.reduce((sum, each) => sum + each, 0) / clearest.length };
}

/** px from one place of a course to the next while it is settled. */
const spacing = 4;
/** Share of the course that must show an edge for it to be settled. */
const leastShown = 0.4;
/** px by which a course that lies past a shadow may be settled towards it again. */
const mostBack = 8;

async function settle(
  frames: Frames,
  frame: number,
  points: [number, number][],
  castsShadow: boolean,
): Promise<[number, number][]> {
  const model = SeamModel.along(points, spacing);
  // What is known of both sides is better the nearer it lies: twice.
  const { model: near } = await sightAt(frames, frame, model, false);
  const { model: found, sights } = await sightAt(frames, frame, near, false);
  if (shownShare(sights) < leastShown) return model.points();
  const back = median(acrossTo(model.runs[0].line, found.runs[0].line));
  return castsShadow && back > mostBack ? model.points() : found.points();
}
