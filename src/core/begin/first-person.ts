import type { Frames } from '../carry/frames';
import type { Side } from '../model/choices';
import type { Shot } from '../model/shot';
import { reversedPose } from '../outline/points';
import { findPeople, onlyTheLarge } from '../subject/find-people';
import type { PeopleNetwork } from '../subject/people';
import { type PersonOutlines, personOutlines, sideOf } from '../subject/person-outlines';
import { personAtSeam, type SeamSight } from '../subject/seam-region';
import { subjectFrameOn } from '../subject/subject-frame';
import { fromTheMiddle } from './beginning';
import { settledPerson } from './settled-person';
import type { FirstSeam, SeamBeginning } from './first-seam';

/** Frames that are looked at where movement has shown no edge. */
const mostFrames = 5;
/** Clearness of a person who stands: which of their sides comes last is a guess. */
const guessed = 0.5;

/** A first seam on a person; where the person is whole in the picture it is carried by cutting. */
export type PersonSeam = FirstSeam & { person: true; whole: boolean };

/**
 * A first seam on a person. Where movement has shown an edge, it is the person's whose border lies there; where it has shown none,
 * a person who walks through the shot is looked for, or one who stands in it.
 *
 * @param seam as movement has shown it, or null.
 * @param goOn told how much is done, 0 to 1; false gives up.
 * @returns null where it was given up.
 */
export async function firstPerson(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  { within: [first, last], edge, toPicture }: SeamBeginning,
  network: PeopleNetwork,
  { seam, goOn }: { seam: FirstSeam | null; goOn: (share: number) => boolean },
): Promise<PersonSeam | 'nobody' | null> {
  const sightOn = async (frame: number): Promise<SeamSight> => ({
    frames,
    subject: await subjectFrameOn(frames, shot, frame, toPicture),
    toPicture,
  });
  let stopped = false;
  const goes = (share: number) => !(stopped ||= !goOn(share));
  if (seam) {
    const looking = { told: goes, search: onlyTheLarge };
    const found = await personAtSeam(await sightOn(seam.frame), network, seam, shot, looking);
    if (stopped) return null;
    // A coat's edge is followed better than it is cut out.
    if (!found?.person.whole) return 'nobody';
    return { ...seamOf(found.person, found.side, seam.frame, found.person.sure), passage: seam.passage };
  }
  const all = Array.from({ length: last - first + 1 }, (_, k) => first + k);
  const asked = fromTheMiddle(all).slice(0, mostFrames);
  let standing: PersonSeam | null = null;
  for (const [k, frame] of asked.entries()) {
    const sight = await sightOn(frame);
    const told = (share: number) => goes((k + share) / asked.length);
    const picture = await frames.picture(frame);
    const people = await findPeople(picture, sight.subject, network, toPicture, { told });
    if (!people) return null;
    for (const found of people) {
      const cut = await personOutlines(found, sight, frame, shot);
      const person = cut && (await settledPerson(cut, sight, frame));
      if (person?.trailing) return seamOf(person, sideOf(person, edge), frame, person.sure);
      if (person) standing ??= seamOf(person, sideOf(person, edge), frame, guessed);
    }
  }
  return standing ?? 'nobody';
}

/** A side of a person as a seam that has the ground on its right. */
function seamOf({ seams, whole }: PersonOutlines, side: Side, frame: number, clear: number): PersonSeam {
  const coordinates = side === 'left' ? seams.left : reversedPose(seams.right);
  return { frame, coordinates, clear, groundLeft: side === 'left', person: true, whole, passage: null };
}
