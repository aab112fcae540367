import { height, width } from './frame';
import { gaussianTable, seeded } from './random';

/** Contrast, fall-off toward the corners and grain, as 8-bit RGB. */
export function develop(
  sums: Float32Array,
  grain: Grain,
  frame: number,
  contrast: number,
  vignette: number,
): Uint8Array {
  const rgb = new Uint8Array(width * height * 3);
  const { round } = Math;
  grain.seek(frame);
  for (let y = 0, i = 0, o = 0; y < height; y++) {
    const dy = (y - height / 2) / (width / 2);
    for (let x = 0; x < width; x++, i += 4, o += 3) {
      const dx = (x - width / 2) / (width / 2);
      const light = 1 - vignette * (dx * dx + dy * dy);
      const luma = grain.next();
      for (let c = 0; c < 3; c++) {
        const value = 128 + (sums[i + c] * light - 128) * contrast + luma + grain.next() * 0.35;
        rgb[o + c] = value < 0 ? 0 : value > 255 ? 255 : round(value);
      }
    }
  }
  return rgb;
}

/** Sensor noise from a table, begun at another place for every frame. */
export class Grain {
  private readonly table: Float32Array;
  private at = 0;

  constructor(
    private readonly seed: number,
    deviation: number,
  ) {
    this.table = gaussianTable(seeded(seed), 1 << 20).map((value) => value * deviation);
  }

  seek(frame: number) {
    this.at = Math.floor(seeded(this.seed * 1009 + frame)() * this.table.length);
  }

  next(): number {
    this.at = (this.at + 1) & (this.table.length - 1);
    return this.table[this.at];
  }
}
