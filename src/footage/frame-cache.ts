import { byteLength, type PicturePlanes } from '@/core/compose/planes';

/** Decoded pictures, bounded in bytes; those not used for longest go first. */
export class FrameCache {
  private readonly frames = new Map<string, PicturePlanes>();
  private bytes = 0;

  /** @param budget most bytes that the pictures may take together. */
  constructor(readonly budget: number) {}

  get heldBytes(): number {
    return this.bytes;
  }

  has(shotId: string, frame: number): boolean {
    return this.frames.has(key(shotId, frame));
  }

  /** The picture, now the most recently used; null when it is not held. */
  get(shotId: string, frame: number): PicturePlanes | null {
    const k = key(shotId, frame);
    const planes = this.frames.get(k);
    if (!planes) return null;
    this.frames.delete(k);
    this.frames.set(k, planes);
    return planes;
  }

  set(shotId: string, frame: number, planes: PicturePlanes) {
    const k = key(shotId, frame);
    this.remove(k);
    this.frames.set(k, planes);
    this.bytes += byteLength(planes);
    for (const oldest of this.frames.keys()) {
      if (this.bytes <= this.budget || oldest === k) break;
      this.remove(oldest);
    }
  }

  private remove(k: string) {
    const planes = this.frames.get(k);
    if (planes) this.bytes -= byteLength(planes);
    this.frames.delete(k);
  }
}

function key(shotId: string, frame: number): string {
  return `${shotId}:${frame}`;
}
