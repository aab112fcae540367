import type { Frames } from '../carry/frames';
import { differenceOver } from '../begin/moved-mask';
import type { Shot } from '../document/rows';
import type { FramePicture } from '../edge/frame-picture';
import { type Affine, compose, invert } from '../geometry/affine';
import { sceneMap } from '../motion/scene-map';
import { type ColourGrid, colourGrid, pushColour } from './colour-grid';
import { ColourModel } from './colour-model';
import { cutBand, cutGrid, gridGraph, held, PartingCost } from './grid-cut';
import type { CutGraph } from './max-flow';
import { patchesOf } from './patches';
import { depthsIn } from './prior';
import { isNot, isThis, seedsOf, type Stroke } from './strokes';

/** What of a picture belongs to a subject. */
export interface Region {
  width: number;
  height: number;
  /** 1 inside, a sample each. */
  inside: Uint8Array;
}

/** Widest grid, samples, that is cut as a whole. */
const widest = 400;
/** Frames away, on both sides, with which a frame is compared. */
const away = [3, 6, 12];

/**
 * A frame to cut subjects from; where its shot's movement is known, what moves otherwise counts too.
 *
 * @param toPicture from the shot's px to those of the frames' pictures.
 */
export async function subjectFrameOn(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  frame: number,
  toPicture: Affine,
): Promise<SubjectFrame> {
  const own = await frames.picture(frame);
  const sides: Float32Array[] = [];
  for (const way of shot.motion ? [-1, 1] : []) {
    const seen: Float32Array[] = [];
    for (const by of away) {
      const other = frame + way * by;
      if (other < 0 || other >= frames.count) continue;
      const map = compose(toPicture, compose(sceneMap(shot.motion!, shot, frame, other), invert(toPicture)));
      seen.push(differenceOver(own, await frames.picture(other), map));
    }
    if (seen.length > 0) sides.push(combined(seen, true));
  }
  // What stands still looks as it does now before or after whatever else went by.
  return new SubjectFrame(own, sides.length > 0 ? combined(sides, false) : null);
}

/** The largest or the smallest of what is known of each sample; NaN where nothing is. */
function combined(all: readonly Float32Array[], largest: boolean): Float32Array {
  return all[0].map((_, i) => {
    let found = NaN;
    for (const values of all) {
      const value = values[i];
      if (Number.isNaN(value)) continue;
      if (Number.isNaN(found) || value > found === largest) found = value;
    }
    return found;
  });
}

/** Differences, code values, from which on a sample counts to the next class of how much it moves. */
const classes = [3, 6, 10, 16, 28, 48];
/** Samples that every class is taken to have had before any was seen, and the most that moving may say. */
const before = 12;
const mostOfMoving = 2.5;
/** Share of the frame's width beside its border that is taken not to be the subject where nothing else is said. */
const rim = 0.03;
/** Times the strokes' extent, to each side, beyond which nothing is the subject unless it is said. */
const surroundings = 1;
/** Samples of the small grid inside a prior's border from which on it is sure; what it says at most, and how it grows. */
const sureFrom = 5;
const [priorMost, priorGrowth] = [6, 0.5];
/** Samples outside a prior's border up to which its surroundings are learnt from. */
const learntTo = 60;
/** Share of the small grid below which a hole is no hole. */
const leastHole = 0.0004;

/** What a subject is cut by. */
export interface Wanted {
  strokes: readonly Stroke[];
  /** A closed line near the subject's, as it was carried; null where none is known. */
  prior: readonly number[] | null;
  /** From the px of strokes and prior to the picture's. */
  toPicture: Affine;
}

/** A frame's picture at all sizes that are cut, and what is learnt of it once. */
export class SubjectFrame {
  /** px of the picture. */
  readonly width: number;
  readonly height: number;
  private readonly levels: { grid: ColourGrid; cost: PartingCost }[] = [];
  private readonly graph: CutGraph;

  /** @param moves how much each sample of the small grid moves otherwise than the scene, code values; null: unknown. */
  constructor(
    picture: FramePicture,
    private readonly moves: Float32Array | null,
  ) {
    this.width = picture.width;
    this.height = picture.height;
    let k = 0;
    while (picture.width / 2 ** k > widest) k++;
    for (; k >= 0; k--) {
      const grid = colourGrid(picture, k);
      this.levels.push({ grid, cost: new PartingCost(grid) });
    }
    this.graph = gridGraph(this.levels[0].grid, this.levels[0].cost);
  }

