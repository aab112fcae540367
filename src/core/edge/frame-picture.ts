import { bilinear, meanOfSquares, type PicturePlanes } from '../picture/planes';

/** Luma of a picture, and of the same at half the size, and so on; 8 bits a sample, rows without padding. */
export interface LumaLevel {
  width: number;
  height: number;
  values: Uint8Array;
}

/** A frame as the finder sees it; its coordinates are the planes' own px, the first pixel's corner at (0, 0). */
export class FramePicture {
  readonly width: number;
  readonly height: number;
  private readonly levels: LumaLevel[];

  constructor(readonly planes: PicturePlanes) {
    this.width = planes.width;
    this.height = planes.height;
    this.levels = [{ width: planes.width, height: planes.height, values: planes.y }];
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
