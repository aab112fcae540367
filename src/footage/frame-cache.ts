import { LRUCache } from 'lru-cache';
import { byteLength, type PicturePlanes } from '@/core/picture/planes';

/** Decoded pictures by source, frame and how often they were halved, bounded in bytes; the longest unused go first. */
export class FrameCache {
  private readonly frames: LRUCache<string, PicturePlanes>;

  /** @param budget most bytes that the pictures may take together. */
  constructor(readonly budget: number) {
    this.frames = new LRUCache({ maxSize: budget, sizeCalculation: byteLength });
  }

  get heldBytes(): number {
    return this.frames.calculatedSize;
  }

  has(sourceId: string, frame: number, halvings = 0): boolean {
    return this.frames.has(nameOf(sourceId, frame, halvings));
  }

  /** The picture, now the most recently used; null when it is not held. */
  get(sourceId: string, frame: number, halvings = 0): PicturePlanes | null {
    return this.frames.get(nameOf(sourceId, frame, halvings)) ?? null;
  }

  set(sourceId: string, frame: number, planes: PicturePlanes, halvings = 0) {
    this.frames.set(nameOf(sourceId, frame, halvings), planes);
  }
}

function nameOf(sourceId: string, frame: number, halvings: number): string {
  return `${sourceId}:${frame}:${halvings}`;
}
