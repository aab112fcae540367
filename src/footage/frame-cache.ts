import { LRUCache } from 'lru-cache';
import { byteLength, type PicturePlanes, reducePlanes } from '@/core/picture/planes';

/** Decoded pictures by source, frame and how often they were halved, bounded in bytes; the longest unused go first. */
export class FrameCache {
  private readonly frames: LRUCache<string, PicturePlanes>;
  /** A picture larger than the budget: held alone while it is the newest, as it has been asked for. */
  private oversized: { name: string; planes: PicturePlanes } | null = null;

  /**
   * @param budget most bytes that the pictures may take together.
   * @param reduces whether a smaller picture is made from any larger one that is held: then a sample may be one value off what it
   *   would be if it were reduced at once.
   */
  constructor(
    readonly budget: number,
    private readonly reduces = false,
  ) {
    this.frames = new LRUCache({ maxSize: budget, sizeCalculation: byteLength });
  }

  get heldBytes(): number {
    return this.oversized ? byteLength(this.oversized.planes) : this.frames.calculatedSize;
  }

  /** Whether a picture is held, or can be made from a larger one. */
  has(sourceId: string, frame: number, halvings = 0): boolean {
    return this.sizesFor(halvings).some((h) => {
      const name = nameOf(sourceId, frame, h);
      return this.oversized?.name === name || this.frames.has(name);
    });
  }

  /** Sizes that a picture can be taken from, itself first. */
  private sizesFor(halvings: number): number[] {
    return this.reduces ? Array.from({ length: halvings + 1 }, (_, k) => halvings - k) : [halvings];
  }

  /** The picture, now the most recently used; null when it is not held. */
  get(sourceId: string, frame: number, halvings = 0): PicturePlanes | null {
    for (const h of this.sizesFor(halvings)) {
      const name = nameOf(sourceId, frame, h);
      const planes = this.oversized?.name === name ? this.oversized.planes : this.frames.get(name);
      if (!planes) continue;
      if (h === halvings) return planes;
      const reduced = reducePlanes(planes, halvings - h);
      this.frames.set(nameOf(sourceId, frame, halvings), reduced);
      return reduced;
    }
    return null;
  }

  clear() {
    this.frames.clear();
    this.oversized = null;
  }

  set(sourceId: string, frame: number, planes: PicturePlanes, halvings = 0) {
    const name = nameOf(sourceId, frame, halvings);
    this.oversized = byteLength(planes) > this.budget ? { name, planes } : null;
    if (this.oversized) this.frames.clear();
    else this.frames.set(name, planes);
  }
}

function nameOf(sourceId: string, frame: number, halvings: number): string {
  return `${sourceId}:${frame}:${halvings}`;
}
