import { rgbaToI420 } from '@/core/colour/matrix';
import { type PicturePlanes, reducePlanes } from '@/core/picture/planes';
import type { FrameCache } from './frame-cache';
import type { PictureSource } from './frame-source';

/** Pictures, one file for each frame, decoded in the thread that asks; transparent parts are black. */
export class StillSource implements PictureSource {
  private wanted: number[] = [];
  private wantedHalvings = 0;
  private reading = false;
  private closed = false;

  /** @param url of the folder; the frame's number is put behind it. */
  constructor(
    readonly sourceId: string,
    private readonly url: string,
    readonly frameCount: number,
    private readonly cache: FrameCache,
    private readonly onDecoded: (frame: number, planes: PicturePlanes) => void = () => {},
  ) {}

  async frame(frame: number, halvings = 0): Promise<PicturePlanes> {
    if (!Number.isInteger(frame) || frame < 0 || frame >= this.frameCount)
      throw new RangeError(`The shot has frames 0 to ${this.frameCount - 1}, not ${frame}.`);
    const held = this.cache.get(this.sourceId, frame, halvings);
    if (held) return held;
    const planes = reducePlanes(await this.decode(frame), halvings);
    if (!this.closed) {
      this.cache.set(this.sourceId, frame, planes, halvings);
      this.onDecoded(frame, planes);
    }
    return planes;
  }

  readAhead(frames: readonly number[], halvings = 0) {
    this.wantedHalvings = halvings;
    this.wanted = frames.filter((frame) => frame >= 0 && frame < this.frameCount);
    void this.read();
  }

  keepOnly() {
    // A picture is decoded in one go: there is nothing to give up half-way.
  }

  async rest() {
    // Nothing is held between two pictures.
  }

  async close() {
    this.closed = true;
    this.wanted = [];
  }

  private async read() {
    if (this.reading) return;
    this.reading = true;
    try {
      while (this.wanted.length > 0 && !this.closed) {
        const next = this.wanted.shift()!;
        const halvings = this.wantedHalvings;
        if (!this.cache.has(this.sourceId, next, halvings)) await this.frame(next, halvings);
      }
    } catch {
      // Whoever asks for the frame itself is told.
      this.wanted = [];
    } finally {
      this.reading = false;
    }
  }

  private async decode(frame: number): Promise<PicturePlanes> {
    const response = await fetch(`${this.url}/${frame}`);
    if (!response.ok) throw new Error(`Picture ${frame} cannot be read from the server.`);
    const bitmap = await createImageBitmap(await response.blob(), { premultiplyAlpha: 'premultiply' }).catch(
      () => {
        throw new Error(`Picture ${frame} cannot be decoded. Save it again and bring the pictures in anew.`);
      },
    );
    // 4:2:0 needs even sizes; an odd one is stretched by a pixel, and shown at its own size again.
    const [width, height] = [bitmap.width + (bitmap.width % 2), bitmap.height + (bitmap.height % 2)];
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    context.fillRect(0, 0, width, height);
    context.drawImage(bitmap, 0, 0, width, height);
    bitmap.close();
    return planesOfRgba(context.getImageData(0, 0, width, height).data, width, height);
  }
}

const colour = { matrix: 'bt709' as const, fullRange: false };

function planesOfRgba(rgba: Uint8ClampedArray, width: number, height: number): PicturePlanes {
  const [luma, chroma] = [width * height, (width * height) / 4];
  const i420 = new Uint8Array(luma + 2 * chroma);
  rgbaToI420(rgba, width, height, colour, i420);
  return {
    width,
    height,
    chromaWidth: width / 2,
    chromaHeight: height / 2,
    y: i420.subarray(0, luma),
    u: i420.subarray(luma, luma + chroma),
    v: i420.subarray(luma + chroma),
    colour,
  };
}
