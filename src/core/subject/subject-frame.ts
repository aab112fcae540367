import type { Frames } from '../carry/frames';
import { differenceOver, halvingsOf } from '../motion/moved-mask';
import type { Shot } from '../model/shot';
import type { FramePicture } from '../picture/frame-picture';
import { type Affine, compose, invert } from '../geometry/affine';
import { sceneMap } from '../motion/scene-map';
import { type ColourGrid, colourGrid } from './colour-grid';
import { ColourModel } from './colour-model';
import { cutBand, cutGrid, gridGraph, held, PartingCost } from './grid-cut';
import type { CutGraph } from './max-flow';
import { patchesOf } from './patches';
import { type ClosedLine, depthsOf, filledBy } from './prior';
import { isNot, isThis, seedsOf, type Stroke } from './strokes';
import { onWhole, pictureIn, samplesIn, type Window } from './window';

const { floor, log, max, min, round } = Math;
const { isNaN } = Number;

/** What of a picture belongs to a subject. */
export interface Region {
  width: number;
  height: number;
  /** 1 inside, a sample each. */
  inside: Uint8Array;
}

/** A region as it was cut: its small grid too, from which it can be looked for in other frames. */
export interface CutRegion extends Region {
  small: Region;
}

/** Colours of a subject and of what is about it: luma, Cb, Cr by turns. */
export interface Palette {
  inside: readonly number[];
  outside: readonly number[];
}

/** What is known of a subject before anything is painted on a frame. */
export interface Prior {
  /** How far inside it each sample of the frame's small grid is likely to lie; negative outside. */
  depths: Float32Array;
  /** Its colours as another frame has them; null: they are learnt here, from what lies well inside and outside. */
  palette: Palette | null;
}

/** Frames away, on both sides, with which a frame is compared. */
const away = [3, 6, 12];

/**
 * A frame to cut subjects from; where its shot's movement is known, what moves otherwise counts too.
 *
 * @param toPicture from the shot's px to those of the frames' pictures.
 * @param window the part of its small grid that is looked at; null: all of it.
 */
export async function subjectFrameOn(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  frame: number,
  toPicture: Affine,
  window: Window | null = null,
): Promise<SubjectFrame> {
  const picture = await frames.picture(frame);
  const looked = lookedAt(picture, window);
  const sides: Float32Array[] = [];
  for (const way of shot.motion ? [-1, 1] : []) {
    const seen: Float32Array[] = [];
    for (const by of away) {
      const other = frame + way * by;
      if (other < 0 || other >= frames.count) continue;
      const moved = compose(sceneMap(shot.motion!, shot, frame, other), invert(toPicture));
      const map = compose(toPicture, compose(moved, [1, 0, 0, 1, looked.x, looked.y]));
      seen.push(differenceOver(looked.picture, await frames.picture(other), map));
    }
    if (seen.length > 0) sides.push(combined(seen, true));
  }
  // What stands still looks as it does now before or after whatever else went by.
  return new SubjectFrame(picture, sides.length > 0 ? combined(sides, false) : null, looked);
}

/** What of a frame's picture is looked at. */
interface LookedAt {
  window: Window;
  picture: FramePicture;
  /** px of the whole picture at which it begins. */
  x: number;
  y: number;
}

function lookedAt(whole: FramePicture, window: Window | null): LookedAt {
  const halvings = halvingsOf(whole.width);
  const { width, height } = whole.level(halvings);
  if (!window || (window.width === width && window.height === height))
    return { window: { left: 0, top: 0, width, height }, picture: whole, x: 0, y: 0 };
  const times = 2 ** halvings;
  const picture = pictureIn(whole, window, times);
  return { window, picture, x: window.left * times, y: window.top * times };
}

/** The largest or the smallest of what is known of each sample; NaN where nothing is. */
function combined(all: readonly Float32Array[], largest: boolean): Float32Array {
  return all[0].map((_, i) => {
    let found = NaN;
    for (const values of all) {
      const value = values[i];
      if (isNaN(value)) continue;
      if (isNaN(found) || value > found === largest) found = value;
    }
    return found;
  });
}

