import { numbersPerPoint as N } from '../model/choices';
import { boxAbout, type Rectangle } from '../geometry/rectangle';
import { flattenOutline } from '../outline/curve';
import { poseAlong } from '../outline/pose-along';
import type { ClosedLine } from './prior';

/** A further part or hole of a subject, by its outline's id. */
export interface SubjectPart {
  id: string;
  coordinates: readonly number[];
  hole: boolean;
  /** Whether nothing like it was found where it should be: it only went along. */
  lost?: boolean;
  /** Whether it came to be while the subject was carried, and has no outline of that id yet. */
  began?: boolean;
}

/** Share of a part that must lie about where it was to be taken for it. */
const sameFrom = 0.4;

const flat = (coordinates: readonly number[]) => Array.from(flattenOutline(coordinates, true, 1, 0.5));

/** A subject's closed lines, its own first. */
export function closedLinesOf(coordinates: readonly number[], parts: readonly SubjectPart[]): ClosedLine[] {
  return [{ coordinates, hole: false }, ...parts].map((part) => ({
    line: flat(part.coordinates),
    hole: part.hole,
  }));
}

export function shiftedPose(
  coordinates: readonly number[],
  [dx, dy]: readonly [number, number],
): readonly number[] {
  return coordinates.map((value, i) => (i % N === 0 ? value + dx : i % N === 1 ? value + dy : value));
}

/** The contour of those that lies most where a pose is; null: none does. */
export function contourAt(
  pose: readonly number[],
  hole: boolean,
  contours: readonly ClosedLine[],
): ClosedLine | null {
  const own = boxAbout(flat(pose));
  let [best, most] = [null as ClosedLine | null, sameFrom];
  for (const contour of contours) {
    const share = contour.hole === hole ? boxesShare(own, boxAbout(contour.line)) : 0;
    if (share > most) [best, most] = [contour, share];
  }
  return best;
}

/**
 * Parts moved by `way`, each on the contour that lies most where it is then; where there is none it only goes along.
 *
 * @returns with the contours that are none of theirs.
 */
export function partsAlong(
  parts: readonly SubjectPart[],
  way: readonly [number, number],
  contours: readonly ClosedLine[],
): { parts: SubjectPart[]; others: ClosedLine[] } {
  let others = [...contours];
  const along = parts.map((part) => {
    const shifted = shiftedPose(part.coordinates, way);
    const found = contourAt(shifted, part.hole, others);
    others = others.filter((contour) => contour !== found);
    return { ...part, coordinates: found ? poseAlong(shifted, found.line) : shifted, lost: !found };
  });
  return { parts: along, others };
}

/** Share of two boxes together that both have. */
function boxesShare(a: Rectangle, b: Rectangle): number {
  const area = ([left, top, right, bottom]: Rectangle) =>
    Math.max(0, right - left) * Math.max(0, bottom - top);
  const shared = area([
    Math.max(a[0], b[0]),
    Math.max(a[1], b[1]),
    Math.min(a[2], b[2]),
    Math.min(a[3], b[3]),
  ]);
  return shared / (area(a) + area(b) - shared || 1);
}
