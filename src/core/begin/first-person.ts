import type { Frames } from '../carry/frames';
import type { Shot } from '../model/shot';
import { reversedPose } from '../outline/points';
import { findPeople, type FoundPerson, onlyTheLarge } from '../subject/find-people';
import type { PeopleNetwork } from '../subject/people';
import { type PersonOutlines, personOutlines } from '../subject/person-outlines';
import { nearestBorder, nearFrom } from '../subject/seam-region';
import { subjectFrameOn } from '../subject/subject-frame';
import { fromTheMiddle } from './beginning';
import { settledPerson } from './settled-person';
import type { FirstSeam, SeamBeginning } from './first-seam';

/** Frames that are looked at where movement has shown no edge. */
const mostFrames = 5;
/** Clearness of somebody who goes nowhere: which of their sides comes last is a guess. */
const guessed = 0.5;

/** A first seam on somebody; on somebody whole it is carried by cutting them out. */
export type PersonSeam = FirstSeam & { person: true; whole: boolean };

/**
 * A first seam on a person. Where movement has shown an edge and somebody has their border there it is theirs; where it has shown
 * none, whoever goes through the shot, or stands in it, is looked for.
 *
 * @param seam as movement has shown it, or null.
 * @param goOn told how much is done, 0 to 1; false gives up.
 * @returns null where it is nobody's; `undefined` where it was given up.
 */
export async function firstPerson(
  frames: Frames,
  shot: Pick<Shot, 'width' | 'height' | 'motion'>,
  { within: [first, last], edge, toPicture }: SeamBeginning,
  network: PeopleNetwork,
  seam: FirstSeam | null,
  goOn: (share: number) => boolean,
): Promise<PersonSeam | null | undefined> {
  const all = Array.from({ length: last - first + 1 }, (_, k) => first + k);
  const asked = seam ? [seam.frame] : fromTheMiddle(all).slice(0, mostFrames);
  let standing: PersonSeam | null = null;
  for (const [k, frame] of asked.entries()) {
    const subject = await subjectFrameOn(frames, shot, frame, toPicture);
    const told = (share: number) => goOn((k + share) / asked.length);
    const picture = await frames.picture(frame);
    const people = await findPeople(picture, subject, network, toPicture, {
      told,
      search: seam ? onlyTheLarge : undefined,
    });
    if (!people) return undefined;
    const sight = { frames, subject, toPicture };
    if (seam) {
      const regions = people.map(({ region }) => region);
      const near = nearestBorder(regions, subject, toPicture, seam.coordinates);
      if (!near || near.far > nearFrom * shot.width) return null;
      const person = people.find(({ region }) => region === near.region)!;
      const own = await personOutlines(person, sight, frame, shot);
      // A coat's edge is followed better than it is cut out.
      return own?.whole ? seamOf(own, near.side, frame, person.sure) : null;
    }
    for (const person of people as readonly FoundPerson[]) {
      const cut = await personOutlines(person, sight, frame, shot);
      if (!cut) continue;
      const own = await settledPerson(cut, sight, frame);
      const trailing = own.trailing ?? 'left';
      const side = edge === 'trailing' ? trailing : trailing === 'left' ? 'right' : 'left';
      if (own.trailing) return seamOf(own, side, frame, person.sure);
      standing ??= seamOf(own, side, frame, guessed);
    }
  }
  return standing;
}

/** A side of somebody as a seam that has the ground on its right. */
function seamOf(
  { seams, whole }: PersonOutlines,
  side: 'left' | 'right',
  frame: number,
  clear: number,
): PersonSeam {
  const coordinates = side === 'left' ? seams.left : reversedPose(seams.right);
  return { frame, coordinates, clear, groundLeft: side === 'left', person: true, whole };
}