/** Differences, code values, from which on a sample counts to the next class of how much it moves. */
const classes = [3, 6, 10, 16, 28, 48];
/** Samples that every class is taken to have had before any was seen, and the most that moving may say. */
const before = 12;
const mostOfMoving = 2.5;
/** What a sample's being a person, or not, says at most, natural units. */
const personMost = 8;
/** What speaks for a person where the network holds both for equally likely: it draws people too slim (from the bench's walkers). */
const personBias = 1;
/** What colours say at most, and how much more movement counts, where the network sees the subject (from the bench's walkers). */
const [colourMost, movingMore] = [2.5, 1.5];
/** Mean share of a person inside from which on the network is believed at all, and from which on wholly. */
const [believedFrom, believedWhollyFrom] = [0.4, 0.75];
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
  prior: Prior | null;
  /** How much of each sample of the small grid is a person, 0 to 1; NaN, or left out: unknown. */
  people?: Float32Array | null;
  /** From the strokes' px to the picture's. */
  toPicture: Affine;
}

/** A frame's picture at all sizes that are cut, and what is learnt of it once. */
export class SubjectFrame {
  /** px of the picture. */
  readonly width: number;
  readonly height: number;
  private readonly levels: { grid: ColourGrid; cost: PartingCost }[] = [];
  /** The grid of half the first level's size, which alone is cut as a whole. */
  private readonly whole: { grid: ColourGrid; graph: CutGraph };

  /** The whole picture's small grid, which priors are about. */
  readonly small: { width: number; height: number };

  /**
   * @param whole its picture.
   * @param moves how much each sample that is looked at moves otherwise than the scene, on the small grid, code values; null: unknown.
   */
  constructor(
    whole: FramePicture,
    readonly moves: Float32Array | null,
    private readonly looked: LookedAt = lookedAt(whole, null),
  ) {
    this.width = whole.width;
    this.height = whole.height;
    const { picture } = looked;
    let k = halvingsOf(whole.width);
    const { width, height } = whole.level(k);
    this.small = { width, height };
    const grid = colourGrid(picture, k + 1);
    // Two of its sides are one of the larger grid's, and a sample counts as one there.
    this.whole = { grid, graph: gridGraph(grid, new PartingCost(grid, 0.5)) };
    for (; k >= 0; k--) {
      const grid = colourGrid(picture, k);
      this.levels.push({ grid, cost: new PartingCost(grid) });
    }
  }

  /** Samples of the small grid that are looked at. */
  private own<T extends Uint8Array | Float32Array>(all: T): T {
    const { window } = this.looked;
    return all.length === window.width * window.height ? all : samplesIn(all, this.small.width, window);
  }

  /** What closed lines say of a subject, in the px that `toPicture` leads from. */
  priorOf(lines: readonly ClosedLine[], toPicture: Affine, palette: Palette | null = null): Prior {
    const { width, height } = this.small;
    const map = compose([width / this.width, 0, 0, height / this.height, 0, 0], toPicture);
    const inside = filledBy(
      lines.map(({ line, hole }) => ({ line: mapped(line, map), hole })),
      width,
      height,
    );
    return { depths: depthsOf(inside, width, height), palette };
  }

  /** The colours of a region of this frame, and of what is about it. @param depths of its small grid, where they are known. */
  paletteOf({ small }: CutRegion, depths = depthsOf(small.inside, small.width, small.height)): Palette {
    const { grid } = this.levels[0];
    const own = this.own(depths);
    const rests = restsOf(new Uint8Array(own.length), own, grid);
    return { inside: coloursAt(grid, rests?.inside ?? []), outside: coloursAt(grid, rests?.outside ?? []) };
  }

  /** The colours of a mask of its small grid: luma, Cb, Cr by turns. */
  coloursOf(mask: Uint8Array): number[] {
    return coloursAt(this.levels[0].grid, seedsIn(this.own(mask), 1));
  }

