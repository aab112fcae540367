import type { Frames } from '../carry/frames';
import type { Affine } from '../geometry/affine';
import { flattenOutline } from '../outline/curve';
import { findPeople } from './find-people';
import { closed } from './morphology';
import { type BorderSide, outerBorder } from './outer-border';
import { patchesOf } from './patches';
import type { PeopleNetwork } from './people';
import { personOutlines } from './person-outlines';
import { depthsOf } from './prior';
import type { CutRegion, SubjectFrame } from './subject-frame';
import { toShotOf } from './subject-pose';
import type { Stroke } from './strokes';

/** Share of the shot's width within which a region's border lies along a seam, on average, for it to be the seam's. */
export const nearFrom = 0.04;
/** Code values from which on a sample moves, samples by which gaps between such are closed, and least share of the grid of what moves. */
const [movesFrom, closing, leastMoving] = [8, 3, 0.004];
/** Largest patches that move which are looked at. */
const mostPatches = 3;

/** A region that a seam lies on, and on which of its sides. */
export interface SeamRegion {
  region: CutRegion;
  side: BorderSide;
}

/**
 * What a seam belongs to on a frame: what strokes say there, or else somebody, or else something that moves, whichever has its
 * border along the seam.
 *
 * @param coordinates six numbers a point, shot px.
 * @returns null where nothing has.
 */
export async function seamRegion(
  {
    frames,
    subject,
    network,
    strokes,
    toPicture,
    shotWidth,
  }: {
    frames: Frames;
    subject: SubjectFrame;
    network: PeopleNetwork | null;
    /** Those painted on the frame. */
    strokes: readonly Stroke[];
    toPicture: Affine;
    shotWidth: number;
  },
  { frame, coordinates }: { frame: number; coordinates: readonly number[] },
): Promise<SeamRegion | null> {
  const within = nearFrom * shotWidth;
  const nearest = (regions: readonly CutRegion[], most: number): SeamRegion | null => {
    const found = nearestBorder(regions, subject, toPicture, coordinates);
    return found && found.far < most ? found : null;
  };
  if (strokes.some(({ mark }) => mark === 'this')) {
    const region = subject.cut({ strokes, prior: null, toPicture });
    return region && nearest([region], Infinity);
  }
  if (network) {
    const people = await findPeople(await frames.picture(frame), subject, network, toPicture);
    const found = nearest(
      people!.map(({ region }) => region),
      within,
    );
    if (found) return found;
  }
  return nearest(movingRegions(subject, toPicture), within);
}

/** The region, and its side, whose border lies nearest along a seam, and how far, px of the shot; null where there is none. */
export function nearestBorder(
  regions: readonly CutRegion[],
  subject: SubjectFrame,
  toPicture: Affine,
  coordinates: readonly number[],
): (SeamRegion & { far: number }) | null {
  let best: (SeamRegion & { far: number }) | null = null;
  for (const region of regions)
    for (const side of ['left', 'right'] as const) {
      const line = outerBorder(region, side, toShotOf(region, subject, toPicture));
      const far = line ? meanDistance(line, coordinates) : Infinity;
      if (far < (best?.far ?? Infinity)) best = { region, side, far };
    }
  return best;
}

/** Somebody whose border lies along a seam: on which of their sides, and which of those comes last as they go. Null where it is nobody's. */
export async function personAtSeam(
  sight: { frames: Frames; subject: SubjectFrame; toPicture: Affine },
  network: PeopleNetwork,
  { frame, coordinates }: { frame: number; coordinates: readonly number[] },
  shot: { width: number },
  told: (share: number) => boolean,
): Promise<{ side: BorderSide; trailing: BorderSide | null } | null> {
  const { frames, subject, toPicture } = sight;
  const people = await findPeople(await frames.picture(frame), subject, network, toPicture, { told });
  const regions = (people ?? []).map(({ region }) => region);
  const near = nearestBorder(regions, subject, toPicture, coordinates);
  if (!near || near.far > nearFrom * shot.width) return null;
  const person = people!.find(({ region }) => region === near.region)!;
  const outlines = await personOutlines(person, sight, frame, shot);
  return outlines && { side: near.side, trailing: outlines.trailing };
}

/** What moves otherwise than the scene, as regions, the largest first. */
function movingRegions(subject: SubjectFrame, toPicture: Affine): CutRegion[] {
  const { moves, small } = subject;
  if (!moves) return [];
  const { width, height } = small;
  const mask = Uint8Array.from(moves, (value) => (value >= movesFrom ? 1 : 0));
  const { of, value, size } = patchesOf(closed(mask, closing, width, height), width, height);
  return size
    .map((own, k) => ({ own, k }))
    .filter(({ own, k }) => value[k] === 1 && own >= leastMoving * width * height)
    .sort((a, b) => b.own - a.own)
    .slice(0, mostPatches)
    .flatMap(({ k }) => {
      const inside = Uint8Array.from(of, (other) => (other === k ? 1 : 0));
      const prior = { depths: depthsOf(inside, width, height), palette: null };
      return subject.cut({ strokes: [], prior, toPicture }) ?? [];
    });
}

/** px from a line's places to an open pose, on average; its ends, which only run on, left out. */
function meanDistance(line: readonly number[], coordinates: readonly number[]): number {
  const own = flattenOutline(coordinates, false, 1, 0.5);
  let [sum, count] = [0, 0];
  for (let i = 2; i + 2 < line.length; i += 2) {
    let least = Infinity;
    for (let k = 0; k + 2 < own.length; k += 2) {
      const [dx, dy] = [own[k + 2] - own[k], own[k + 3] - own[k + 1]];
      const [x, y] = [line[i] - own[k], line[i + 1] - own[k + 1]];
      const along = Math.min(1, Math.max(0, (x * dx + y * dy) / (dx * dx + dy * dy || 1)));
      least = Math.min(least, (x - along * dx) ** 2 + (y - along * dy) ** 2);
    }
    sum += Math.sqrt(least);
    count++;
  }
  return count > 0 ? sum / count : Infinity;
}
