import { type Affine, compose, invert } from '../geometry/affine';
import { distanceToLine } from '../geometry/polyline';
import { flattenOutline } from '../outline/curve';
import { signedArea } from '../outline/inward';
import { openPoseAlong, poseAlong } from '../outline/pose-along';
import { poseAnew } from '../outline/pose-anew';
import { type BorderSide, outerBorder } from './outer-border';
import type { ClosedLine } from './prior';
import type { CutRegion, Region } from './subject-frame';
import { contoursIn, fewestPoints } from './subject-outline';
import { contourAt, partsAlong, shiftedPose, type SubjectPart } from './subject-parts';

/** The side of a subject that its seam lies on; null: its outline is a loop about it. */
export type SeamSide = BorderSide | null;

/** A subject's outline as it lies in a frame, six numbers a point, shot px, with its further parts and holes. */
export interface Lying {
  coordinates: readonly number[];
  parts: readonly SubjectPart[];
}

/** From a region's samples to the shot's px. @param picture its px, those that `toPicture` leads to. */
export function toShotOf(
  { width, height }: Region,
  picture: { width: number; height: number },
  toPicture: Affine,
): Affine {
  return invert(compose([width / picture.width, 0, 0, height / picture.height, 0, 0], toPicture));
}

/** px, of a shot 1280 wide, by which points that went along may miss a line before they are laid anew. */
const missing = 3;

/**
 * A subject's outline brought onto its region in a frame: its points go along, or are laid anew where the line has become another.
 * Parts that have none yet get one.
 *
 * @param way shot px by which it went since the frame that `lying` is of.
 * @param shot px.
 * @returns with how far its line is off, px of a shot 1280 wide, and the share of the region that no outline encloses; null where nothing
 *   of the region is worth a line.
 */
export function lyingOn(
  region: CutRegion,
  side: SeamSide,
  { coordinates, parts }: Lying,
  {
    way,
    toShot,
    shot,
  }: { way: readonly [number, number]; toShot: Affine; shot: { width: number; height: number } },
): (Lying & { off: number; leftOut: number }) | null {
  const shifted = shiftedPose(coordinates, way);
  if (side) {
    const line = outerBorder(region, side, toShot);
    return line && { ...laidOn(shifted, line, false, shot), parts: [], leftOut: 0 };
  }
  const contours = contoursIn(region, toShot);
  if (contours.length === 0) return null;
  const own = contourAt(shifted, false, contours) ?? contours[0];
  const rest = contours.filter((contour) => contour !== own);
  const { parts: along, others } = partsAlong(parts, way, rest);
  return {
    ...laidOn(shifted, own.line, true, shot),
    parts: [...along, ...begunParts(others, own, shot)],
    leftOut: leftOutOf([own, ...rest], along),
  };
}

/** Share of a subject's own part that one must have to get an outline of its own while it is carried. */
const leastBegun = 0.015;

/** Parts and holes that have no outline yet, with one; they have no id. */
function begunParts(
  others: readonly ClosedLine[],
  { line: own }: ClosedLine,
  shot: { width: number },
): SubjectPart[] {
  const least = leastBegun * Math.abs(signedArea(own));
  return others
    .filter(({ line }) => Math.abs(signedArea(line)) >= least)
    .map(({ line, hole }) => ({
      ...{ id: '', coordinates: fewestPoints(line, true, shot.width) },
      ...{ hole, lost: false, began: true },
    }));
}

/** The share of a region's parts that is neither in its own nor in one that had an outline: what came off it. */
function leftOutOf([own, ...rest]: readonly ClosedLine[], parts: readonly SubjectPart[]): number {
  const areaOf = (line: readonly number[]) => Math.abs(signedArea(line));
  const all = [own, ...rest].filter(({ hole }) => !hole).reduce((sum, { line }) => sum + areaOf(line), 0);
  const outlined = parts
    .filter(({ hole, lost }) => !hole && !lost)
    .map(({ coordinates }) => areaOf(Array.from(flattenOutline(coordinates, true, 1, 1))));
  return Math.max(0, 1 - outlined.reduce((sum, area) => sum + area, areaOf(own.line)) / all);
}

/** A pose on a line that it lies about, and how far it is off. */
function laidOn(
  pose: readonly number[],
  line: readonly number[],
  closed: boolean,
  shot: { width: number; height: number },
): { coordinates: readonly number[]; off: number } {
  const along = closed ? poseAlong(pose, line) : openPoseAlong(pose, line);
  const off = missed(along, line, closed, shot);
  if (off <= missing) return { coordinates: along, off };
  const anew = poseAnew(pose, closed ? facing(line, pose) : line, closed, shot.width);
  const offAnew = anew ? missed(anew, line, closed, shot) : Infinity;
  return offAnew < off ? { coordinates: anew!, off: offAnew } : { coordinates: along, off };
}

/** A closed line walked the way that a pose is. */
function facing(line: readonly number[], pose: readonly number[]): readonly number[] {
  const own = signedArea(Array.from(flattenOutline(pose, true, 1, 1)));
  if (own > 0 === signedArea(line) > 0) return line;
  const out: number[] = [];
  for (let i = line.length - 2; i >= 0; i -= 2) out.push(line[i], line[i + 1]);
  return out;
}

/** px, of a shot 1280 wide, within which nine tenths of a region's line in the picture have the pose's. */
function missed(
  pose: readonly number[],
  line: readonly number[],
  closed: boolean,
  shot: { width: number; height: number },
): number {
  const own = flattenOutline(pose, closed, 1, 0.5);
  const distances: number[] = [];
  for (let i = 0; i < line.length; i += 16) {
    const inside = line[i] > 0 && line[i + 1] > 0 && line[i] < shot.width && line[i + 1] < shot.height;
    if (!inside) continue;
    distances.push(distanceToLine(line[i], line[i + 1], own, closed));
  }
  if (distances.length === 0) return 0;
  distances.sort((a, b) => a - b);
  return (distances[Math.floor(0.9 * distances.length)] * 1280) / shot.width;
}
