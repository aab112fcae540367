import { byteLength, type PicturePlanes } from '@/core/picture/planes';

/** Decoded pictures by source, frame and how often they were halved, bounded in bytes; the longest unused go first. */
export class FrameCache {
  private readonly frames = new Map<string, PicturePlanes>();
  private bytes = 0;

  /** @param budget most bytes that the pictures may take together. */
  constructor(readonly budget: number) {}

  get heldBytes(): number {
    return this.bytes;
  }

  has(sourceId: string, frame: number, halvings = 0): boolean {
    return this.frames.has(nameOf(sourceId, frame, halvings));
  }

  /** The picture, now the most recently used; null when it is not held. */
  get(sourceId: string, frame: number, halvings = 0): PicturePlanes | null {
    const name = nameOf(sourceId, frame, halvings);
    const planes = this.frames.get(name);
    if (!planes) return null;
    this.frames.delete(name);
    this.frames.set(name, planes);
    return planes;
  }

  set(sourceId: string, frame: number, planes: PicturePlanes, halvings = 0) {
    const name = nameOf(sourceId, frame, halvings);
    this.remove(name);
    this.frames.set(name, planes);
    this.bytes += byteLength(planes);
    for (const oldest of this.frames.keys()) {
      if (this.bytes <= this.budget || oldest === name) break;
      this.remove(oldest);
    }
  }

  private remove(name: string) {
    const planes = this.frames.get(name);
    if (planes) this.bytes -= byteLength(planes);
    this.frames.delete(name);
  }
}

function nameOf(sourceId: string, frame: number, halvings: number): string {
  return `${sourceId}:${frame}:${halvings}`;
}
