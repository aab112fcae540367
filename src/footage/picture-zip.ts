import { encode } from 'fast-png';
import type { StreamTargetChunk } from 'mediabunny';
import type { PictureOf } from '@/core/formats/export-formats';
import { ZipOut } from './zip-out';

/** Pixels from the top row on: display values, 4 bytes each; greys, 16 bits each; or display values 0 to 1, 4 numbers each. */
export type Pixels = Uint8Array | Uint16Array | Float32Array;

/** A picture as PNG: a cut-out with alpha, a matte in greys, else without alpha. */
export function pngOf(pixels: Pixels, width: number, height: number, of: PictureOf): Uint8Array<ArrayBuffer> {
  if (pixels instanceof Uint16Array)
    return new Uint8Array(
      encode({ width, height, data: pixels, channels: 1, depth: 16 }, { zlib: { level: 3 } }),
    );
  if (pixels instanceof Float32Array) return deepPngOf(pixels, width, height);
  const channels = of === 'cut-out' ? 4 : of === 'matte' ? 1 : 3;
  let data = pixels;
  if (channels < 4) {
    data = new Uint8Array(width * height * channels);
    for (let i = 0, o = 0; i < pixels.length; i += 4)
      for (let k = 0; k < channels; k++) data[o++] = pixels[i + k];
  }
  return new Uint8Array(encode({ width, height, data, channels, depth: 8 }, { zlib: { level: 3 } }));
}

/** Colours of 16 bits each, without alpha. */
function deepPngOf(pixels: Float32Array, width: number, height: number): Uint8Array<ArrayBuffer> {
  const data = new Uint16Array(width * height * 3);
  for (let i = 0, o = 0; i < pixels.length; i += 4)
    for (let k = 0; k < 3; k++) data[o++] = 65_535 * Math.min(1, Math.max(0, pixels[i + k])) + 0.5;
  return new Uint8Array(encode({ width, height, data, channels: 3, depth: 16 }, { zlib: { level: 3 } }));
}

/** Numbered pictures in a ZIP that is written out as it grows; they are compressed already, and stored as they are. */
export class PictureZip {
  private readonly zip: ZipOut;
  /** Pictures in each folder. */
  private readonly written = new Map<string, number>();

  /** @param first number of the first picture; before frame 0 numbers are counted from there. */
  constructor(
    private readonly of: PictureOf,
    private readonly width: number,
    private readonly height: number,
    private readonly first: number,
    sink: WritableStream<StreamTargetChunk>,
  ) {
    this.zip = new ZipOut(sink);
  }

  async start() {
    // A ZIP has no beginning of its own.
  }

  /** @param folder its name and a slash, or nothing. */
  async add(pixels: Pixels, folder = '') {
    const before = this.written.get(folder) ?? 0;
    this.written.set(folder, before + 1);
    const number = String(Math.max(0, this.first) + before).padStart(5, '0');
    const png = pngOf(pixels, this.width, this.height, this.of);
    await this.zip.add(`${folder}${this.of}-${number}.png`, png);
  }

  async finish() {
    await this.zip.finish();
  }

  async cancel() {
    await this.zip.cancel();
  }
}
