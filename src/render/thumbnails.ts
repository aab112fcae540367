import { LRUCache } from 'lru-cache';
import { drawPicture } from '@/core/compose/picture';
import { type PicturePlanes, shrinkPlanes } from '@/core/picture/planes';
import { picturesOf, sceneAt, type WantedPicture } from '@/core/compose/scene';
import type { Shots } from '@/core/compose/source-frames';
import type { CrossingDocument } from '@/core/document/tables';
import { MatteScratch } from '@/core/matte/matte';

/** Most small copies that are kept; at some 8 kB each. */
const mostSmall = 4000;

/** Small copies of decoded frames, and small result pictures drawn from them. */
export class Thumbnails {
  private readonly small = new LRUCache<string, PicturePlanes>({ max: mostSmall });
  private readonly scratch = new MatteScratch();

  /** @param height in px; the width follows the crossing's shape. */
  constructor(
    private readonly shots: Shots,
    readonly width: number,
    readonly height: number,
  ) {}

  has(shotId: string, frame: number): boolean {
    return this.small.has(`${shotId}:${frame}`);
  }

  keep(shotId: string, frame: number, planes: PicturePlanes) {
    if (this.has(shotId, frame)) return;
    const width = Math.min(planes.width, Math.ceil((this.height * planes.width) / planes.height));
    this.small.set(`${shotId}:${frame}`, shrinkPlanes(planes, width, Math.min(planes.height, this.height)));
  }

  /** The frames of shots that the result at a crossing frame needs and that are not kept yet. */
  missing(document: CrossingDocument, frame: number): WantedPicture[] {
    const scene = sceneAt(document, this.shots, frame, { view: 'result', traced: null });
    return picturesOf(scene, this.shots).filter((wanted) => !this.has(wanted.shotId, wanted.sourceFrame));
  }

  /** The result at a crossing frame as RGBA, or null while a frame it needs is not kept. */
  draw(document: CrossingDocument, frame: number): Uint8ClampedArray<ArrayBuffer> | null {
    const scene = sceneAt(document, this.shots, frame, { view: 'result', traced: null });
    if (!picturesOf(scene, this.shots).every((wanted) => this.has(wanted.shotId, wanted.sourceFrame)))
      return null;
    const out = new Uint8ClampedArray(this.width * this.height * 4);
    const planesOf = (draw: { shotId: string; sourceFrame: number }) =>
      this.small.get(`${draw.shotId}:${draw.sourceFrame}`) ?? null;
    drawPicture(
      scene,
      {
        shots: this.shots,
        crossing: document.crossing,
        planesOf,
        width: this.width,
        height: this.height,
        scratch: this.scratch,
      },
      out,
    );
    return out;
  }
}
