import { movedHandle } from '@/core/actions/actions';
import { numbersPerPoint as N } from '@/core/model/choices';
import type { SoftnessKnob } from '@/core/edge/softness';
import { boxDragged, boxHit, type BoxPart, type ShapeBox } from '../sight/shape-box';
import { type Hit, hitOutline } from './hit';

/** What a pressed pointer does to an outline, without the page: from a press to the pose that a drag makes. */

export type Place = [x: number, y: number];

/** Positions in shot px. */
export type Gesture =
  | { does: 'move'; points: ReadonlySet<number>; from: Place; start: readonly number[]; moved: boolean }
  | { does: 'handle'; hit: Extract<Hit, { on: 'handle' }>; start: readonly number[]; moved: boolean }
  | { does: 'shape'; part: BoxPart; box: ShapeBox; from: Place; start: readonly number[]; moved: boolean }
  | { does: 'soften'; knob: SoftnessKnob; moved: boolean }
  | { does: 'marquee'; from: Place; keep: ReadonlySet<number> };
/** Those that change a pose. */
export type PoseGesture = Exclude<Gesture, { does: 'marquee' | 'soften' }>;

/** What lies under the pointer to be taken hold of. */
export interface Holdable {
  coordinates: readonly number[];
  closed: boolean;
  points: ReadonlySet<number>;
  box: ShapeBox | null;
  knobs: readonly SoftnessKnob[];
  /** px of the shot around the pointer. */
  reach: number;
}

type Modifiers = Pick<PointerEvent, 'shiftKey' | 'altKey' | 'ctrlKey' | 'metaKey'>;

export function knobAt({ knobs, reach }: Pick<Holdable, 'knobs' | 'reach'>, at: Place): SoftnessKnob | null {
  return knobs.find(({ place }) => Math.hypot(place[0] - at[0], place[1] - at[1]) < reach * 0.8) ?? null;
}

/** What a press begins: parts of the box come before softness knobs, those before points, handles and the line. */
export function gestureAt(holdable: Holdable, at: Place, keys: Modifiers): Gesture {
  const { coordinates: start, closed, points, box, reach } = holdable;
  const part = box && boxHit(box, at, reach);
  if (part) return { does: 'shape', part, box, from: at, start, moved: false };
  const knob = knobAt(holdable, at);
  if (knob) return { does: 'soften', knob, moved: false };
  const hit = hitOutline(start, closed, points, at, reach);
  switch (hit?.on) {
    case 'handle':
      return { does: 'handle', hit, start, moved: false };
    case 'line': {
      const all = new Set(Array.from({ length: start.length / N }, (_, i) => i));
      return { does: 'move', points: all, from: at, start, moved: false };
    }
    case 'point':
      return keys.altKey
        ? { does: 'handle', hit: { on: 'handle', point: hit.point, side: 'out' }, start, moved: false }
        : { does: 'move', points: chosenWith(points, hit.point, keys), from: at, start, moved: false };
    default:
      return { does: 'marquee', from: at, keep: keys.shiftKey ? points : new Set() };
  }
}

/** The points that are chosen after one is pressed: with Shift it joins or leaves them. */
function chosenWith(points: ReadonlySet<number>, point: number, { shiftKey }: Modifiers): Set<number> {
  const chosen = new Set(points);
  if (shiftKey && chosen.has(point)) chosen.delete(point);
  else {
    if (!shiftKey && !chosen.has(point)) chosen.clear();
    chosen.add(point);
  }
  return chosen;
}

/** The points that a press chooses; null where it leaves them. */
export function chosenBy(gesture: Gesture, { coordinates, closed, points, reach }: Holdable, at: Place) {
  if (gesture.does === 'marquee') return gesture.keep;
  const hit = hitOutline(coordinates, closed, points, at, reach);
  if (hit?.on !== 'point') return null;
  if (gesture.does === 'move') return gesture.points;
  return gesture.does === 'handle' ? new Set([hit.point]) : null;
}

/**
 * The pose that a drag makes.
 *
 * @param moveSoftly moves points by px, others following as far as the soft reach goes.
 */
export function poseDragged(
  gesture: PoseGesture,
  points: ReadonlySet<number>,
  at: Place,
  keys: Modifiers,
  moveSoftly: (start: readonly number[], moved: ReadonlySet<number>, dx: number, dy: number) => number[],
): number[] {
  const { start } = gesture;
  if (gesture.does === 'move') {
    const { from } = gesture;
    return moveSoftly(start, gesture.points, at[0] - from[0], at[1] - from[1]);
  }
  if (gesture.does === 'shape') {
    const { box, part, from } = gesture;
    return boxDragged(start, points, {
      ...{ box, part, from, at },
      even: keys.shiftKey,
      pull: keys.ctrlKey || keys.metaKey,
    });
  }
  const { point, side } = gesture.hit;
  const i = point * N;
  const bare = start.slice(i + 2, i + 6).every((x) => x === 0);
  const handle = { point, side, mirrored: !keys.altKey || bare };
  return movedHandle(start, handle, [at[0] - start[i], at[1] - start[i + 1]]);
}

/** The points within a marquee, with those that are kept. */
export function pointsWithin(
  coordinates: readonly number[],
  from: Place,
  at: Place,
  keep: ReadonlySet<number>,
): Set<number> {
  const [x0, x1] = [Math.min(from[0], at[0]), Math.max(from[0], at[0])];
  const [y0, y1] = [Math.min(from[1], at[1]), Math.max(from[1], at[1])];
  const chosen = new Set(keep);
  for (let p = 0; p < coordinates.length / N; p++) {
    const [x, y] = [coordinates[p * N], coordinates[p * N + 1]];
    if (x >= x0 && x <= x1 && y >= y0 && y <= y1) chosen.add(p);
  }
  return chosen;
}
