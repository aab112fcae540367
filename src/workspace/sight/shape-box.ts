import { movedPoints } from '@/core/actions/actions';
import { numbersPerPoint as N } from '@/core/model/choices';
import { boundsOf, pulledPose, turnedPose } from '@/core/outline';

type Place = readonly [x: number, y: number];

/** A box around the points that are shaped together, in shot px. */
export interface ShapeBox {
  /** From the top-left corner clockwise. */
  corners: [Place, Place, Place, Place];
  pivot: Place;
  /** Where the knob that turns it stands. */
  knob: Place;
}

/** What of the box is under the pointer; sides are numbered like the corners they follow. */
export type BoxPart =
  { on: 'corner' | 'side'; number: number } | { on: 'knob' } | { on: 'pivot' } | { on: 'inside' };

/** Least size of a box, px, so that a single line can be taken hold of. */
const least = 4;

/**
 * @param pivot that a hand has set; null: the box's middle.
 * @param reach of the hand, in shot px.
 */
export function shapeBox(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  pivot: Place | null,
  reach: number,
): ShapeBox {
  let [left, top, right, bottom] = boundsOf(coordinates, points);
  if (right - left < least) [left, right] = [(left + right - least) / 2, (left + right + least) / 2];
  if (bottom - top < least) [top, bottom] = [(top + bottom - least) / 2, (top + bottom + least) / 2];
  return {
    corners: [
      [left, top],
      [right, top],
      [right, bottom],
      [left, bottom],
    ],
    pivot: pivot ?? [(left + right) / 2, (top + bottom) / 2],
    knob: [(left + right) / 2, top - 3 * reach],
  };
}

export function sidesOf({ corners }: ShapeBox): Place[] {
  return corners.map(([x, y], k) => {
    const [nx, ny] = corners[(k + 1) % 4];
    return [(x + nx) / 2, (y + ny) / 2];
  });
}

export function boxHit(box: ShapeBox, [x, y]: Place, reach: number): BoxPart | null {
  const near = ([px, py]: Place) => Math.hypot(px - x, py - y) < reach;
  if (near(box.knob)) return { on: 'knob' };
  if (near(box.pivot)) return { on: 'pivot' };
  const corner = box.corners.findIndex(near);
  if (corner >= 0) return { on: 'corner', number: corner };
  const side = sidesOf(box).findIndex(near);
  if (side >= 0) return { on: 'side', number: side };
  const [[left, top], , [right, bottom]] = box.corners;
  return x > left && x < right && y > top && y < bottom ? { on: 'inside' } : null;
}

/** A drag of a part of the box, from one place to another, px of the shot. */
export interface BoxDrag {
  box: ShapeBox;
  part: BoxPart;
  from: Place;
  at: Place;
  /** Whether corners scale both ways alike, and turns go in steps of 15°. */
  even: boolean;
  /** Whether a corner is pulled alone, as in perspective. */
  pull: boolean;
}

/** The pose after a drag of a part of the box. */
export function boxDragged(
  start: readonly number[],
  points: ReadonlySet<number>,
  { box, part, from, at, even, pull }: BoxDrag,
): number[] {
  const [dx, dy] = [at[0] - from[0], at[1] - from[1]];
  const { pivot, corners } = box;
  if (part.on === 'inside') {
    const all = new Set(Array.from({ length: start.length / N }, (_, p) => p));
    return movedPoints(start, points.size > 0 ? points : all, dx, dy);
  }
  if (part.on === 'pivot') return start.slice();
  if (part.on === 'knob') {
    const angle = ([x, y]: Place) => Math.atan2(y - pivot[1], x - pivot[0]);
    const turn = angle(at) - angle(from);
    const step = Math.PI / 12;
    return turnedPose(start, points, pivot, {
      scaleX: 1,
      scaleY: 1,
      turn: even ? Math.round(turn / step) * step : turn,
    });
  }
  if (part.on === 'corner' && pull) {
    const to = corners.map((corner, k): Place =>
      k === part.number ? [corner[0] + dx, corner[1] + dy] : corner,
    );
    return pulledPose(start, points, corners, to);
  }
  const hold = part.on === 'corner' ? corners[part.number] : sidesOf(box)[part.number];
  const ratio = (k: 0 | 1, by: number) => {
    const arm = hold[k] - pivot[k];
    return Math.abs(arm) < 1 ? 1 : (arm + by) / arm;
  };
  let [sx, sy] = [ratio(0, dx), ratio(1, dy)];
  if (part.on === 'side') [sx, sy] = part.number % 2 === 0 ? [1, sy] : [sx, 1];
  else if (even) sx = sy = Math.abs(sx - 1) > Math.abs(sy - 1) ? sx : sy;
  return turnedPose(start, points, pivot, { scaleX: sx, scaleY: sy, turn: 0 });
}
