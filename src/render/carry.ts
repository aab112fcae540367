import { LRUCache } from 'lru-cache';
import { type CarriedPose, type CarryEnd, type CarryJob, carryPoses } from '@/core/carry/carry-poses';
import { settled } from '@/core/carry/settle';
import type { OutlineRow } from '@/core/document/rows';
import { FramePicture } from '@/core/edge/frame-picture';
import type { Affine } from '@/core/geometry/affine';
import { byteLength, reducePlanes, shotToPlanes } from '@/core/picture/planes';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';

/** Widest picture, px, that is followed at its own size; larger ones are halved. */
const widest = 2000;
/** Bytes of pictures held while following. */
const held = 160e6;

/** Carries and settles poses; lives in a worker. */
export class Carrier {
  private readonly engine: PictureEngine;
  private readonly pictures = new LRUCache<string, FramePicture>({
    maxSize: held,
    sizeCalculation: ({ planes }) => Math.ceil(1.4 * byteLength(planes)),
  });
  /** Counts what was asked, so that what is under way ends when it is no longer wanted. */
  private run = 0;

  constructor(media: readonly ShotMedia[]) {
    this.engine = new PictureEngine(media, 64e6);
  }

  /** Takes in a shot that a layer may have been given. */
  takeShot(media: ShotMedia) {
    this.engine.take(media);
  }

  stop() {
    this.run++;
  }

  /** @param told of each pose as it is made, null between two known ones, and of the share done. */
  async carry(
    shotId: string,
    job: CarryJob,
    told: (pose: CarriedPose | null, share: number) => void,
  ): Promise<{ poses: CarriedPose[]; end: CarryEnd }> {
    const run = ++this.run;
    const { frames, toPicture } = await this.framesOf(shotId, job.from.frame);
    return carryPoses(frames, job, toPicture, (pose, share) => {
      told(pose, share);
      return run === this.run;
    });
  }

  /** The poses pulled onto the moving edge; null for those about which there is none. */
  async settle(
    shotId: string,
    outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
    poses: readonly { frame: number; coordinates: readonly number[] }[],
    told: (share: number) => void,
  ): Promise<(number[] | null)[]> {
    const run = ++this.run;
    const { frames, toPicture } = await this.framesOf(shotId, poses[0].frame);
    const results: (number[] | null)[] = [];
    for (const { frame, coordinates } of poses) {
      if (run !== this.run) break;
      results.push(await settled(frames, frame, outline, coordinates, toPicture));
      told(results.length / poses.length);
    }
    return results;
  }

  private async framesOf(shotId: string, frame: number) {
    const shot = this.engine.shots[shotId];
    const picture = async (sourceFrame: number): Promise<FramePicture> => {
      const key = `${shotId} ${sourceFrame}`;
      const kept = this.pictures.get(key);
      if (kept) return kept;
      const planes = await this.engine.picture({ shotId, sourceFrame });
      const halvings = Math.max(0, Math.ceil(Math.log2(planes.width / widest)));
      const next = new FramePicture(reducePlanes(planes, halvings));
      this.pictures.set(key, next);
      return next;
    };
    const toPicture: Affine = shotToPlanes(shot, (await picture(frame)).planes);
    return { frames: { count: shot.frameCount, picture }, toPicture };
  }
}
