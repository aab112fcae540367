import { LRUCache } from 'lru-cache';
import type { Frames } from '@/core/carry/frames';
import { FramePicture } from '@/core/picture/frame-picture';
import type { Affine } from '@/core/geometry/affine';
import { uprightSize } from '@/core/compose/sampling';
import { byteLength, shotToPlanes } from '@/core/picture/planes';
import type { PictureEngine } from './engine';

/** Widest picture, px, that the finder works on; larger ones are halved. */
const widest = 2000;

/** A shot's frames as the finder wants them, kept for a while. */
export class ShotFrames {
  private readonly pictures: LRUCache<string, FramePicture>;

  /** @param held bytes of pictures that are kept. */
  constructor(
    private readonly engine: PictureEngine,
    held: number,
  ) {
    this.pictures = new LRUCache({
      maxSize: held,
      // With its smoothed copy, and that at smaller sizes.
      sizeCalculation: ({ planes }) => Math.ceil(2.4 * byteLength(planes)),
    });
  }

  /** Lets go of what is kept. */
  rest() {
    this.pictures.clear();
  }

  /**
   * The frames, and the way from the shot's px to theirs; `frame` is one that is there.
   *
   * @param turn awaited before each picture is given and between pieces of work: it may hold back whoever works on them, or end that by failing.
   */
  async of(
    shotId: string,
    frame: number,
    turn: () => Promise<void> = async () => {},
  ): Promise<{ frames: Frames; toPicture: Affine }> {
    const shot = this.engine.shots[shotId];
    const halvings = Math.max(0, Math.ceil(Math.log2(uprightSize(shot).width / widest)));
    const picture = async (sourceFrame: number): Promise<FramePicture> => {
      await turn();
      const key = `${shotId} ${sourceFrame}`;
      const kept = this.pictures.get(key);
      if (kept) return kept;
      const next = new FramePicture(await this.engine.halvedPicture({ shotId, sourceFrame }, halvings));
      this.pictures.set(key, next);
      return next;
    };
    const toPicture = shotToPlanes(shot, (await picture(frame)).planes);
    return { frames: { count: shot.frameCount, picture, breathe: turn }, toPicture };
  }
}
