import type { Shot } from '../model/shot';
import { quantile } from '../numbers/quantile';
import { type Luma, resizedLuma } from './luma';

/** Size at which frames are held against each other. */
const [across, down] = [32, 18];
/** How far a picture is looked for in the next one, px of that size: what a pan goes from frame to frame. */
const [farAcross, farDown] = [7, 2];
/** Standard deviation, code values, under which a picture says nothing. */
const plain = 4;
/** From this unlikeness on (1 − correlation) two frames may lie at either side of a cut, and from the second on they look it. */
const [unlike, different] = [0.18, 0.4];
/** How many times as unlike as its neighbours are: a cut is sudden, and a whip pan is not; where it looks alike, all the more. */
const [sudden, verySudden] = [1.8, 5];
/** Unlikeness of neighbours that is noise. */
const noise = 0.02;
/** Frames that a flash lasts at most, and unlikeness under which the picture after it is the one before. */
const longestFlash = 4;
const alike = 0.25;
/** Support of a movement that explains a pair of frames: then there is no cut between them. */
const explained = 0.3;
/** Histogram bins, and difference of histograms (0 to 1) under which two frames are of one take. */
const bins = 32;
const sameLight = 0.12;

/** A frame as it is held against others. */
interface Look {
  luma: Luma;
  spread: number;
  histogram: Float64Array;
}

/**
 * Finds the cuts in footage, frame by frame: `add` every frame in order, then `result`. Two frames are held against each other by
 * the correlation of their luma at the best of some shifts, so that a pan is none, and by their histograms; what is as unlike
 * before and after (a whip pan, a fade) is none either, and neither is a flash, after which the picture is what it was.
 * Swain and Ballard 1991 for histograms; the rest is common practice, no source.
 */
export class CutFinder {
  /** Of the last frames, the newest last. */
  private readonly looks: Look[] = [];
  private readonly unlikeness: number[] = [];
  private readonly candidates: { frame: number; support: number; lightOff: number }[] = [];
  private readonly flashes = new Set<number>();
  private count = 0;

  /** @param values luma of the next frame, upright. @param support share of it whose movement from the frame before is known. */
  add(values: ArrayLike<number>, width: number, height: number, support: number) {
    const look = lookAt(resizedLuma(values, width, height, across, down));
    const before = this.looks[this.looks.length - 1];
    const off = before ? unlikenessOf(before, look) : 0;
    this.unlikeness.push(off);
    // After a flash the picture is like one that came before it.
    const lately =
      this.count - (this.candidates[this.candidates.length - 1]?.frame ?? -Infinity) <= longestFlash;
    for (let back = 2; lately && back <= longestFlash + 1 && back <= this.looks.length; back++) {
      const earlier = this.looks[this.looks.length - back];
      if (unlikenessOf(earlier, look) < alike && histogramOff(earlier, look) < 2 * sameLight)
        for (let k = this.count - back + 1; k <= this.count; k++) this.flashes.add(k);
    }
    if (off >= unlike) {
      const lightOff = histogramOff(before, look);
      this.candidates.push({ frame: this.count, support, lightOff });
    }
    this.looks.push(look);
    if (this.looks.length > longestFlash + 2) this.looks.shift();
    this.count++;
  }

  /** The frames that begin another take, ascending; the first frame is none of them. */
  result(): number[] {
    const usual = this.unlikeness.length > 1 ? quantile(this.unlikeness, 0.5) : 0;
    return this.candidates
      .filter(({ frame, support, lightOff }) => {
        if (support >= explained || this.flashes.has(frame)) return false;
        const own = this.unlikeness[frame];
        // To both sides: the pair right beside a cut is within one take.
        const near = [frame - 2, frame - 1, frame + 1, frame + 2].map((k) => this.unlikeness[k] ?? 0);
        const beside = Math.max(near[1], near[2]);
        if (own < different) return own > verySudden * Math.max(beside, usual, noise);
        return own > sudden * Math.max(beside, usual) || (lightOff > 3 * sameLight && own > 1.3 * beside);
      })
      .map(({ frame }) => frame);
  }
}

function lookAt(luma: Luma): Look {
  const { values } = luma;
  const histogram = new Float64Array(bins);
  let [sum, squares] = [0, 0];
  for (const value of values) {
    sum += value;
    squares += value * value;
    histogram[Math.min(bins - 1, Math.max(0, Math.floor((value * bins) / 256)))] += 1 / values.length;
  }
  const mean = sum / values.length;
  return { luma, spread: Math.sqrt(Math.max(0, squares / values.length - mean * mean)), histogram };
}

/** Half the sum of the differences of two histograms, 0 to 1. */
function histogramOff(a: Look, b: Look): number {
  let sum = 0;
  for (let k = 0; k < bins; k++) sum += Math.abs(a.histogram[k] - b.histogram[k]);
  return sum / 2;
}

/** 1 less the correlation of two pictures at the shift at which it is greatest: 0 where they are alike, over 1 where opposite. */
function unlikenessOf(a: Look, b: Look): number {
  const [dull, other] = a.spread < b.spread ? [a, b] : [b, a];
  // A plain picture is like any plain one, and unlike one that is not.
  if (dull.spread < plain) return other.spread < 3 * plain ? 0 : 1;
  let most = -1;
  for (let dy = -farDown; dy <= farDown; dy++)
    for (let dx = -farAcross; dx <= farAcross; dx++) {
      const found = correlation(a.luma.values, b.luma.values, dx, dy);
      if (found > most) most = found;
    }
  return 1 - most;
}

function correlation(a: ArrayLike<number>, b: ArrayLike<number>, dx: number, dy: number): number {
  let [n, sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0, 0];
  for (let y = Math.max(0, dy); y < Math.min(down, down + dy); y++)
    for (let x = Math.max(0, dx); x < Math.min(across, across + dx); x++) {
      const va = a[(y - dy) * across + x - dx];
      const vb = b[y * across + x];
      n++;
      sa += va;
      sb += vb;
      saa += va * va;
      sbb += vb * vb;
      sab += va * vb;
    }
  const spread = Math.sqrt(Math.max(1e-9, (saa - (sa * sa) / n) * (sbb - (sb * sb) / n)));
  return (sab - (sa * sb) / n) / spread;
}

/** First and last frame of each take between cuts. @param cuts frames that begin another take, ascending. */
export function takesOf(frameCount: number, cuts: readonly number[]): [first: number, last: number][] {
  return [0, ...cuts].map((first, k) => [first, (cuts[k] ?? frameCount) - 1]);
}

/** First and last frame of the take that a frame of a shot belongs to. */
export function takeAt(
  { frameCount, motion }: Pick<Shot, 'frameCount' | 'motion'>,
  frame: number,
): [first: number, last: number] {
  const takes = takesOf(frameCount, motion?.cuts ?? []);
  return takes.findLast(([first]) => first <= frame) ?? takes[0];
}
