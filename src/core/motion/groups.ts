import { bestSimilarity } from '../geometry/similarity';
import { fieldOf, fields } from './corners';

/** A share of the picture that moves as one: a similarity about the picture's middle. */
export interface MotionGroup {
  /** Shift of the picture's middle, px. */
  dx: number;
  dy: number;
  scale: number;
  /** Radians, clockwise as y points down. */
  turn: number;
  /** Share of the fields that hold followed points, whose points move along; 0 to 1. */
  support: number;
  /** From its first to its last point across the picture, as a share of all points'; 0 to 1. */
  extent: number;
}

/** Where the group's movement takes a point. */
export function movedBy(
  group: MotionGroup,
  x: number,
  y: number,
  width: number,
  height: number,
): [number, number] {
  const [px, py] = [x - width / 2, y - height / 2];
  const [cos, sin] = [Math.cos(group.turn) * group.scale, Math.sin(group.turn) * group.scale];
  return [width / 2 + group.dx + cos * px - sin * py, height / 2 + group.dy + sin * px + cos * py];
}

const mostAttempts = 160;
const largest = 4;

/**
 * The movements in a picture, the one with most points first: similarities found from random pairs of points
 * (Fischler and Bolles 1981), fitted to all points that agree (Umeyama 1991), taken out one after the other.
 *
 * @param from, to x, y of each point before and after; NaN in `to` where it was lost.
 * @param tolerance px within which a point agrees.
 */
export function motionGroups(
  from: Float32Array,
  to: Float32Array,
  width: number,
  height: number,
  tolerance: number,
): MotionGroup[] {
  let open: number[] = [];
  for (let i = 0; i < from.length; i += 2) if (!Number.isNaN(to[i])) open.push(i);
  const fieldsOf = (which: readonly number[]) =>
    new Set(which.map((i) => fieldOf(from[i], from[i + 1], width, height)));
  const spanOf = (taken: ReadonlySet<number>) => {
    const columns = Array.from(taken, (field) => field % fields.across);
    return Math.max(...columns) - Math.min(...columns) + 1;
  };
  const all = fieldsOf(open);
  const held = all.size;
  const groups: MotionGroup[] = [];
  const random = randomNumbers(1);
  while (open.length >= 8 && groups.length < largest) {
    let best: MotionGroup | null = null;
    let most = 0;
    let attempts = mostAttempts;
    for (let k = 0; k < attempts; k++) {
      const [i, j] = [open[Math.floor(random() * open.length)], open[Math.floor(random() * open.length)]];
      if (i === j || Math.hypot(from[i] - from[j], from[i + 1] - from[j + 1]) < 0.05 * width) continue;
      const group = fitted(from, to, [i, j], width, height);
      // Movements from frame to frame neither turn nor swell much: two lost points do.
      if (Math.abs(group.scale - 1) > 0.15 || Math.abs(group.turn) > 0.2) continue;
      const count = agreement(group, from, to, { open, width, height, tolerance, along: null });
      if (count <= most) continue;
      [most, best] = [count, group];
      // As many more as make a better pair, if there is one, 99.9 % sure to be met.
      const share = (count / open.length) ** 2;
      attempts = Math.min(mostAttempts, k + Math.ceil(Math.log(0.001) / Math.log(1 - Math.min(0.99, share))));
    }
    if (!best || most < 8) break;
    let agreeing: number[] = [];
    // Closer and closer around where most points agree: parts at other depths pull less.
    for (const within of [1, 1, 0.6, 0.4, 0.3, 0.3]) {
      const along: number[] = [];
      agreement(best, from, to, { open, width, height, tolerance: tolerance * within, along });
      if (along.length < 8) break;
      agreeing = along;
      best = fitted(from, to, agreeing, width, height);
    }
    agreeing = [];
    agreement(best, from, to, { open, width, height, tolerance, along: agreeing });
    if (agreeing.length < 8) break;
    const taken = fieldsOf(agreeing);
    const support = taken.size / Math.max(held, (fields.across * fields.down) / 8);
    groups.push({ ...best, support, extent: spanOf(taken) / spanOf(all) });
    const gone = new Set(agreeing);
    open = open.filter((i) => !gone.has(i));
  }
  return groups.sort((a, b) => b.support - a.support);
}

function fitted(
  from: Float32Array,
  to: Float32Array,
  which: readonly number[],
  width: number,
  height: number,
): MotionGroup {
  const p = which.flatMap((i) => [from[i], from[i + 1]]);
  const q = which.flatMap((i) => [to[i], to[i + 1]]);
  const { turn, scale, fromX, fromY, toX, toY } = bestSimilarity(p, q, 2);
  const [cos, sin] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
  const [x, y] = [width / 2 - fromX, height / 2 - fromY];
  return {
    dx: toX + cos * x - sin * y - width / 2,
    dy: toY + sin * x + cos * y - height / 2,
    scale,
    turn,
    support: 0,
    extent: 0,
  };
}

/** How many points move along with a group; they are put into `along`, if it is given. */
function agreement(
  { dx, dy, scale, turn }: MotionGroup,
  from: Float32Array,
  to: Float32Array,
  {
    open,
    width,
    height,
    tolerance,
    along,
  }: { open: readonly number[]; width: number; height: number; tolerance: number; along: number[] | null },
): number {
  const [cos, sin] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
  const [middleX, middleY] = [width / 2, height / 2];
  const near = tolerance * tolerance;
  let count = 0;
  for (let k = 0; k < open.length; k++) {
    const i = open[k];
    const x = from[i] - middleX;
    const y = from[i + 1] - middleY;
    const offX = to[i] - middleX - dx - cos * x + sin * y;
    const offY = to[i + 1] - middleY - dy - sin * x - cos * y;
    if (offX * offX + offY * offY >= near) continue;
    count++;
    along?.push(i);
  }
  return count;
}

/** Even numbers from 0 to 1, the same each time: Marsaglia's xorshift (2003). */
function randomNumbers(seed: number): () => number {
  let state = seed * 2654435761 || 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
}
