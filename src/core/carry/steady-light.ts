import { FramePicture, halvingsTo } from '../picture/frame-picture';
import type { PicturePlanes } from '../picture/planes';
import type { Frames } from './frames';

const { abs, exp, floor, log, max, min, round } = Math;

/** Widest picture, samples, on which the light is compared. */
const widest = 200;
/** Code values over black from which on a sample says how bright the light is, and up to which it is not cut off. */
const [leastLuma, mostLuma] = [24, 232];
/** Samples that there must be for the light to be compared at all. */
const leastSamples = 400;
/** Bins of the logarithm of what the light is multiplied by, how wide they are, and how far they reach to each side. */
const [binWidth, bins] = [0.004, 200];
/** Logarithm within which samples belong to those that only the light changes, and how often those are looked for. */
const [nearby, rounds] = [0.06, 6];
/** Logarithm of a change from frame to frame below which there is none. */
const stillBelow = 0.01;
/**
 * The same frames without the flicker of their light: each is made as bright as the first one that is asked for, so that what is
 * compared from frame to frame differs by what moves only. Frames whose light does not change stay as they are. For one following
 * only: the light is compared frame by frame from what was asked for last.
 */
export class SteadyFrames implements Frames {
  /** Logarithms of the light against the first frame's that was asked for. */
  private readonly light = new Map<number, number>();
  private readonly pictures = new WeakMap<FramePicture, FramePicture>();

  constructor(private readonly frames: Frames) {}

  get count(): number {
    return this.frames.count;
  }

  async picture(frame: number): Promise<FramePicture> {
    const own = await this.frames.picture(frame);
    const light = await this.lightOf(frame);
    if (abs(light) < stillBelow) return own;
    let made = this.pictures.get(own);
    if (!made) {
      made = new FramePicture(inOtherLight(own.planes, exp(-light)));
      this.pictures.set(own, made);
    }
    return made;
  }

  private async lightOf(frame: number): Promise<number> {
    const known = this.light.get(frame);
    if (known !== undefined) return known;
    if (this.light.size === 0) {
      this.light.set(frame, 0);
      return 0;
    }
    const away = (other: number) => abs(other - frame);
    const nearest = [...this.light.keys()].reduce((best, other) => (away(other) < away(best) ? other : best));
    const way = frame > nearest ? 1 : -1;
    let light = this.light.get(nearest)!;
    let before = await this.frames.picture(nearest);
    for (let at = nearest + way; ; at += way) {
      const picture = await this.frames.picture(at);
      light += lightChange(before, picture);
      this.light.set(at, light);
      if (at === frame) return light;
      before = picture;
    }
  }
}

/**
 * The logarithm of what the light is multiplied by from one picture to the next, in code values over black: that by which most
 * samples about the median differ (mean shift, Comaniciu and Meer 2002), whatever moves; 0 where it does not change or cannot be told.
 */
export function lightChange(from: FramePicture, to: FramePicture): number {
  const k = halvingsTo(from.width, widest);
  const [a, b] = [from.level(k).values, to.level(k).values];
  const black = from.planes.colour.fullRange ? 0 : 16;
  const counts = new Uint32Array(2 * bins + 1);
  let all = 0;
  const least = leastLuma + black;
  for (let at = 0; at < a.length; at++) {
    if (a[at] < least || b[at] < least || a[at] > mostLuma || b[at] > mostLuma) continue;
    const bin = round(log((b[at] - black) / (a[at] - black)) / binWidth);
    if (bin < -bins || bin > bins) continue;
    counts[bin + bins]++;
    all++;
  }
  if (all < leastSamples) return 0;
  let [middle, below] = [0, 0];
  while (below + counts[middle] < all / 2) below += counts[middle++];
  let light = (middle - bins) * binWidth;
  for (let round = 0; round < rounds; round++) {
    let [sum, count] = [0, 0];
    const [first, last] = [light - nearby, light + nearby].map((edge) => floor(edge / binWidth) + bins);
    for (let bin = max(0, first); bin <= min(2 * bins, last); bin++) {
      sum += counts[bin] * (bin - bins) * binWidth;
      count += counts[bin];
    }
    if (count === 0) break;
    light = sum / count;
  }
  return abs(light) < stillBelow ? 0 : light;
}

/** A picture as it would be in light so many times as bright. */
function inOtherLight(planes: PicturePlanes, factor: number): PicturePlanes {
  const black = planes.colour.fullRange ? 0 : 16;
  const table = (zero: number) =>
    Uint8Array.from({ length: 256 }, (_, value) => min(255, max(0, round(zero + (value - zero) * factor))));
  const [luma, chroma] = [table(black), table(128)];
  const through = (plane: Uint8Array, by: Uint8Array) => {
    const out = new Uint8Array(plane.length);
    for (let at = 0; at < out.length; at++) out[at] = by[plane[at]];
    return out;
  };
  return {
    ...planes,
    y: through(planes.y, luma),
    u: through(planes.u, chroma),
    v: through(planes.v, chroma),
  };
}
