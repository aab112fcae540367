import type { Frames } from '../carry/frames';
import type { Affine } from '../geometry/affine';
import { distanceToLine } from '../geometry/polyline';
import { sides } from '../model/choices';
import { flattenOutline } from '../outline/curve';
import { findPeople, type Search } from './find-people';
import { closed } from './morphology';
import { type BorderSide, outerBorder } from './outer-border';
import { largestPatches } from './patches';
import type { PeopleNetwork } from './people';
import { type PersonOutlines, personOutlines } from './person-outlines';
import { depthsOf } from './prior';
import type { CutRegion, SubjectFrame } from './subject-frame';
import { toShotOf } from './subject-pose';
import type { Stroke } from './strokes';

/** Share of the shot's width within which a region's border lies along a seam, on average, for it to be the seam's. */
const nearFrom = 0.04;
/** Code values from which on a sample moves, samples by which gaps between such are closed, and least share of the grid of what moves. */
const [movesFrom, closing, leastMoving] = [8, 3, 0.004];
/** Largest patches that move which are looked at. */
const mostPatches = 3;

/** A frame that is looked at, with what leads from the shot's px to its picture's. */
export interface SeamSight {
  frames: Frames;
  subject: SubjectFrame;
  toPicture: Affine;
}

/** A region that a seam lies on, and on which of its sides. */
export interface SeamRegion {
  region: CutRegion;
  side: BorderSide;
}

/**
 * What a seam belongs to on a frame: what strokes say there, or else somebody, or else something that moves, whichever has its
 * border along the seam.
 *
 * @param at the frame, and the seam there: six numbers a point, shot px.
 * @param strokes those painted on the frame.
 * @param goOn asked while people are looked for.
 * @returns null where nothing has its border there, or it was stopped.
 */
export async function seamRegion(
  sight: SeamSight,
  at: { frame: number; coordinates: readonly number[] },
  {
    strokes,
    network,
    shot,
    goOn,
  }: {
    strokes: readonly Stroke[];
    network: PeopleNetwork | null;
    shot: { width: number };
    goOn: () => boolean;
  },
): Promise<SeamRegion | null> {
  const { subject, toPicture } = sight;
  const nearest = (regions: readonly { region: CutRegion }[], within: number): SeamRegion | null => {
    const found = nearestBorder(regions, sight, at.coordinates, within);
    return found && { region: found.of.region, side: found.side };
  };
  if (strokes.some(({ mark }) => mark === 'this')) {
    const region = subject.cut({ strokes, prior: null, toPicture });
    return region && nearest([{ region }], Infinity);
  }
  const within = nearFrom * shot.width;
  if (network) {
    const picture = await sight.frames.picture(at.frame);
    const people = await findPeople(picture, subject, network, toPicture, { told: goOn });
    const found = people && nearest(people, within);
    if (found || !people) return found;
  }
  const moving = movingRegions(subject, toPicture).map((region) => ({ region }));
  return nearest(moving, within);
}

/** Of several, the one whose border lies nearest along a seam, and on which side. @param within px of the shot, on average. */
export function nearestBorder<T extends { region: CutRegion }>(
  all: readonly T[],
  { subject, toPicture }: SeamSight,
  coordinates: readonly number[],
  within: number,
): { of: T; side: BorderSide } | null {
  let [best, least] = [null as { of: T; side: BorderSide } | null, within];
  for (const of of all)
    for (const side of sides) {
      const line = outerBorder(of.region, side, toShotOf(of.region, subject, toPicture));
      const far = line ? meanDistance(line, coordinates) : Infinity;
      if (far < least) [best, least] = [{ of, side }, far];
    }
  return best;
}

/** The person whose border lies along a seam, as outlines, and on which side; null where it is nobody's, or it was stopped. */
export async function personAtSeam(
  sight: SeamSight,
  network: PeopleNetwork,
  { frame, coordinates }: { frame: number; coordinates: readonly number[] },
  shot: { width: number },
  looking: { told: (share: number) => boolean; search?: Search },
): Promise<{ person: PersonOutlines; side: BorderSide } | null> {
  const picture = await sight.frames.picture(frame);
  const people = await findPeople(picture, sight.subject, network, sight.toPicture, looking);
  const near = people && nearestBorder(people, sight, coordinates, nearFrom * shot.width);
  const person = near && (await personOutlines(near.of, sight, frame, shot));
  return person && { person, side: near.side };
}

/** What moves otherwise than the scene, as regions, the largest first. */
function movingRegions(subject: SubjectFrame, toPicture: Affine): CutRegion[] {
  const { moves, small } = subject;
  if (!moves) return [];
  const { width, height } = small;
  const mask = Uint8Array.from(moves, (value) => (value >= movesFrom ? 1 : 0));
  return largestPatches(closed(mask, closing, width, height), width, height, leastMoving * width * height)
    .slice(0, mostPatches)
    .flatMap((inside) => {
      const prior = { depths: depthsOf(inside, width, height), palette: null };
      return subject.cut({ strokes: [], prior, toPicture }) ?? [];
    });
}

/** px from a line's places to an open pose, on average; its ends, which only run on, left out. */
function meanDistance(line: readonly number[], coordinates: readonly number[]): number {
  const own = flattenOutline(coordinates, false, 1, 0.5);
  let [sum, count] = [0, 0];
  for (let i = 2; i + 2 < line.length; i += 2) {
    sum += distanceToLine(line[i], line[i + 1], own, false);
    count++;
  }
  return count > 0 ? sum / count : Infinity;
}
