import type { PicturePlanes } from '../picture/planes';

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
  const width = Math.max(1, stride >> 1);
  const height = Math.max(1, rows >> 1);
  const to = new Uint8Array(width * height);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0, i = 2 * y * stride; x < width; x++, i += 2)
      to[o++] = (values[i] + values[i + 1] + values[i + stride] + values[i + stride + 1] + 2) >> 2;
  return { width, height, values: to };
}

/** Luma between samples at px (x, y), corner-based; the nearest sample beyond the border. */
export function lumaAt({ width, height, values }: LumaLevel, x: number, y: number): number {
  const cx = x < 0.5 ? 0 : x > width - 0.5 ? width - 1 : x - 0.5;
  const cy = y < 0.5 ? 0 : y > height - 0.5 ? height - 1 : y - 0.5;
  const x0 = cx | 0;
  const y0 = cy | 0;
  const fx = cx - x0;
  const right = x0 + 1 < width ? 1 : 0;
  const below = y0 + 1 < height ? width : 0;
  const i = y0 * width + x0;
  const top = values[i] + (values[i + right] - values[i]) * fx;
  const bottom = values[i + below] + (values[i + below + right] - values[i + below]) * fx;
  return top + (bottom - top) * (cy - y0);
}
