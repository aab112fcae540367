import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { deserialize, serialize } from 'node:v8';
import type { Frames } from '../../src/core/carry/frames';
import { FramePicture } from '../../src/core/picture/frame-picture';
import type { PicturePlanes } from '../../src/core/picture/planes';
import { patchesOf } from '../../src/core/subject/patches';
import { aptInstall } from '../../scripts/prepare.mjs';

/** Walkers before a still camera, as Debian's package opencv-doc ships them; installed by the bench, never committed. */
const film = '/usr/share/doc/opencv-doc/examples/data/vtest.avi';
const [filmWidth, filmHeight] = [768, 576];
/** Of these frames, evenly over the film, the median is the empty scene. */
const everyOther = 8;
/** Code values by which a sample of a walker differs from the empty scene, in the channel that differs most. */
const differing = 45;
/** px by which the mask's gaps are closed. */
const closing = 2;

/** px of the film that a passage shows, and how often they are enlarged, as if filmed nearer. */
export const [cutWidth, cutHeight, enlarged] = [320, 180, 4];
export const [width, height] = [cutWidth * enlarged, cutHeight * enlarged];

/** One walker's way through a part of the film. */
export interface Passage {
  name: string;
  /** The part's left and top, px of the film. */
  left: number;
  top: number;
  /** First and last frame. */
  frames: readonly [first: number, last: number];
  /** A place on the walker on the first frame, px of the film. */
  on: readonly [x: number, y: number];
}

/** A passage as footage, with a mask of its walker for each frame. */
export interface Walk extends Frames {
  pictures: FramePicture[];
  /** At the film's own px, `cutWidth` × `cutHeight`; null where the walker cannot be told from another. */
  truths: (Uint8Array | null)[];
}

/** A passage as it is kept. */
interface KeptWalk {
  planes: PicturePlanes[];
  truths: Walk['truths'];
}

/** Passages one by one, those fitted on or those not; made once and kept in the machine's folder for what is temporary. */
export async function* walks(which: 'fitted' | 'unseen'): AsyncGenerator<Passage & Walk> {
  const kept = path.join(os.tmpdir(), 'kiv-walkers');
  let film: WalkerFilm | null = null;
  for (const passage of which === 'fitted' ? passages : unseen) {
    const file = path.join(
      kept,
      `${[passage.left, passage.top, ...passage.frames, ...passage.on].join('-')}.bin`,
    );
    if (!existsSync(file)) {
      film ??= await WalkerFilm.read();
      const { planes, truths } = film.walk(passage);
      mkdirSync(kept, { recursive: true });
      writeFileSync(file, serialize({ planes, truths }));
    }
    const { planes, truths } = deserialize(readFileSync(file)) as KeptWalk;
    const pictures = planes.map((each) => new FramePicture(each));
    yield {
      ...passage,
      pictures,
      truths,
      count: planes.length,
      picture: (k) => Promise.resolve(pictures[k]),
    };
  }
}

/** The film's frames, R, G and B by turns, and the masks of all that moves in them. */
export class WalkerFilm {
  private constructor(
    private readonly rgb: Uint8Array,
    private readonly empty: Uint8Array,
  ) {}

  static async read(): Promise<WalkerFilm> {
    if (!existsSync(film)) await aptInstall(['opencv-doc'], 'for its film of walkers');
    const out = spawnSync('ffmpeg', ['-v', 'error', '-i', film, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'], {
      maxBuffer: 2 ** 32,
    });
    if (out.status !== 0) throw new Error(`ffmpeg could not read ${film}: ${String(out.stderr)}`);
    const rgb = new Uint8Array(out.stdout.buffer, out.stdout.byteOffset, out.stdout.length);
    return new WalkerFilm(rgb, medianOf(rgb));
  }

  get count(): number {
    return Math.floor(this.rgb.length / frameBytes);
  }

  /** What differs from the empty scene on a frame, over the whole film: 1 each. */
  moving(frame: number): Uint8Array {
    const own = this.rgb.subarray(frame * frameBytes, (frame + 1) * frameBytes);
    const mask = new Uint8Array(filmWidth * filmHeight);
    for (let i = 0; i < mask.length; i++) {
      for (let c = 3 * i; c < 3 * i + 3; c++)
        if (own[c] - this.empty[c] > differing || this.empty[c] - own[c] > differing) mask[i] = 1;
    }
    return spread(spread(mask, 1), 0);
  }

