import { poseOntoLine } from '@/core/carry/pose-line';
import type { OutlineKind } from '@/core/document/rows';
import { flattenOutline } from '@/core/outline';
import { toShotOf } from '@/core/subject/carry-subject';
import { poseAlong } from '@/core/subject/pose-along';
import { subjectFrameOn } from '@/core/subject/subject-frame';
import {
  nearerSide,
  subjectLine,
  type SubjectLoop,
  subjectLoops,
  subjectSeam,
} from '@/core/subject/subject-outline';
import type { Stroke } from '@/core/subject/strokes';
import type { PictureEngine } from './engine';
import { letMessagesIn } from './let-messages-in';
import type { ShotFrames } from './shot-frames';

/** What a subject's region becomes: new outlines, or the pose of one that has its points already. */
export type Becomes =
  { as: 'loop' | 'left' | 'right' } | { as: 'pose'; kind: OutlineKind; coordinates: readonly number[] };

/** What is asked for. */
export interface SubjectAsked {
  strokes: readonly Stroke[];
  /** The closed outline as it lies in the frame by now, six numbers a point, shot px; null where there is none. */
  prior: readonly number[] | null;
  becomes: Becomes;
}

/** Cuts subjects from a shot's frames by strokes; the frame that is painted on is held. */
export class SubjectCutter {
  private held: { key: string; made: ReturnType<SubjectCutter['frameOf']> } | null = null;

  constructor(
    private readonly engine: PictureEngine,
    private readonly frames: ShotFrames,
  ) {}

  private rehearsed = false;

  /** Makes a frame ready, so that the first stroke is answered as quickly as others. */
  async ready(shotId: string, frame: number): Promise<void> {
    const { subject, toPicture } = await this.frameOn(shotId, frame);
    if (this.rehearsed) return;
    this.rehearsed = true;
    // Code that has run a few times runs several times as fast.
    const { width, height } = this.engine.shots[shotId];
    const path = [0.5 * width, 0.4 * height, 0.5 * width, 0.6 * height];
    const rehearsal = { strokes: [{ mark: 'this', radius: 0.01 * width, path } as const], prior: null };
    for (let k = 0; k < 4; k++) {
      const region = subject.cut({ ...rehearsal, toPicture });
      if (region) subjectLoops(region, toShotOf(region, subject, toPicture), width);
      await letMessagesIn();
    }
  }

  /**
   * The subject's outlines, the largest part first, or its one pose; none where the strokes leave nothing.
   *
   * @throws as decoding does.
   */
  async cut(
    shotId: string,
    frame: number,
    { strokes, prior, becomes }: SubjectAsked,
  ): Promise<SubjectLoop[]> {
    const { subject, toPicture } = await this.frameOn(shotId, frame);
    const closed = prior && Array.from(flattenOutline(prior, true, 1, 0.5));
    const region = subject.cut({
      strokes,
      prior: closed && subject.priorOf([{ line: closed, hole: false }], toPicture),
      toPicture,
    });
    if (!region) return [];
    const shot = this.engine.shots[shotId];
    const toShot = toShotOf(region, subject, toPicture);
    if (becomes.as === 'loop') return subjectLoops(region, toShot, shot.width);
    const line = subjectLine(region, toShot);
    if (!line) return [];
    if (becomes.as === 'pose') {
      const { kind, coordinates } = becomes;
      const onto =
        kind === 'loop'
          ? poseAlong(coordinates, line)
          : poseOntoLine(coordinates, false, nearerSide(line, coordinates));
      return [{ coordinates: onto, hole: false }];
    }
    return [{ coordinates: subjectSeam(line, becomes.as, shot.width), hole: false }];
  }

  private async frameOn(shotId: string, frame: number) {
    const measured = this.engine.shots[shotId]?.motion ? 'measured' : 'not yet';
    const key = `${shotId} ${frame} ${measured}`;
    if (this.held?.key !== key) this.held = { key, made: this.frameOf(shotId, frame) };
    try {
      return await this.held.made;
    } catch (error) {
      this.held = null;
      throw error;
    }
  }

  private async frameOf(shotId: string, frame: number) {
    const { frames, toPicture } = await this.frames.of(shotId, frame);
    return {
      subject: await subjectFrameOn(frames, this.engine.shots[shotId], frame, toPicture),
      toPicture,
    };
  }
}
