import { type PoseRow } from '../document/tables';
import { numbersPerPoint as N, otherSide, type Side } from '../model/choices';
import type { Shot } from '../model/shot';
import { sideWithLess } from '../matte/side';
import { flattenOutline } from '../outline';
import type { MovingSide } from './moving-side';

/** A seam's swept side, and what it rests on. */
export interface SideJudgement {
  swept: Side;
  basis: 'movement' | 'crosser' | 'person' | 'poses' | 'area';
  /** False where it is a guess that a person has to look at. */
  sure: boolean;
  /** In a sentence. */
  says: string;
}

export type Way = 'left' | 'right' | 'up' | 'down';

/** Mean unit normal of a line, to its left as one walks along it; y down. */
function leftNormal(coordinates: readonly number[]): [x: number, y: number] {
  const line = flattenOutline(coordinates, false, 1, 0.5);
  let [nx, ny] = [0, 0];
  for (let i = 2; i < line.length; i += 2) {
    nx += line[i + 1] - line[i - 1];
    ny -= line[i] - line[i - 2];
  }
  const length = Math.hypot(nx, ny) || 1;
  return [nx / length, ny / length];
}

/** Where a side of a line lies as one sees the picture. */
export function wayOfSide(coordinates: readonly number[], side: Side): Way {
  const [nx, ny] = leftNormal(coordinates).map((value) => (side === 'left' ? value : -value));
  if (Math.abs(nx) >= Math.abs(ny)) return nx > 0 ? 'right' : 'left';
  return ny > 0 ? 'down' : 'up';
}

export const sideWords: Record<Way, string> = {
  left: 'left of the line',
  right: 'right of the line',
  up: 'above the line',
  down: 'below the line',
};

/** The side that a line sweeps when it moves by dx, dy; null where it hardly moves across itself. */
function leftBehind(coordinates: readonly number[], dx: number, dy: number): Side | null {
  const [nx, ny] = leftNormal(coordinates);
  const across = nx * dx + ny * dy;
  if (Math.abs(across) < 0.25 * Math.hypot(dx, dy) || Math.abs(across) < 1e-6) return null;
  return across > 0 ? 'right' : 'left';
}

/** px of the shot that the first and the last pose must lie apart to say which way the line goes. */
const leastCourse = 6;

/** From the course of the poses; null while they do not tell. */
export function sideByPoses(poses: readonly PoseRow[]): SideJudgement | null {
  if (poses.length < 2) return null;
  const [first, last] = [poses[0].coordinates, poses[poses.length - 1].coordinates];
  const points = first.length / N;
  let [dx, dy] = [0, 0];
  for (let i = 0; i < first.length; i += N) {
    dx += (last[i] - first[i]) / points;
    dy += (last[i + 1] - first[i + 1]) / points;
  }
  if (Math.hypot(dx, dy) < leastCourse) return null;
  const swept = leftBehind(first, dx, dy);
  if (!swept) return null;
  const way = wayOfSide(first, otherSide(swept));
  return { swept, basis: 'poses', sure: true, says: `Its poses go ${way}; what they leave behind is swept.` };
}

/** Judges from the measured movement of both sides of the line. */
export function sideByMovement(coordinates: readonly number[], read: MovingSide): SideJudgement {
  const where = sideWords[wayOfSide(coordinates, read.object)];
  const way = wayOfSide(coordinates, otherSide(read.swept));
  return {
    swept: read.swept,
    basis: 'movement',
    sure: read.sure,
    says: `What lies ${where} moves ${way} with the edge, ${read.speed.toFixed(read.speed < 10 ? 1 : 0)} px a frame.`,
  };
}

/**
 * Judges from the person whose border the line lies on.
 *
 * @param side of the person on which it lies.
 * @param trailing the side that comes last as the person walks; null: the person stands.
 */
export function sideByPerson(
  coordinates: readonly number[],
  { side, trailing }: { side: Side; trailing: Side | null },
): SideJudgement | null {
  // Beside a person who stands, the ground outside is the likelier side.
  const swept = leftBehind(coordinates, (trailing ?? side) === 'left' ? 1 : -1, 0);
  if (!swept) return null;
  return {
    swept,
    basis: 'person',
    sure: trailing !== null,
    says: trailing
      ? `A person walks to the ${otherSide(trailing)} here; what the edge leaves behind is swept.`
      : `A person stands to the ${otherSide(side)} of the line.`,
  };
}

/**
 * What can be said without looking at the picture: from what was measured to cross the shot, else, as a guess, the
 * smaller side.
 */
export function sideAtFirst(coordinates: readonly number[], shot: Shot, source: number): SideJudgement {
  const crosser = shot.motion?.crosser;
  if (crosser?.kind === 'across' && source >= crosser.opens - 2 && source <= crosser.closes + 2) {
    const swept = leftBehind(coordinates, crosser.direction, 0);
    if (swept)
      return {
        swept,
        basis: 'crosser',
        sure: true,
        says: `The movement measured here goes to the ${crosser.direction > 0 ? 'right' : 'left'} here.`,
      };
  }
  return {
    swept: sideWithLess(coordinates, shot),
    basis: 'area',
    sure: false,
    says: 'Only a guess yet: it is the smaller side. Nothing about the line tells which way the edge goes.',
  };
}

/** Whether a judgement may take the place of another: a sure one always, a guess only that of a guess. */
export function isBetter(next: SideJudgement, before: SideJudgement): boolean {
  return next.sure || (!before.sure && before.basis === 'area');
}