  /** A passage's pictures and masks. */
  walk({ left, top, frames: [first, last], on: [x, y] }: Passage): KeptWalk {
    const planes: PicturePlanes[] = [];
    const truths: Walk['truths'] = [];
    let course: Course = { mask: new Uint8Array(filmWidth * filmHeight), size: 0, way: [0, 0] };
    course.mask[Math.round(y) * filmWidth + Math.round(x)] = 1;
    for (let frame = first; frame <= last; frame++) {
      planes.push(this.enlargement(frame, left, top));
      const next = walkerOn(this.moving(frame), course);
      truths.push(next.alone ? cutOut(next.mask, left, top) : null);
      course = next;
    }
    return { planes, truths };
  }

  private enlargement(frame: number, left: number, top: number): PicturePlanes {
    const own = this.rgb.subarray(frame * frameBytes, (frame + 1) * frameBytes);
    const y = new Uint8Array(width * height);
    const [cw, ch] = [width / 2, height / 2];
    const [u, v] = [new Uint8Array(cw * ch), new Uint8Array(cw * ch)];
    const rgb = new Float64Array(3);
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        sample(own, left + (i + 0.5) / enlarged - 0.5, top + (j + 0.5) / enlarged - 0.5, rgb);
        const [r, g, b] = rgb;
        const luma = 0.2126 * r + 0.7152 * g + 0.0722 * b;
        y[j * width + i] = 16.5 + (219 / 255) * luma;
        if (i % 2 || j % 2) continue;
        const k = (j >> 1) * cw + (i >> 1);
        u[k] = 128.5 + (((b - luma) / 1.8556) * 224) / 255;
        v[k] = 128.5 + (((r - luma) / 1.5748) * 224) / 255;
      }
    const colour = { matrix: 'bt709', fullRange: false } as const;
    return { width, height, chromaWidth: cw, chromaHeight: ch, y, u, v, colour };
  }
}

const frameBytes = 3 * filmWidth * filmHeight;

/** Each sample's median over the film. */
function medianOf(rgb: Uint8Array): Uint8Array {
  const frames = Array.from(
    { length: Math.floor(rgb.length / frameBytes / everyOther) },
    (_, k) => everyOther * k * frameBytes,
  );
  const values = new Uint8Array(frames.length);
  return Uint8Array.from({ length: frameBytes }, (_, i) => {
    for (let k = 0; k < frames.length; k++) values[k] = rgb[frames[k] + i];
    return values.sort()[values.length >> 1];
  });
}

/** A mask in which one value is spread by a square of `closing` px to each side. */
function spread(mask: Uint8Array, value: 0 | 1): Uint8Array {
  let from = mask;
  for (const step of [1, filmWidth]) {
    const to = from.slice();
    for (let i = closing * step; i + closing * step < from.length; i++)
      if (from[i] === value) for (let k = -closing; k <= closing; k++) to[i + k * step] = value;
    from = to;
  }
  return from;
}

/** R, G and B between samples, bilinear, the border's samples repeated. */
function sample(rgb: Uint8Array, x: number, y: number, into: Float64Array) {
  const cx = Math.min(filmWidth - 1.001, Math.max(0, x));
  const cy = Math.min(filmHeight - 1.001, Math.max(0, y));
  const [i, j] = [cx | 0, cy | 0];
  const [u, v] = [cx - i, cy - j];
  for (let c = 0, at = 3 * (j * filmWidth + i); c < 3; c++, at++) {
    const below = at + 3 * filmWidth;
    into[c] =
      (1 - v) * ((1 - u) * rgb[at] + u * rgb[at + 3]) + v * ((1 - u) * rgb[below] + u * rgb[below + 3]);
  }
}

/** How a walker has gone so far. */
interface Course {
  /** Where it is, or is thought to be while it cannot be told from another. */
  mask: Uint8Array;
  /** Samples of it when it was last alone; 0: it was not yet. */
  size: number;
  /** px from frame to frame, of late. */
  way: readonly [number, number];
}

/** Times a walker's mask may grow or shrink from frame to frame while it is taken to be alone. */
const alike = 1.5;
/** Samples below which a patch is noise. */
const leastPatch = 24;
/** Share of the newest step in a walker's way. */
const newest = 0.2;

