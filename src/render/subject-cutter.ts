import { settledPerson } from '@/core/begin/settled-person';
import { poseOntoLine } from '@/core/carry/pose-line';
import type { OutlineKind } from '@/core/model/choices';
import { type Lying, lyingOn, toShotOf } from '@/core/subject/subject-pose';
import { findPeople, type FoundPerson } from '@/core/subject/find-people';
import type { PeopleNetwork } from '@/core/subject/people';
import { peopleBeside } from '@/core/subject/people-sight';
import { type PersonOutlines, personOutlines } from '@/core/subject/person-outlines';
import { personAtSeam } from '@/core/subject/seam-region';
import { subjectFrameOn } from '@/core/subject/subject-frame';
import {
  contoursIn,
  nearerSide,
  type SubjectLoop,
  subjectLoops,
  subjectSeam,
} from '@/core/subject/subject-outline';
import { closedLinesOf } from '@/core/subject/subject-parts';
import type { Stroke } from '@/core/subject/strokes';
import type { PictureEngine } from './engine';
import { Held } from './held';
import { letMessagesIn } from './let-messages-in';
import type { ShotFrames } from './shot-frames';

/** What a subject's region becomes: new outlines, or the pose of one that has its points already. */
export type Becomes = { as: 'loop' | 'left' | 'right' } | ({ as: 'pose'; kind: OutlineKind } & Lying);

/** What is asked for. */
export interface SubjectAsked {
  strokes: readonly Stroke[];
  /** The closed outline by now; null where strokes alone say what the subject is. */
  prior: Lying | null;
  becomes: Becomes;
}

/** A line of a subject; of a part, or a hole, that it had before with its id, '' for one that came to be. */
export type CutLoop = SubjectLoop & { id?: string };

/** Cuts subjects from a shot's frames by strokes; the frame that is painted on is held. */
export class SubjectCutter {
  private readonly held = new Held<Awaited<ReturnType<SubjectCutter['frameOf']>>>();
  private rehearsed = false;

  constructor(
    private readonly engine: PictureEngine,
    private readonly frames: ShotFrames,
  ) {}

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
   * The subject's outlines, the largest part first, or its pose, its parts that are still there and those that have no id yet;
   * none where the strokes leave nothing.
   *
   * @param network sees people about an outline that there is already; null: nobody does.
   * @throws as decoding does.
   */
  async cut(
    shotId: string,
    frame: number,
    { strokes, prior, becomes }: SubjectAsked,
    network: PeopleNetwork | null = null,
  ): Promise<CutLoop[]> {
    const { subject, frames, toPicture } = await this.frameOn(shotId, frame);
    const lines = prior && closedLinesOf(prior.coordinates, prior.parts);
    const own = lines && subject.priorOf(lines, toPicture);
    const picture = await frames.picture(frame);
    const people = own && network ? await peopleBeside(picture, own, subject.small, network) : null;
    const region = subject.cut({ strokes, prior: own, people, toPicture });
    if (!region) return [];
    const shot = this.engine.shots[shotId];
    const toShot = toShotOf(region, subject, toPicture);
    if (becomes.as === 'loop') return subjectLoops(region, toShot, shot.width);
    if (becomes.as === 'pose' && becomes.kind === 'loop') {
      const found = lyingOn(region, null, becomes, { way: [0, 0], toShot, shot });
      if (!found) return [];
      const { coordinates, parts } = found;
      return [
        { coordinates: [...coordinates], hole: false },
        ...parts
          .filter(({ lost }) => !lost)
          .map((part) => ({ id: part.id, coordinates: [...part.coordinates], hole: part.hole })),
      ];
    }
    const [largest] = contoursIn(region, toShot);
    if (!largest) return [];
    const { line } = largest;
    const coordinates =
      becomes.as === 'pose'
        ? poseOntoLine(becomes.coordinates, false, nearerSide(line, becomes.coordinates))
        : subjectSeam(line, becomes.as, shot.width);
    return [{ coordinates, hole: false }];
  }

  /**
   * The people on a frame, the largest first.
   *
   * @param told of the share done, and of those found so far.
   * @returns null where it was stopped.
   * @throws as decoding does, and as the network.
   */
  async people(
    shotId: string,
    frame: number,
    network: PeopleNetwork,
    told: (share: number, soFar: PersonOutlines[]) => boolean,
  ): Promise<PersonOutlines[] | null> {
    const sight = await this.frameOn(shotId, frame);
    const { subject, frames, toPicture } = sight;
    const shot = this.engine.shots[shotId];
    const known = new Map<FoundPerson, PersonOutlines | null>();
    const outlinesOf = async (found: readonly FoundPerson[]) => {
      for (const person of found) {
        if (known.has(person)) continue;
        const own = await personOutlines(person, sight, frame, shot);
        known.set(person, own && (await settledPerson(own, sight, frame)));
      }
      return found.flatMap((person) => known.get(person) ?? []);
    };
    const found = await findPeople(await frames.picture(frame), subject, network, toPicture, {
      told: async (share, soFar) => told(share, await outlinesOf(soFar)),
    });
    return found && outlinesOf(found);
  }

  /** Who has their border along a seam on a frame, see `personAtSeam`. */
  async personAt(
    shotId: string,
    at: { frame: number; coordinates: readonly number[] },
    network: PeopleNetwork,
    told: (share: number) => boolean,
  ): ReturnType<typeof personAtSeam> {
    const sight = await this.frameOn(shotId, at.frame);
    return personAtSeam(sight, network, at, this.engine.shots[shotId], { told });
  }

  private frameOn(shotId: string, frame: number) {
    const measured = this.engine.shots[shotId]?.motion ? 'measured' : 'not yet';
    return this.held.of(`${shotId} ${frame} ${measured}`, () => this.frameOf(shotId, frame));
  }

  private async frameOf(shotId: string, frame: number) {
    const { frames, toPicture } = await this.frames.of(shotId, frame);
    return {
      subject: await subjectFrameOn(frames, this.engine.shots[shotId], frame, toPicture),
      frames,
      toPicture,
    };
  }
}
