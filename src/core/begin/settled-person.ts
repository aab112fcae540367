import type { Frames } from '../carry/frames';
import { settled } from '../carry/settle';
import type { Affine } from '../geometry/affine';
import type { PersonOutlines } from '../subject/person-outlines';

/**
 * Somebody's outlines, their seams on the picture's edge where they are not in it down to their feet: a coat's border is followed,
 * not cut out anew, and wants to begin exactly.
 */
export async function settledPerson(
  person: PersonOutlines,
  { frames, toPicture }: { frames: Frames; toPicture: Affine },
  frame: number,
): Promise<PersonOutlines> {
  if (person.whole) return person;
  const { left, right } = person.seams;
  // Down a left side the ground lies on the line's right.
  const [onLeft, onRight] = [
    await settled(frames, frame, { kind: 'seam', sweptSide: 'right' }, left, toPicture),
    await settled(frames, frame, { kind: 'seam', sweptSide: 'left' }, right, toPicture),
  ];
  return { ...person, seams: { left: onLeft ?? left, right: onRight ?? right } };
}
