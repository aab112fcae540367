import { type EdgeSettings, numbersPerPoint as N, type OutlineRow } from '../document/rows';
import { flattenOutline, regionOf, roundedCorners } from '../outline';
import { combineMatte, drawMatte, type MatteScratch } from './matte';

/** An outline together with where its points are at one frame, and how its edge is drawn there. */
export interface PosedOutline {
  outline: OutlineRow;
  edge: EdgeSettings;
  coordinates: readonly number[];
  /** Where the points are while the shutter is open, evenly spaced in time; empty without motion blur. */
  exposures: readonly (readonly number[])[];
}

/**
 * The matte of a layer's outlines: what they cut away, alpha 0 to 255, at `scale` of the shot's size.
 *
 * @param width, height of the matte in its own pixels: the shot's size times `scale`, rounded.
 * @param before what is cut before the first of them is joined: nothing, all, or what `out` holds.
 * @param out width·height bytes, written whole.
 */
export function drawOutlines(
  posed: readonly PosedOutline[],
  before: 'empty' | 'full' | 'as it is',
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  if (before !== 'as it is') out.fill(before === 'full' ? 255 : 0);
  let own: Uint8Array | null = null;
  posed.forEach((each, i) => {
    // The first one that adds to nothing needs no matte of its own.
    const target =
      i === 0 && before === 'empty' && each.outline.combine === 'add'
        ? out
        : (own ??= new Uint8Array(out.length));
    drawExposed(each, scale, width, height, target, scratch);
    if (target !== out) combineMatte(out, target, each.outline.combine);
  });
}

/** One outline's matte: the mean over its exposures where it has some. */
function drawExposed(
  { outline, edge, coordinates, exposures }: PosedOutline,
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  // A smaller picture moves by fewer of its own px: every second or third exposure will do.
  const stride = Math.max(1, Math.floor(1 / scale));
  const shown = exposures.filter((_, k) => k % stride === 0);
  if (shown.length < 2) return drawOne(outline, edge, coordinates, scale, width, height, out, scratch);
  const mean = new MeanOfMattes(out, scratch);
  for (const exposure of shown) {
    drawOne(outline, edge, exposure, scale, width, height, out, scratch);
    mean.add();
  }
  mean.finish(shown.length);
}

/** Sums mattes four pixels at a time, every other one in a word of its own, as there is room for 256 of them. */
class MeanOfMattes {
  private readonly words: Uint32Array;
  private readonly even: Uint32Array;
  private readonly odd: Uint32Array;
  private readonly rest: number;

  /** @param matte that each is drawn into, and the mean in the end. */
  constructor(
    private readonly matte: Uint8Array,
    scratch: MatteScratch,
  ) {
    if (matte.byteOffset % 4 !== 0) throw new RangeError('A matte begins on a word.');
    const count = matte.length >> 2;
    this.rest = matte.length & 3;
    this.words = new Uint32Array(matte.buffer, matte.byteOffset, count);
    [this.even, this.odd] = scratch.sums(count + this.rest);
  }

  add() {
    const { words, even, odd, matte, rest } = this;
    const count = words.length;
    for (let i = 0; i < count; i++) {
      const word = words[i];
      if (word === 0) continue;
      even[i] += word & 0x00ff00ff;
      odd[i] += (word >>> 8) & 0x00ff00ff;
    }
    for (let k = 0; k < rest; k++) even[count + k] += matte[4 * count + k];
  }

  finish(of: number) {
    const { words, even, odd, matte, rest } = this;
    const mean = new Uint8Array(255 * of + 1);
    for (let sum = 0; sum < mean.length; sum++) mean[sum] = Math.round(sum / of);
    const full = 255 * of;
    const whole = (full | (full << 16)) >>> 0;
    const count = words.length;
    for (let i = 0; i < count; i++) {
      const [a, b] = [even[i], odd[i]];
      if (a === 0 && b === 0) words[i] = 0;
      else if (a === whole && b === whole) words[i] = 0xffffffff;
      else
        words[i] =
          mean[a & 0xffff] | (mean[b & 0xffff] << 8) | (mean[a >>> 16] << 16) | (mean[b >>> 16] << 24);
    }
    for (let k = 0; k < rest; k++) matte[4 * count + k] = mean[even[count + k]];
  }
}

function drawOne(
  outline: OutlineRow,
  edge: EdgeSettings,
  coordinates: readonly number[],
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  const closed = outline.kind === 'loop';
  const inMatte = {
    featherInside: edge.featherInside * scale,
    featherOutside: edge.featherOutside * scale,
    spread: edge.spread * scale,
  };
  const round = roundedCorners(coordinates, edge.factors, closed, edge.roundness);
  const { factors } = round;
  const varying = factors.length > 0 ? ([] as number[]) : null;
  const points = round.coordinates.length / N;
  const line = flattenOutline(
    round.coordinates,
    closed,
    scale,
    flatteningTolerance(inMatte.featherInside + inMatte.featherOutside),
    varying
      ? (segment, t) => {
          const [a, b] = [factors[segment] ?? 1, factors[(segment + 1) % points] ?? 1];
          varying.push(a + (b - a) * t);
        }
      : undefined,
  );
  if (line.length < (closed ? 6 : 4)) {
    out.fill(0);
    return;
  }
  const region = regionOf(line, outline.kind, outline.sweptSide, width, height, varying);
  drawMatte(region, inMatte, width, height, out, scratch);
}

/** A soft edge rises by at most 1.5·255/feather code values a px: its polyline may be off by what is under one. */
function flatteningTolerance(feather: number): number {
  return Math.min(0.1, Math.max(0.02, feather / 400));
}