  private toGrid({ width, height }: ColourGrid, toPicture: Affine): Affine {
    const { picture, x, y } = this.looked;
    const part = compose([1, 0, 0, 1, -x, -y], toPicture);
    return compose([width / picture.width, 0, 0, height / picture.height, 0, 0], part);
  }

  /** The subject's region; null where nothing says what it is, or nothing is left of it. */
  cut({ strokes, prior, people: allPeople = null, toPicture }: Wanted): CutRegion | null {
    const [{ grid, cost: parting }] = this.levels;
    const seeds = seedsOf(strokes, grid.width, grid.height, this.toGrid(grid, toPicture));
    const depths = prior && this.own(prior.depths);
    const people = allPeople && this.own(allPeople);
    const rests = restsOf(seeds, depths, grid);
    if (!rests) return null;
    const palette = prior?.palette;
    const colours = (list: readonly number[], known: readonly number[] | undefined, mark: number) =>
      known ? [...known, ...coloursAt(grid, seedsIn(seeds, mark))] : coloursAt(grid, list);
    const own = ColourModel.of(colours(rests.inside, palette?.inside, isThis));
    const other = ColourModel.of(colours(rests.outside, palette?.outside, isNot));
    if (!own || !other) return null;
    const moving = this.moves ? movingSays(this.moves, rests) : null;
    const person = people ? personSays(people, rests) : null;
    const colourSays = colourJudge(own, other);
    const more = person ? movingMore : 1;
    // Where the network says nothing, colours may say all that they do.
    const mostAt = (at: number) => (person && !isNaN(people![at]) ? colourMost : Infinity);

    // What speaks for each sample by all but its colour.
    const others = new Float32Array(seeds.length);
    for (let at = 0; at < others.length; at++)
      others[at] =
        (moving ? more * moving[at] : 0) + (person ? person[at] : 0) + (depths ? priorSays(depths[at]) : 0);
    const leanings = new Float32Array(seeds.length);
    for (let at = 0; at < leanings.length; at++)
      if (seeds[at]) leanings[at] = seeds[at] === isThis ? held : -held;
      else leanings[at] = within(colourSays(grid, at), mostAt(at)) + others[at];
    const { grid: small, graph } = this.whole;
    const roughly = cutGrid(graph, (at) => meanOfFour(leanings, grid, small, at));
    const cut = cutBand(grid, parting, roughly, {
      smaller: small,
      leaning: (at) => leanings[at],
      contradicting,
    });
    let inside = tidied(cut, seeds, depths, grid);
    if (!inside.includes(1)) return null;
    const { window, picture } = this.looked;
    const region = { ...this.small, inside: onWhole(inside, window, this.small) };
    let smaller = grid;
    for (const { grid: larger, cost } of this.levels.slice(1)) {
      const own = seedsOf(strokes, larger.width, larger.height, this.toGrid(larger, toPicture));
      inside = cutBand(larger, cost, inside, {
        smaller,
        leaning: (at) =>
          own[at]
            ? own[at] === isThis
              ? held
              : -held
            : within(colourSays(larger, at), person ? mostAt(ofSmaller(larger, at, grid)) : Infinity) +
              (person ? others[ofSmaller(larger, at, grid)] : 0),
      });
      smaller = larger;
    }
    const times = picture.width / window.width;
    const { width, height } = this;
    const large = {
      left: window.left * times,
      top: window.top * times,
      width: smaller.width,
      height: smaller.height,
    };
    return { width, height, inside: onWhole(inside, large, this), small: region };
  }
}

/** The sample of a smaller grid in which one of a larger lies. */
function ofSmaller(larger: ColourGrid, at: number, { width, height }: ColourGrid): number {
  const i = at % larger.width;
  const x = floor(((i + 0.5) * width) / larger.width);
  const y = floor((((at - i) / larger.width + 0.5) * height) / larger.height);
  return min(height - 1, y) * width + min(width - 1, x);
}

