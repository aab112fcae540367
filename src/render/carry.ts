import { type CarriedPose, type CarryEnd, type CarryJob, carryPoses } from '@/core/carry/carry-poses';
import { Followings } from '@/core/carry/between';
import type { NoFirst } from '@/core/begin/beginning';
import { type FirstGap, firstGap } from '@/core/begin/first-gap';
import { firstPerson, type PersonSeam } from '@/core/begin/first-person';
import { type FirstSeam, firstSeam, type SeamBeginning } from '@/core/begin/first-seam';
import type { Frames } from '@/core/carry/frames';
import { settled } from '@/core/carry/settle';
import type { OutlineRow } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { type Affine, applyAffine, invert } from '@/core/geometry/affine';
import { carrySubject, type SubjectJob, type SubjectPose } from '@/core/subject/carry-subject';
import type { PersonOutlines } from '@/core/subject/person-outlines';
import { loopsOfMatte, matteLines, type MatteLoop } from '@/core/subject/matte-outline';
import type { ClosedLine } from '@/core/subject/prior';
import type { Stroke } from '@/core/subject/strokes';
import { uprightLuma } from '@/core/motion/upright';
import { edgeTrailOn, type Place } from '@/core/trail/edge-trail';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';
import { Held } from './held';
import { letMessagesIn } from './let-messages-in';
import { PeopleClient } from './people';
import { ShotFrames } from './shot-frames';
import { type CutLoop, type SubjectAsked, SubjectCutter } from './subject-cutter';

/** ms after which messages are let in, as one that stops what is under way: frames that are held are awaited without that. */
const messagesEvery = 30;

/** Bytes of pictures held while following. */
const held = 220e6;

/** Carries and settles poses; lives in a worker. */
export class Carrier {
  private readonly engine: PictureEngine;
  private readonly frames: ShotFrames;
  /** Counts what was asked, so that what is under way ends when it is no longer wanted. */
  private run = 0;
  private readonly subjects: SubjectCutter;
  private readonly people = new PeopleClient();
  private readonly followings = new Held<Followings>();
  private readonly trail = new Held<Awaited<ReturnType<Carrier['trailOf']>>>();

  constructor(media: readonly ShotMedia[]) {
    this.engine = new PictureEngine(media, 64e6);
    this.frames = new ShotFrames(this.engine, held);
    this.subjects = new SubjectCutter(this.engine, this.frames);
  }

  /** Takes in a shot that a layer may have been given. */
  takeShot(media: ShotMedia) {
    this.engine.take(media);
  }

  private framesOf(shotId: string, frame: number) {
    let last = performance.now();
    return this.frames.of(shotId, frame, async () => {
      if (performance.now() - last < messagesEvery) return;
      await letMessagesIn();
      last = performance.now();
    });
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
    const followings = this.followings.of(`${shotId} ${job.outline.kind}`, () =>
      Promise.resolve(new Followings(frames, job.outline.kind === 'loop')),
    );
    const goOn = (pose: CarriedPose | null, share: number) => {
      told(pose, share);
      return run === this.run;
    };
    return carryPoses(frames, job, toPicture, goOn, await followings);
  }

  /**
   * The first seam within some of a shot's frames, as its movement shows it or a person in it; a name for why there is none; null
   * when it was stopped.
   */
  begin(
    shotId: string,
    { within, edge }: Pick<SeamBeginning, 'within' | 'edge'>,
    told: (share: number) => void,
  ): Promise<FirstSeam | PersonSeam | NoFirst | null> {
    return this.first(shotId, told, async (frames, shot, toPicture, goOn) => {
      const beginning = { within, edge, toPicture };
      const moving = await firstSeam(frames, shot, beginning, (share) => goOn(share / 2));
      if (moving === null || (await this.people.blind()) !== null) return moving;
      const seam = typeof moving === 'string' ? null : moving;
      const half = (share: number) => goOn((1 + share) / 2);
      const person = await firstPerson(frames, shot, beginning, this.people, { seam, goOn: half });
      return person === 'nobody' ? moving : person;
    });
  }

  /** The gap that opens within some of a shot's frames, as {@link begin} does. */
  beginGap(
    shotId: string,
    { within }: Pick<SeamBeginning, 'within'>,
    told: (share: number) => void,
  ): Promise<FirstGap | NoFirst | null> {
    return this.first(shotId, told, (frames, shot, toPicture, goOn) =>
      firstGap(frames, shot, { within, toPicture }, goOn),
    );
  }

  private async first<T>(
    shotId: string,
    told: (share: number) => void,
    find: (frames: Frames, shot: Shot, toPicture: Affine, goOn: (share: number) => boolean) => Promise<T>,
  ): Promise<T> {
    const run = ++this.run;
    const { frames, toPicture } = await this.framesOf(shotId, 0);
    return find(frames, this.engine.shots[shotId], toPicture, (share) => {
      told(share);
      return run === this.run;
    });
  }

