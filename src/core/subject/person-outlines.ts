import type { Frames } from '../carry/frames';
import { type Affine, invert } from '../geometry/affine';
import { goesRound } from '../geometry/polyline';
import { otherSide, type Side } from '../model/choices';
import { flattenOutline } from '../outline/curve';
import { withoutLongSides } from '../outline/pose-anew';
import type { FoundPerson } from './find-people';
import { type BorderSide, outerBorder } from './outer-border';
import { depthsOf } from './prior';
import { regionShift } from './region-shift';
import type { SubjectFrame } from './subject-frame';
import { fewestPoints, subjectLoops, type SubjectLoop } from './subject-outline';
import { toShotOf } from './subject-pose';

/** Somebody on a frame as the outlines that they may become, six numbers a point, shot px. */
export interface PersonOutlines {
  /** About them: the largest part first, then further parts and holes. */
  loops: SubjectLoop[];
  /** Down either side, from above the frame to below it. */
  seams: Record<BorderSide, number[]>;
  /** The side that comes last as they go; null where they stand. */
  trailing: BorderSide | null;
  /** Whether they are in the picture down to their feet: legs change a border as a coat does not. */
  whole: boolean;
  /** How sure it is that they are somebody, 0 to 1. */
  sure: number;
}

/** Longest side of a seam as a share of its whole height. */
const sidesAbout = 0.07;
/** px of a shot 1280 wide that somebody goes from frame to frame before they are taken to be going anywhere. */
const going = 0.6;

/**
 * What somebody who was found may become.
 *
 * @param frame on which they were found.
 * @param shot px.
 * @returns null where nothing of them is worth a line.
 */
export async function personOutlines(
  { region, sure }: FoundPerson,
  { frames, subject, toPicture }: { frames: Frames; subject: SubjectFrame; toPicture: Affine },
  frame: number,
  shot: { width: number },
): Promise<PersonOutlines | null> {
  const toShot = toShotOf(region, subject, toPicture);
  const loops = subjectLoops(region, toShot, shot.width);
  const [left, right] = (['left', 'right'] as const).map((side) => outerBorder(region, side, toShot));
  if (loops.length === 0 || !left || !right) return null;
  const { small } = region;
  // The last frame is compared with the one before it.
  const way = frame + 1 < frames.count ? 1 : -1;
  const depths = depthsOf(small.inside, small.width, small.height);
  const other = frame + way >= 0 ? await frames.picture(frame + way) : null;
  const [dx, dy] = other ? regionShift(await frames.picture(frame), other, depths, small, [0, 0]) : [0, 0];
  const [a, , c] = invert(toPicture);
  const right1280 = ((a * dx + c * dy) * way * 1280) / shot.width;
  const trailing = Math.abs(right1280) < going ? null : right1280 > 0 ? 'left' : 'right';
  // Legs that are together now will part.
  const most = sidesAbout * lengthOf(left);
  const seam = (line: readonly number[]) =>
    withoutLongSides(fewestPoints(line, false, shot.width), false, most);
  const whole = !small.inside.subarray(-small.width).includes(1);
  return { loops, seams: { left: seam(left), right: seam(right) }, trailing, whole, sure };
}

/** The side on which a person's trailing or leading edge lies; a person who stands is taken to walk to the right. */
export function sideOf({ trailing }: PersonOutlines, edge: 'trailing' | 'leading'): BorderSide {
  const last = trailing ?? 'left';
  return edge === 'trailing' ? last : otherSide(last);
}

/** What a seam down one side sweeps: behind a trailing edge what lies outside, behind a leading one what the person covers. */
export function sweptSideOf(side: BorderSide, edge: 'trailing' | 'leading'): Side {
  // Walked downwards, what lies to the left of the picture is on the line's right.
  return edge === 'trailing' ? otherSide(side) : side;
}

/** Which of several people is at a place, by index: the last, which is the smallest, where they overlap. @param place shot px. */
export function personAt(
  people: readonly PersonOutlines[],
  [x, y]: readonly [number, number],
): number | null {
  for (let k = people.length - 1; k >= 0; k--)
    if (goesRound(flattenOutline(people[k].loops[0].coordinates, true, 1, 1), x, y)) return k;
  return null;
}

/** How tall a border is without the ends that only run on. */
function lengthOf(border: readonly number[]): number {
  return Math.hypot(border[border.length - 4] - border[2], border[border.length - 3] - border[3]);
}
