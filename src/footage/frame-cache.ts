import { LRUCache } from 'lru-cache';
import { byteLength, type PicturePlanes } from '@/core/picture/planes';

/** Decoded pictures by source, frame and how often they were halved, bounded in bytes; the longest unused go first. */
export class FrameCache {
  private readonly frames: LRUCache<string, PicturePlanes>;
  /** A picture larger than the budget: held alone while it is the newest, as it has been asked for. */
  private oversized: { name: string; planes: PicturePlanes } | null = null;

  /** @param budget most bytes that the pictures may take together. */
  constructor(readonly budget: number) {
    this.frames = new LRUCache({ maxSize: budget, sizeCalculation: byteLength });
  }

  get heldBytes(): number {
    return this.oversized ? byteLength(this.oversized.planes) : this.frames.calculatedSize;
  }

  has(sourceId: string, frame: number, halvings = 0): boolean {
    const name = nameOf(sourceId, frame, halvings);
    return this.oversized?.name === name || this.frames.has(name);
  }

  /** The picture, now the most recently used; null when it is not held. */
  get(sourceId: string, frame: number, halvings = 0): PicturePlanes | null {
    const name = nameOf(sourceId, frame, halvings);
    if (this.oversized?.name === name) return this.oversized.planes;
    return this.frames.get(name) ?? null;
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
