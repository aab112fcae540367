import { type ShotMotion, numbersPerFrame } from '../model/shot';
import type { Affine } from '../geometry/affine';
import { whittaker } from '../numbers/whittaker';

/** The picture's path through a shot: where its centre has gone (px), its scale (logarithm) and turn (radians). */
export interface MotionPath {
  x: Float64Array;
  y: Float64Array;
  logScale: Float64Array;
  turn: Float64Array;
}

/** Movements from frame to frame, added up; scale and turn are about the frame's centre and small. */
export function pathOf({ frames }: ShotMotion): MotionPath {
  const count = frames.length / numbersPerFrame;
  const path = [0, 1, 2, 3].map(() => new Float64Array(count));
  for (let k = 1; k < count; k++) {
    const i = k * numbersPerFrame;
    const steps = [frames[i], frames[i + 1], Math.log(frames[i + 2]), frames[i + 3]];
    steps.forEach((step, which) => (path[which][k] = path[which][k - 1] + step));
  }
  const [x, y, logScale, turn] = path;
  return { x, y, logScale, turn };
}

/** Largest enlargement that steadying takes; beyond it borders would show and the correction is held back. */
export const largestZoom = 1.5;

/** How a shot is steadied: a map of its pixels for each frame. */
export interface Steadying {
  /** From the frame's pixels to where they are drawn, in shot px. */
  maps: readonly Affine[];
  /** The one enlargement that hides the borders in every frame, 1 or more. */
  zoom: number;
  /** Root mean square distance of the picture's centre from its own smooth path, px: before and after. */
  before: number;
  after: number;
}

const made = new WeakMap<ShotMotion, Map<string, Steadying>>();

/**
 * Follows a smoothed path instead of the measured one.
 *
 * @param strength percent, 0 to 100: from nothing to nearly a straight path.
 * @param width, height of the shot, px.
 */
export function steadying(motion: ShotMotion, strength: number, width: number, height: number): Steadying {
  const key = `${strength} ${width} ${height}`;
  let known = made.get(motion);
  if (!known) made.set(motion, (known = new Map()));
  let result = known.get(key);
  if (!result) known.set(key, (result = makeSteadying(motion, strength, width, height)));
  return result;
}

function makeSteadying(motion: ShotMotion, strength: number, width: number, height: number): Steadying {
  const path = pathOf(motion);
  const lambda = strength <= 0 ? 0 : 10 ** (strength / 20) - 1;
  const wanted = (['x', 'y', 'logScale', 'turn'] as const).map((which) => {
    const smooth = whittaker(path[which], lambda);
    return smooth.map((value, k) => value - path[which][k]);
  });
  const [middleX, middleY] = [width / 2, height / 2];
  // Held back evenly when hiding the borders would take too much of the picture.
  let share = 1;
  let zoom = zoomFor(wanted, share, width, height);
  while (zoom > largestZoom && share > 0.05) zoom = zoomFor(wanted, (share *= 0.85), width, height);
  const count = path.x.length;
  const [dx, dy, logScale, turn] = wanted;
  const maps = Array.from({ length: count }, (_, k): Affine => {
    const scale = Math.exp(logScale[k] * share) * zoom;
    const [cos, sin] = [Math.cos(turn[k] * share) * scale, Math.sin(turn[k] * share) * scale];
    return [
      cos,
      sin,
      -sin,
      cos,
      middleX - cos * middleX + sin * middleY + zoom * dx[k] * share,
      middleY - sin * middleX - cos * middleY + zoom * dy[k] * share,
    ];
  });
  const after = {
    x: path.x.map((value, k) => value + dx[k] * share),
    y: path.y.map((value, k) => value + dy[k] * share),
  };
  return { maps, zoom, before: unsteadiness(path), after: unsteadiness(after) };
}

/** The smallest enlargement about the centre at which every frame covers the whole of its field. */
function zoomFor(wanted: readonly Float64Array[], share: number, width: number, height: number): number {
  const [dx, dy, logScale, turn] = wanted;
  let zoom = 1;
  for (let k = 0; k < dx.length; k++) {
    const inverse = Math.exp(-logScale[k] * share);
    const [cos, sin] = [Math.cos(turn[k] * share) * inverse, Math.sin(turn[k] * share) * inverse];
    const back = (x: number, y: number): [number, number] => [cos * x + sin * y, -sin * x + cos * y];
    const [bx, by] = back(dx[k] * share, dy[k] * share);
    for (const [x, y] of [
      [-width, -height],
      [width, -height],
      [-width, height],
      [width, height],
    ]) {
      const [ax, ay] = back(x / 2, y / 2);
      zoom = Math.max(zoom, needed(ax, bx, width / 2), needed(ay, by, height / 2));
    }
  }
  return zoom;
}

/** The least z with |a/z − b| ≤ half. */
function needed(a: number, b: number, half: number): number {
  const room = a > 0 ? half + b : half - b;
  return room <= 0 ? Infinity : Math.abs(a) / room;
}

/** Slower than about a second at 25 fps is taken to be the camera's intent, quicker to be unsteadiness. */
const intent = 2000;

/** Root mean square distance, px, of a path from its own smooth course. */
export function unsteadiness({ x, y }: Pick<MotionPath, 'x' | 'y'>): number {
  const [sx, sy] = [whittaker(x, intent), whittaker(y, intent)];
  let sum = 0;
  for (let k = 0; k < x.length; k++) sum += (x[k] - sx[k]) ** 2 + (y[k] - sy[k]) ** 2;
  return x.length === 0 ? 0 : Math.sqrt(sum / x.length);
}
