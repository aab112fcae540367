import type { PicturePlanes } from '@/core/picture/planes';
import type { FrameCache } from './frame-cache';
import type { PictureSource } from './frame-source';

/** Luma of middle grey: half-way between black (16) and white (235) in BT.709's narrow range. */
const middle = 126;

/** Stands for a shot whose files were deleted: one grey picture on every frame, small, as it has no detail. */
export class GreySource implements PictureSource {
  private readonly planes: PicturePlanes;

  constructor(
    readonly sourceId: string,
    { width, height }: { width: number; height: number },
    private readonly cache: FrameCache,
  ) {
    const sixteenth = (size: number) => Math.max(1, Math.round(size / 16));
    const [chromaWidth, chromaHeight] = [sixteenth(width), sixteenth(height)];
    const chroma = chromaWidth * chromaHeight;
    this.planes = {
      ...{ width: 2 * chromaWidth, height: 2 * chromaHeight, chromaWidth, chromaHeight },
      y: new Uint8Array(4 * chroma).fill(middle),
      u: new Uint8Array(chroma).fill(128),
      v: new Uint8Array(chroma).fill(128),
      colour: { matrix: 'bt709', fullRange: false },
    };
  }

  async frame(frame: number, halvings = 0): Promise<PicturePlanes> {
    this.cache.set(this.sourceId, frame, this.planes, halvings);
    return this.planes;
  }

  readAhead() {
    // It is always there.
  }

  keepOnly() {
    // Nothing waits.
  }

  async rest() {
    // Nothing is held.
  }

  async close() {
    // Nothing is held.
  }
}
