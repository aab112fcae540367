import { encode } from 'fast-png';
import { Zip, ZipPassThrough } from 'fflate';
import type { StreamTargetChunk } from 'mediabunny';
import type { ExportOf } from '@/core/formats/export-formats';

/** A picture as PNG: a cut-out with alpha, a matte in greys, else without alpha. */
export function pngOf(
  rgba: Uint8Array,
  width: number,
  height: number,
  of: ExportOf,
): Uint8Array<ArrayBuffer> {
  const channels = of === 'cut-out' ? 4 : of === 'matte' ? 1 : 3;
  let data = rgba;
  if (channels < 4) {
    data = new Uint8Array(width * height * channels);
    for (let i = 0, o = 0; i < rgba.length; i += 4)
      for (let k = 0; k < channels; k++) data[o++] = rgba[i + k];
  }
  return new Uint8Array(encode({ width, height, data, channels, depth: 8 }, { zlib: { level: 3 } }));
}

/** Bytes that are gathered before they are written out. */
const chunkSize = 4 * 1024 * 1024;

/** Numbered pictures in a ZIP that is written out as it grows; they are compressed already, and stored as they are. */
export class PictureZip {
  private readonly zip: Zip;
  private readonly out: WritableStreamDefaultWriter<StreamTargetChunk>;
  private gathered: Uint8Array[] = [];
  private gatheredBytes = 0;
  private position = 0;
  private written = 0;
  private failure: Error | null = null;

  /** @param first number of the first picture; before frame 0 numbers are counted from there. */
  constructor(
    private readonly of: ExportOf,
    private readonly width: number,
    private readonly height: number,
    private readonly first: number,
    sink: WritableStream<StreamTargetChunk>,
  ) {
    this.out = sink.getWriter();
    this.zip = new Zip((error, bytes) => {
      if (error) this.failure = error;
      else this.gather(bytes);
    });
  }

  async start() {
    // A ZIP has no beginning of its own.
  }

  /** @param rgba display values, 4 bytes a pixel, top row first. */
  async add(rgba: Uint8Array) {
    const number = String(Math.max(0, this.first) + this.written++).padStart(5, '0');
    const entry = new ZipPassThrough(`${this.of}-${number}.png`);
    this.zip.add(entry);
    entry.push(pngOf(rgba, this.width, this.height, this.of), true);
    if (this.gatheredBytes >= chunkSize) await this.flush();
    if (this.failure) throw this.failure;
  }

  async finish() {
    this.zip.end();
    await this.flush();
    if (this.failure) throw this.failure;
    await this.out.close();
  }

  async cancel() {
    this.zip.terminate();
    await this.out.abort();
  }

  private gather(bytes: Uint8Array) {
    this.gathered.push(bytes);
    this.gatheredBytes += bytes.length;
  }

  private async flush() {
    const data = new Uint8Array(this.gatheredBytes);
    let at = 0;
    for (const bytes of this.gathered) {
      data.set(bytes, at);
      at += bytes.length;
    }
    [this.gathered, this.gatheredBytes] = [[], 0];
    if (data.length === 0) return;
    await this.out.write({ type: 'write', data, position: this.position });
    this.position += data.length;
  }
}
