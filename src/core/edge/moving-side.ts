import type { Side } from '../model/choices';
import { type ShotMotion, numbersPerFrame } from '../model/shot';
import type { Luma } from '../motion/luma';
import { walkOutline } from './strip';

/** Which way the moving edge goes at a line drawn on it. */
export interface MovingSide {
  /** The side that it leaves behind, seen along the line: what it sweeps. */
  swept: Side;
  /** The side that moves with it. */
  object: Side;
  /** px of the shot a frame, across the line. */
  speed: number;
  /** Whether one side clearly moves with the scene and the other clearly does not. */
  sure: boolean;
}

/** Depths from the line at which a side is compared, as shares of the picture's width: 4 to 50 px of 1280. */
const depths = Array.from({ length: 8 }, (_, k) => (4 + k * 6.5) / 1280);
/** Farthest that a side may have moved between the two pictures, shares of the width, across and along it. */
const farX = 0.11;
const farY = 0.035;
/** Differences are truncated here, code values. */
const truncation = 40;
/** Least speed, px of the shot a frame for a width of 1280, that says which way something goes. */
const leastSpeed = 0.6;

interface Match {
  dx: number;
  dy: number;
  /** How much better the match is than a middling one: 0 (no texture) to 1. */
  distinct: number;
}

/**
 * The side of a line that something moving leaves behind, from two pictures: either side of the line is found again
 * in the other picture, and the side that does not go along with the scene takes the edge with it.
 *
 * @param here the picture that the line was drawn on, and `there` another; upright luma, same size.
 * @param frames how many frames `there` is later; negative: earlier.
 * @param shot size in px that the line's coordinates are in.
 * @param scene the scene's own shift from here to there, px of the shot; null where it was not measured.
 * @returns null where too little of the line is in the picture, or nothing about it moves across it.
 */
export function readMovingSide(
  here: Luma,
  there: Luma,
  {
    frames,
    shot,
    scene,
  }: {
    frames: number;
    shot: { width: number; height: number };
    scene: readonly [dx: number, dy: number] | null;
  },
  coordinates: readonly number[],
): MovingSide | null {
  const scale = here.width / shot.width;
  const walk = walkOutline({ kind: 'seam', sweptSide: 'left' }, coordinates, shot, 6);
  const places = walk.places.length / 2;
  if (places < 12) return null;
  const sampled = (side: 1 | -1) => {
    const at: number[] = [];
    for (let k = 0; k < places; k++)
      for (const depth of depths)
        at.push(
          (walk.places[2 * k] + side * depth * shot.width * walk.inward[2 * k]) * scale - 0.5,
          (walk.places[2 * k + 1] + side * depth * shot.width * walk.inward[2 * k + 1]) * scale - 0.5,
        );
    return findAgain(here, there, at);
  };
  // Inward is to the left of the line.
  const [left, right] = [sampled(1), sampled(-1)];
  let [nx, ny] = [0, 0];
  for (let k = 0; k < places; k++) {
    nx += walk.inward[2 * k] / places;
    ny += walk.inward[2 * k + 1] / places;
  }
  const still = scene ? [scene[0] * scale, scene[1] * scale] : [0, 0];
  const own = (match: Match | null) => (match ? Math.hypot(match.dx - still[0], match.dy - still[1]) : 0);
  const clear = (match: Match | null) => match !== null && match.distinct > 0.35;
  // A patch hidden in the other picture matches anywhere: count clear matches only.
  const told = (match: Match | null) => (clear(match) ? own(match) : -1);
  const object: Side = told(left) > told(right) ? 'left' : 'right';
  const [moving, other] = object === 'left' ? [left, right] : [right, left];
  if (!clear(moving)) return null;
  const across = ((moving!.dx * nx + moving!.dy * ny) / scale / frames) as number;
  const speed = Math.abs(across);
  if (speed < (leastSpeed * shot.width) / 1280) return null;
  const apart =
    own(moving) > 1.5 && (scene ? own(other) < 0.5 * own(moving) : own(other) < 0.35 * own(moving));
  return { swept: across > 0 ? 'right' : 'left', object, speed, sure: clear(other) && apart };
}

/** Where samples lie in another picture, by the least mean of truncated absolute differences over whole shifts. */
function findAgain(here: Luma, there: Luma, at: readonly number[]): Match | null {
  const { width, height } = here;
  const xs: number[] = [];
  const ys: number[] = [];
  const values: number[] = [];
  for (let i = 0; i < at.length; i += 2) {
    const [x, y] = [Math.round(at[i]), Math.round(at[i + 1])];
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    xs.push(x);
    ys.push(y);
    values.push(here.values[y * width + x]);
  }
  if (values.length < 60) return null;
  const [mostX, mostY] = [Math.ceil(farX * width), Math.ceil(farY * width)];
  const costs: number[] = [];
  let best = { cost: Infinity, dx: 0, dy: 0 };
  for (let dy = -mostY; dy <= mostY; dy++) {
    for (let dx = -mostX; dx <= mostX; dx++) {
      let [sum, count] = [0, 0];
      for (let k = 0; k < values.length; k++) {
        const [x, y] = [xs[k] + dx, ys[k] + dy];
        if (x < 0 || y < 0 || x >= width || y >= height) continue;
        const off = Math.abs(there.values[y * width + x] - values[k]);
        sum += off < truncation ? off : truncation;
        count++;
      }
      if (count < 0.6 * values.length) continue;
      const cost = sum / count;
      costs.push(cost);
      if (cost < best.cost) best = { cost, dx, dy };
    }
  }
  if (costs.length === 0) return null;
  costs.sort((a, b) => a - b);
  const middling = costs[costs.length >> 1];
  return { dx: best.dx, dy: best.dy, distinct: (middling - best.cost) / (middling + 1) };
}

/** The scene's shift between two frames, px of the shot, from the shot's measured movement; null where there is none. */
export function sceneShift(
  motion: ShotMotion | null,
  from: number,
  to: number,
): [dx: number, dy: number] | null {
  if (!motion) return null;
  let [dx, dy] = [0, 0];
  for (let frame = Math.min(from, to) + 1; frame <= Math.max(from, to); frame++) {
    dx += motion.frames[frame * numbersPerFrame];
    dy += motion.frames[frame * numbersPerFrame + 1];
  }
  return to >= from ? [dx, dy] : [-dx, -dy];
}