/** The mean of what speaks for the four samples that one of a grid of half the size stands for. */
function meanOfFour(leanings: Float32Array, { width }: ColourGrid, small: ColourGrid, at: number): number {
  const top = 2 * floor(at / small.width) * width + 2 * (at % small.width);
  return (leanings[top] + leanings[top + 1] + leanings[top + width] + leanings[top + width + 1]) / 4;
}

/** What must speak against a sample's side for it to be cut anew though it is far from the border: thin parts show so. */
const contradicting = 1.5;

/** What a sample's colour speaks for; colours that hardly differ are looked at once. */
function colourJudge(own: ColourModel, other: ColourModel): (grid: ColourGrid, at: number) => number {
  const known = new Float32Array(1 << 20).fill(NaN);
  return ({ y, u, v }, at) => {
    const [a, b, c] = [y[at] >> 2, u[at] >> 1, v[at] >> 1];
    const key = (a << 14) | (b << 7) | c;
    let says = known[key];
    if (isNaN(says)) {
      // The middle of the colours that share it.
      const [cy, cu, cv] = [4 * a + 1.5, 2 * b + 0.5, 2 * c + 0.5];
      says = known[key] = other.surprise(cy, cu, cv) - own.surprise(cy, cu, cv);
    }
    return says;
  };
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
  let [left, right, top, bottom] = [width, 0, height, 0];
  for (const at of inside) {
    const [i, j] = [at % width, floor(at / width)];
    [left, right] = [min(left, i), max(right, i)];
    [top, bottom] = [min(top, j), max(bottom, j)];
  }
  const side = round(rim * width);
  const [wide, tall] = [surroundings * (right - left) + side, surroundings * (bottom - top) + side];
  const [x0, x1] = [max(side, left - wide), min(width - 1 - side, right + wide)];
  const [y0, y1] = [max(side, top - tall), min(height - 1 - side, bottom + tall)];
  for (let j = 0, at = 0; j < height; j++)
    for (let i = 0; i < width; i++, at++)
      if (!seeds[at] && (i < x0 || i > x1 || j < y0 || j > y1)) outside.push(at);
  return outside.length > 0 ? { inside, outside } : null;
}

function seedsIn(seeds: Uint8Array, mark: number): number[] {
  const list: number[] = [];
  for (let at = 0; at < seeds.length; at++) if (seeds[at] === mark) list.push(at);
  return list;
}

/** Most samples that a colour model is learnt from. */
const mostSamples = 2500;

/** The colours of some of these samples, evenly. */
function coloursAt({ y, u, v }: ColourGrid, list: readonly number[]): number[] {
  const stride = max(1, floor(list.length / mostSamples));
  const colours: number[] = [];
  for (let k = 0; k < list.length; k += stride) colours.push(y[list[k]], u[list[k]], v[list[k]]);
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
      if (isNaN(moves[at])) continue;
      counts[classOf(moves[at])]++;
      all++;
    }
    return counts.map((count) => count / all);
  });
  const says = shares[0].map((share, k) => min(mostOfMoving, max(-mostOfMoving, log(share / shares[1][k]))));
  return moves.map((value) => (isNaN(value) ? 0 : says[classOf(value)]));
}

/** What the network speaks for at each sample; null where it does not see a person in what is taken to be inside. */
function personSays(shares: Float32Array, { inside }: Rests): Float32Array | null {
  let [sum, count] = [0, 0];
  for (const at of inside) {
    if (isNaN(shares[at])) continue;
    sum += shares[at];
    count++;
  }
  const mean = sum / max(1, count);
  const weight = min(1, (mean - believedFrom) / (believedWhollyFrom - believedFrom));
  if (!(weight > 0)) return null;
  return shares.map((share) =>
    isNaN(share) ? 0 : weight * within(log((share + 1e-4) / (1 - share + 1e-4)) + personBias, personMost),
  );
}

function within(value: number, most: number): number {
  return min(most, max(-most, value));
}

/** What a prior says of a sample so far inside it. */
function priorSays(depth: number): number {
  return within(depth * priorGrowth, priorMost);
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
