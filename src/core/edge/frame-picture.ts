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
