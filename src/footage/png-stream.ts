import type { StreamTargetChunk } from 'mediabunny';
import type { PictureOf } from '@/core/formats/export-formats';
import { ChunkedOut } from './chunked-out';
import { type Pixels, pngOf } from './picture-zip';

/** PNG pictures one right after the other, as ffmpeg takes them from a pipe. */
export class PngStream {
  private readonly out: ChunkedOut;

  constructor(
    private readonly of: PictureOf,
    private readonly width: number,
    private readonly height: number,
    sink: WritableStream<StreamTargetChunk>,
  ) {
    this.out = new ChunkedOut(sink);
  }

  async start() {
    // Nothing comes before the first picture.
  }

  /** @param rgba display values, 4 bytes a pixel, top row first. */
  async add(rgba: Pixels) {
    this.out.take(null, pngOf(rgba, this.width, this.height, this.of));
    await this.out.flushIfLarge();
  }

  finish(): Promise<void> {
    return this.out.finish();
  }

  cancel(): Promise<void> {
    return this.out.cancel();
  }
}
