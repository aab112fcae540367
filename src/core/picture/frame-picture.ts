import { bilinear, meanOfSquares, type PicturePlanes } from './planes';

/** Luma of a picture, and of the same at half the size, and so on; 8 bits a sample, rows without padding. */
export interface LumaLevel {
  width: number;
  height: number;
  values: Uint8Array;
}

/** How often a picture is halved until it is no wider than that, px. */
export function halvingsTo(width: number, widest: number): number {
  let k = 0;
  while (width / 2 ** k > widest) k++;
  return k;
}

/** A frame as the finder sees it; its coordinates are the planes' own px, the first pixel's corner at (0, 0). */
export class FramePicture {
  readonly width: number;
  readonly height: number;
  private readonly levels: LumaLevel[];
  private smoothed: FramePicture | null = null;

  constructor(readonly planes: PicturePlanes) {
    this.width = planes.width;
    this.height = planes.height;
    this.levels = [{ width: planes.width, height: planes.height, values: planes.y }];
  }

  /** The same picture with less noise: each sample with its neighbours as 1, 2, 1 across and down. */
  get denoised(): FramePicture {
    const { planes } = this;
    const { width, height, chromaWidth, chromaHeight } = planes;
    return (this.smoothed ??= new FramePicture({
      ...planes,
      y: smooth(planes.y, width, height),
      u: smooth(planes.u, chromaWidth, chromaHeight),
      v: smooth(planes.v, chromaWidth, chromaHeight),
    }));
  }

  /** Luma at 1 / 2^k of the size. */
  level(k: number): LumaLevel {
    while (this.levels.length <= k) this.levels.push(halved(this.levels[this.levels.length - 1]));
    return this.levels[k];
  }
}

function halved({ width: stride, height: rows, values }: LumaLevel): LumaLevel {
  const [width, height] = [Math.max(1, stride >> 1), Math.max(1, rows >> 1)];
  return { width, height, values: meanOfSquares(values, stride, width, height, 1) };
}

/** Variance, px², by which {@link FramePicture.denoised} widens an edge. */
export const denoisedVariance = 0.5;

function smooth(from: Uint8Array, width: number, height: number): Uint8Array {
  if (width % 4 === 0 && from.byteOffset % 4 === 0) return smoothWords(from, width >> 2, height);
  const to = new Uint8Array(width * height);
  const last = width - 1;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const above = y > 0 ? row - width : row;
    const below = y + 1 < height ? row + width : row;
    let here = from[above] + 2 * from[row] + from[below];
    let before = here;
    for (let x = 0; x < width; x++) {
      const k = x < last ? x + 1 : last;
      const after = from[above + k] + 2 * from[row + k] + from[below + k];
      to[row + x] = (before + 2 * here + after + 8) >> 4;
      before = here;
      here = after;
    }
  }
  return to;
}

/** Every other byte of a word: two samples with room for sums up to 65,535 each. */
const lanes = 0x00ff00ff;
/** What rounds sums of 16 parts, in both lanes. */
const halves = 0x00080008;

/** The same, four samples at a time, two and two in the halves of a number (Lamport 1975): rows are `words` × 4 samples. */
function smoothWords(from: Uint8Array, words: number, height: number): Uint8Array {
  const samples = new Uint32Array(from.buffer, from.byteOffset, words * height);
  const to = new Uint32Array(words * height);
  const column = (a: number, b: number, c: number) => (a & lanes) + 2 * (b & lanes) + (c & lanes);
  for (let y = 0; y < height; y++) {
    const row = y * words;
    const above = y > 0 ? row - words : row;
    const below = y + 1 < height ? row + words : row;
    // Of samples 0 and 2, and of 1 and 3.
    let even = column(samples[above], samples[row], samples[below]);
    let odd = column(samples[above] >>> 8, samples[row] >>> 8, samples[below] >>> 8);
    let oddBefore = even << 16;
    for (let x = 0; x < words; x++) {
      let evenNext = odd >>> 16;
      let oddNext = 0;
      if (x + 1 < words) {
        const [a, b, c] = [samples[above + x + 1], samples[row + x + 1], samples[below + x + 1]];
        evenNext = column(a, b, c);
        oddNext = column(a >>> 8, b >>> 8, c >>> 8);
      }
      const evens = ((odd << 16) | (oddBefore >>> 16)) + 2 * even + odd + halves;
      const odds = even + 2 * odd + ((even >>> 16) | (evenNext << 16)) + halves;
      to[row + x] = ((evens >>> 4) & lanes) | (((odds >>> 4) & lanes) << 8);
      oddBefore = odd;
      even = evenNext;
      odd = oddNext;
    }
  }
  return new Uint8Array(to.buffer);
}

/** Luma between samples at px (x, y), corner-based; the nearest sample beyond the border. */
export function lumaAt({ width, height, values }: LumaLevel, x: number, y: number): number {
  return bilinear(values, width, height, x - 0.5, y - 0.5);
}

/** How luma changes there, a px across and down, over 1 px to either side, into `slope`. */
export function slopeAt(level: LumaLevel, x: number, y: number, slope: Float64Array): void {
  const { width, height, values } = level;
  const x0 = Math.floor(x - 0.5);
  const y0 = Math.floor(y - 0.5);
  if (x0 < 1 || y0 < 1 || x0 > width - 3 || y0 > height - 3) {
    slope[0] = (lumaAt(level, x + 1, y) - lumaAt(level, x - 1, y)) / 2;
    slope[1] = (lumaAt(level, x, y + 1) - lumaAt(level, x, y - 1)) / 2;
    return;
  }
  const right = x - 0.5 - x0;
  const down = y - 0.5 - y0;
  const left = 1 - right;
  const up = 1 - down;
  const b = y0 * width + x0;
  const [a, c, d] = [b - width, b + width, b + 2 * width];
  // The square of samples about the place, and those beside it.
  const [b0, b1, c0, c1] = [values[b], values[b + 1], values[c], values[c + 1]];
  const above = left * (b1 - values[b - 1]) + right * (values[b + 2] - b0);
  const below = left * (c1 - values[c - 1]) + right * (values[c + 2] - c0);
  slope[0] = (up * above + down * below) / 2;
  const before = up * (c0 - values[a]) + down * (values[d] - b0);
  const after = up * (c1 - values[a + 1]) + down * (values[d + 1] - b1);
  slope[1] = (left * before + right * after) / 2;
}
