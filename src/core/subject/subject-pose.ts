import { type Affine, compose, invert } from '../geometry/affine';
import { flattenOutline } from '../outline/curve';
import { signedArea } from '../outline/inward';
import { poseLaid } from '../outline/pose-laid';
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

/** A pose on a line that it lies about, and how far it is off, px of a shot 1280 wide. */
function laidOn(
  pose: readonly number[],
  line: readonly number[],
  closed: boolean,
  shot: { width: number; height: number },
) {
  return poseLaid(pose, line, closed, {
    unit: shot.width / 1280,
    seen: (x, y) => x > 0 && y > 0 && x < shot.width && y < shot.height,
  });
}