  /** The subject's region; null where nothing says what it is, or nothing is left of it. */
  cut({ strokes, prior, toPicture }: Wanted): Region | null {
    const [{ grid }] = this.levels;
    const toGrid = (level: ColourGrid): Affine => {
      const [sx, sy] = [level.width / this.width, level.height / this.height];
      return compose([sx, 0, 0, sy, 0, 0], toPicture);
    };
    const seeds = seedsOf(strokes, grid.width, grid.height, toGrid(grid));
    const depths = prior && depthsIn(mapped(prior, toGrid(grid)), grid.width, grid.height);
    const rests = restsOf(seeds, depths, grid);
    if (!rests) return null;
    const models = [rests.inside, rests.outside].map((list) => ColourModel.of(coloursAt(grid, list)));
    if (!models[0] || !models[1]) return null;
    const [own, other] = models;
    const moving = this.moves ? movingSays(this.moves, rests) : null;
    const colourSays = ({ y, u, v }: ColourGrid, at: number) =>
      other.surprise(y[at], u[at], v[at]) - own.surprise(y[at], u[at], v[at]);

    let inside = cutGrid(this.graph, (at) => {
      if (seeds[at]) return seeds[at] === isThis ? held : -held;
      return colourSays(grid, at) + (moving ? moving[at] : 0) + (depths ? priorSays(depths[at]) : 0);
    });
    inside = tidied(inside, seeds, depths, grid);
    if (!inside.includes(1)) return null;
    let smaller = grid;
    for (const { grid: larger, cost } of this.levels.slice(1)) {
      const own = seedsOf(strokes, larger.width, larger.height, toGrid(larger));
      inside = cutBand(larger, cost, inside, smaller, (at) =>
        own[at] ? (own[at] === isThis ? held : -held) : colourSays(larger, at),
      );
      smaller = larger;
    }
    return { width: smaller.width, height: smaller.height, inside };
  }
}

function mapped(line: readonly number[], [a, b, c, d, e, f]: Affine): number[] {
  return line.map((_, i) => {
    const [x, y] = [line[i - (i % 2)], line[i - (i % 2) + 1]];
    return i % 2 === 0 ? a * x + c * y + e : b * x + d * y + f;
  });
}

/** Samples that are taken to be the subject, and not to be it: what the models are learnt from. */
interface Rests {
  inside: number[];
  outside: number[];
}

function restsOf(
  seeds: Uint8Array,
  depths: Float32Array | null,
  { width, height }: ColourGrid,
): Rests | null {
  const inside: number[] = [];
  const outside: number[] = [];
  for (let at = 0; at < seeds.length; at++)
    if (seeds[at] === isThis) inside.push(at);
    else if (seeds[at] === isNot) outside.push(at);
  if (depths) {
    for (let at = 0; at < seeds.length; at++) {
      if (seeds[at]) continue;
      if (depths[at] > sureFrom) inside.push(at);
      else if (depths[at] < -sureFrom && depths[at] > -learntTo) outside.push(at);
    }
    return inside.length > 0 && outside.length > 0 ? { inside, outside } : null;
  }
  if (inside.length === 0) return null;
  // What lies far from the strokes, or at the frame's border, is not the subject unless they say so.
  const [xs, ys] = [inside.map((at) => at % width), inside.map((at) => Math.floor(at / width))];
  const least = (list: number[]) => list.reduce((a, b) => Math.min(a, b));
  const most = (list: number[]) => list.reduce((a, b) => Math.max(a, b));
  const [left, right, top, bottom] = [least(xs), most(xs), least(ys), most(ys)];
  const side = Math.round(rim * width);
  const [wide, tall] = [surroundings * (right - left) + side, surroundings * (bottom - top) + side];
  for (let at = 0; at < seeds.length; at++) {
    if (seeds[at]) continue;
    const [i, j] = [at % width, Math.floor(at / width)];
    const far = i < left - wide || i > right + wide || j < top - tall || j > bottom + tall;
    if (far || i < side || j < side || i >= width - side || j >= height - side) outside.push(at);
  }
  return outside.length > 0 ? { inside, outside } : null;
}

function coloursAt(grid: ColourGrid, list: readonly number[]): number[] {
  const colours: number[] = [];
  for (const at of list) pushColour(colours, grid, at);
  return colours;
}

/** What moving, or not, speaks for: how many of the subject's samples and of the others move as much. */
function movingSays(moves: Float32Array, { inside, outside }: Rests): Float32Array {
  const classOf = (value: number) => {
    let k = 0;
    while (k < classes.length && value >= classes[k]) k++;
    return k;
  };
  const shares = [inside, outside].map((list) => {
    const counts = new Float64Array(classes.length + 1).fill(before);
    let all = before * counts.length;
    for (const at of list) {
      if (Number.isNaN(moves[at])) continue;
      counts[classOf(moves[at])]++;
      all++;
    }
    return counts.map((count) => count / all);
  });
  const says = shares[0].map((share, k) =>
    Math.min(mostOfMoving, Math.max(-mostOfMoving, Math.log(share / shares[1][k]))),
  );
  return moves.map((value) => (Number.isNaN(value) ? 0 : says[classOf(value)]));
}

/** What a prior says of a sample so far inside it. */
function priorSays(depth: number): number {
  return Math.min(priorMost, Math.max(-priorMost, depth * priorGrowth));
}

/** Without parts that no stroke and no prior asks for, and without specks of holes. */
function tidied(
  inside: Uint8Array,
  seeds: Uint8Array,
  depths: Float32Array | null,
  { width, height }: ColourGrid,
): Uint8Array {
  const patches = patchesOf(inside, width, height);
  const asked = patches.value.map(() => false);
  for (let at = 0; at < seeds.length; at++) {
    const value = inside[at];
    if (seeds[at] === (value ? isThis : isNot)) asked[patches.of[at]] = true;
    else if (depths && (value ? depths[at] > sureFrom : depths[at] < -sureFrom)) asked[patches.of[at]] = true;
  }
  const stays = patches.value.map((value, k) =>
    value ? asked[k] : asked[k] || patches.atBorder[k] || patches.size[k] > leastHole * width * height,
  );
  return inside.map((value, at) => (stays[patches.of[at]] ? value : 1 - value));
}