/**
 * The patches that lie over where the walker was, as one mask: it may fall apart before a dark ground. Where it grows or shrinks at
 * once it has met another, or something hides it; then it only goes on as before.
 */
function walkerOn(moving: Uint8Array, { mask: before, size: was, way }: Course): Course & { alone: boolean } {
  const patches = patchesOf(moving, filmWidth, filmHeight);
  const expected = shifted(before, way);
  const own = new Set<number>();
  for (let i = 0; i < expected.length; i++)
    if (expected[i] && moving[i] && patches.size[patches.of[i]] >= leastPatch) own.add(patches.of[i]);
  const mask = new Uint8Array(moving.length);
  let size = 0;
  for (let i = 0; i < mask.length; i++) if (moving[i] && own.has(patches.of[i])) size += mask[i] = 1;
  const alone = size > 0 && (was === 0 || (size < alike * was && size > was / alike));
  if (!alone) return { mask: expected, size: was, way, alone };
  if (was === 0) return { mask, size, way, alone };
  const [a, b] = [middleOf(before), middleOf(mask)];
  const went = (k: 0 | 1) => (1 - newest) * way[k] + newest * (b[k] - a[k]);
  return { mask, size, way: [went(0), went(1)], alone };
}

function shifted(mask: Uint8Array, [dx, dy]: readonly [number, number]): Uint8Array {
  const by = Math.round(dy) * filmWidth + Math.round(dx);
  const out = new Uint8Array(mask.length);
  for (let i = Math.max(0, by); i < out.length && i - by < mask.length; i++) out[i] = mask[i - by];
  return out;
}

function middleOf(mask: Uint8Array): [number, number] {
  let [x, y, count] = [0, 0, 0];
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    x += i % filmWidth;
    y += Math.floor(i / filmWidth);
    count++;
  }
  return [x / count, y / count];
}

function cutOut(mask: Uint8Array, left: number, top: number): Uint8Array {
  const out = new Uint8Array(cutWidth * cutHeight);
  for (let j = 0; j < cutHeight; j++)
    out.set(
      mask.subarray((top + j) * filmWidth + left, (top + j) * filmWidth + left + cutWidth),
      j * cutWidth,
    );
  return out;
}

/** Single walkers, each for itself: frames 340 to 440 of the film's right lower part are kept apart, and in none of them. */
const passages: readonly Passage[] = [
  { name: 'half out', left: 180, top: 396, frames: [604, 652], on: [336, 500] },
  { name: 'lawn', left: 10, top: 240, frames: [690, 724], on: [140, 370] },
  { name: 'border', left: 448, top: 225, frames: [43, 76], on: [740, 330] },
  { name: 'road', left: 380, top: 165, frames: [503, 541], on: [573, 280] },
  { name: 'beside another', left: 448, top: 260, frames: [534, 575], on: [650, 320] },
  { name: 'carries', left: 400, top: 160, frames: [628, 672], on: [630, 285] },
  { name: 'to the board', left: 340, top: 180, frames: [636, 668], on: [540, 300] },
  { name: 'turns', left: 448, top: 190, frames: [748, 784], on: [650, 268] },
  { name: 'across', left: 240, top: 180, frames: [266, 298], on: [505, 285] },
  { name: 'across the line', left: 340, top: 140, frames: [593, 623], on: [616, 255] },
  { name: 'before the board', left: 200, top: 180, frames: [410, 464], on: [310, 250] },
  { name: 'meets', left: 180, top: 180, frames: [452, 483], on: [328, 275] },
];

/**
 * Passages that nothing was fitted on, and nobody chose: from every sixtieth frame, the largest upright walker that is alone for 28 of
 * 35 frames, where no other passage is and nothing is kept apart.
 */
const unseen: readonly Passage[] = [
  // To frame 169 by the rule; from 153 on the mask takes in another, who comes from behind the sign with him.
  { name: 'unseen, 135', left: 234, top: 136, frames: [135, 152], on: [381, 224] },
  { name: 'unseen, 195', left: 444, top: 214, frames: [195, 229], on: [588, 302] },
  { name: 'unseen, 255', left: 448, top: 68, frames: [255, 289], on: [634, 156] },
  { name: 'unseen, 555', left: 443, top: 109, frames: [555, 589], on: [589, 197] },
  { name: 'unseen, 615', left: 0, top: 84, frames: [615, 649], on: [135, 173] },
];