  /**
   * The line along the picture's edges from one place to another, and where it ends: on the strongest edge within some
   * px of the place, where that is wanted. Places are the shot's px.
   *
   * @param from null: only the place is looked for.
   */
  async alongEdge(
    shotId: string,
    frame: number,
    from: Place | null,
    to: Place,
    within: number,
  ): Promise<{ to: Place; line: number[] }> {
    const { trail, toPicture } = await this.trailOn(shotId, frame);
    const toShot = invert(toPicture);
    const end = applyAffine(toPicture, ...to);
    const snapped = within > 0 ? trail.snapped(end, within * Math.hypot(toPicture[0], toPicture[1])) : end;
    if (!from) return { to: applyAffine(toShot, ...snapped), line: [] };
    trail.from(applyAffine(toPicture, ...from));
    const drawn = trail.to(snapped);
    const line: number[] = [];
    for (let i = 0; i < drawn.length; i += 2) line.push(...applyAffine(toShot, drawn[i], drawn[i + 1]));
    return { to: [line[line.length - 2], line[line.length - 1]], line };
  }

  /**
   * Carries an outline by cutting out what it belongs to, as {@link carry} does others.
   *
   * @param painted its strokes, on all frames.
   * @returns with why people could not be looked for; null: they were.
   */
  async carrySubject(
    shotId: string,
    way: Omit<SubjectJob, 'strokesOn' | 'people'>,
    painted: readonly (Stroke & { frame: number })[],
    told: (pose: SubjectPose | null, share: number) => void,
  ): Promise<{ poses: SubjectPose[]; end: CarryEnd; blind: string | null }> {
    const run = ++this.run;
    const { frames, toPicture } = await this.framesOf(shotId, way.from.frame);
    const blind = await this.people.blind();
    const job = {
      ...way,
      people: blind === null ? this.people : null,
      strokesOn: (frame: number) => painted.filter((stroke) => stroke.frame === frame),
    };
    const done = await carrySubject(frames, this.engine.shots[shotId], job, toPicture, (pose, share) => {
      told(pose, share);
      return run === this.run;
    });
    return { ...done, blind };
  }

  /**
   * The people on a frame, as outlines that can be taken; null where it was stopped.
   *
   * @throws Error where they cannot be looked for here.
   */
  async findPeople(
    shotId: string,
    frame: number,
    told: (share: number, soFar: PersonOutlines[]) => void,
  ): Promise<PersonOutlines[] | null> {
    const run = ++this.run;
    const blind = await this.people.blind();
    if (blind !== null) throw new Error(blind);
    return this.subjects.people(shotId, frame, this.people, (share, soFar) => {
      told(share, soFar);
      return run === this.run;
    });
  }

  /** Who has their border along a seam on a frame; null where nobody has, or something else was asked meanwhile. */
  async personAt(
    shotId: string,
    at: { frame: number; coordinates: readonly number[] },
  ): ReturnType<SubjectCutter['personAt']> {
    const { run } = this;
    if ((await this.people.blind()) !== null) return null;
    return this.subjects.personAt(shotId, at, this.people, () => run === this.run);
  }

  /**
   * Outlines about what is white in a shot that is a matte, on some of its frames.
   *
   * @param shot px that they are wanted in.
   * @returns null where it was stopped.
   */
  async matteLoops(
    matteId: string,
    [first, last]: readonly [number, number],
    shot: { width: number; height: number },
    told: (share: number) => void,
  ): Promise<MatteLoop[] | null> {
    const run = ++this.run;
    const { rotation, colour } = this.engine.shots[matteId];
    const frames: { frame: number; lines: ClosedLine[] }[] = [];
    for (let frame = first; frame <= last; frame++) {
      const planes = await this.engine.picture({ shotId: matteId, sourceFrame: frame });
      const luma = uprightLuma(planes, rotation);
      frames.push({ frame, lines: matteLines({ ...luma, fullRange: colour.fullRange }, shot) });
      told((frame - first + 1) / (last - first + 2));
      await letMessagesIn();
      if (run !== this.run) return null;
    }
    return loopsOfMatte(frames, shot);
  }

  /** Makes a frame ready to cut a subject from. */
  readySubject(shotId: string, frame: number): Promise<void> {
    return this.subjects.ready(shotId, frame);
  }

  /** What strokes say is a subject on a frame, as outlines; none where they leave nothing. */
  async subject(shotId: string, frame: number, asked: SubjectAsked): Promise<CutLoop[]> {
    // What is painted from nothing is what the strokes say.
    const sees = asked.prior !== null && (await this.people.blind()) === null;
    return this.subjects.cut(shotId, frame, asked, sees ? this.people : null);
  }

  /** A frame's edges, held while lines are drawn on it. */
  private trailOn(shotId: string, frame: number) {
    const measured = this.engine.shots[shotId]?.motion ? 'measured' : 'not yet';
    return this.trail.of(`${shotId} ${frame} ${measured}`, () => this.trailOf(shotId, frame));
  }

  private async trailOf(shotId: string, frame: number) {
    const { frames, toPicture } = await this.framesOf(shotId, frame);
    return { trail: await edgeTrailOn(frames, this.engine.shots[shotId], frame, toPicture), toPicture };
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
}
