import { type Affine, applyAffine } from '../geometry/affine';
import { median } from '../numbers/quantile';

/** How an edge goes through the picture. */
export interface Passage {
  /** Rightwards 1, leftwards −1. */
  direction: 1 | -1;
  /** px a frame, without a sign. */
  speed: number;
  /** First and last frame with some of the edge in the picture, as its course is carried on to the borders. */
  opens: number;
  closes: number;
  /** Frames on which it was seen. */
  seenOn: number[];
  /** Share of the picture's width over which it was seen to go. */
  way: number;
}

/** An edge as one frame shows it. */
interface Seen {
  frame: number;
  clear: number;
  groundLeft: boolean;
  points: readonly (readonly [number, number])[];
}

/** Share of the width over which an edge has to be seen to go before something is said to pass. */
const passesFrom = 0.5;

/** Whether an edge goes through the picture, from side to side. */
export function passes<P extends Passage>(passage: P | null): passage is P {
  return passage !== null && passage.way >= passesFrom;
}

/** Fewest frames that have to agree, and share of the width over which they have to. */
const [fewest, leastWay] = [3, 0.2];
/** Share of the width by which an edge may lie off its even course. */
const offCourse = 0.06;
/** Clearness below which an edge says nothing, and share of the width at each border within which it is not believed. */
const [leastClear, rim] = [0.25, 0.02];
/** Edges at either end of the course that its entering and leaving are read from. */
const atEnds = 5;

interface Placed<S> {
  seen: S;
  frame: number;
  /** Mean place, and those of its rows that lie farthest to the left and to the right. */
  x: number;
  low: number;
  high: number;
}

/**
 * Of edges seen on many frames those that go on through the picture as one, at about one speed, with the ground behind it (before it, where it
 * leads): the ones that most agree on (Fischler and Bolles 1981, over all pairs).
 *
 * @param width of the pictures, px.
 * @returns with the edges that agree, ascending by frame; null where too few do.
 */
export function passageThrough<S extends Seen>(
  edges: readonly S[],
  width: number,
  edge: 'trailing' | 'leading',
): (Passage & { looks: S[] }) | null {
  const placed = edges
    .filter(({ clear }) => clear >= leastClear)
    .map((seen): Placed<S> => {
      const xs = seen.points.map(([x]) => x);
      const x = xs.reduce((sum, each) => sum + each, 0) / xs.length;
      return { seen, frame: seen.frame, x, low: Math.min(...xs), high: Math.max(...xs) };
    })
    .sort((a, b) => a.frame - b.frame)
    .filter(({ x }) => x > rim * width && x < (1 - rim) * width);
  let best: { with: Placed<S>[]; worth: number } | null = null;
  for (const groundLeft of [true, false]) {
    const side = placed.filter(({ seen }) => seen.groundLeft === groundLeft);
    // Ground lies behind what has passed, and before what comes.
    const direction = groundLeft === (edge === 'trailing') ? 1 : -1;
    for (const [k, a] of side.entries())
      for (const b of side.slice(k + 1)) {
        const speed = (b.x - a.x) / (b.frame - a.frame);
        if (!(speed * direction > 0) || !Number.isFinite(speed)) continue;
        const agree = side.filter(
          ({ x, frame }) => Math.abs(x - a.x - speed * (frame - a.frame)) < offCourse * width,
        );
        if (agree.length < fewest) continue;
        const way = Math.abs(speed) * (agree[agree.length - 1].frame - agree[0].frame);
        if (way < leastWay * width) continue;
        // What is seen to go through is worth more than what has only come in.
        const through = Math.min(1, way / (passesFrom * width));
        const worth = through * agree.reduce((sum, { seen }) => sum + seen.clear, 0);
        if (!best || worth > best.worth) best = { with: agree, worth };
      }
  }
  if (!best) return null;
  const { with: agree } = best;
  const speed = median(slopesOf(agree));
  const direction = speed > 0 ? 1 : -1;
  // The row that is farthest on opens the way; the one that comes last closes it.
  const [first, last] = [agree.slice(0, atEnds), agree.slice(-atEnds)];
  const ahead = ({ low, high }: Placed<S>) => (direction > 0 ? high : width - low);
  const behind = ({ low, high }: Placed<S>) => (direction > 0 ? low : width - high);
  const pace = Math.abs(speed);
  const at = (list: readonly Placed<S>[], place: (each: Placed<S>) => number, x: number) => {
    const frames = list.map((each) => each.frame + (x - place(each)) / pace).sort((p, q) => p - q);
    return frames[frames.length >> 1];
  };
  return {
    direction,
    speed: pace,
    opens: Math.min(agree[0].frame, Math.ceil(at(first, ahead, 0))),
    closes: Math.max(agree[agree.length - 1].frame, Math.floor(at(last, behind, width))),
    seenOn: agree.map(({ frame }) => frame),
    way: Math.abs(agree[agree.length - 1].x - agree[0].x) / width,
    looks: agree.map(({ seen }) => seen),
  };
}

/** Of every two the px a frame from one to the other; their median is the speed (Theil 1950, Sen 1968). */
function slopesOf(placed: readonly Placed<unknown>[]): number[] {
  return placed.flatMap((a, k) => placed.slice(k + 1).map((b) => (b.x - a.x) / (b.frame - a.frame)));
}

/** A passage through pictures as one through the shot. */
export function inShot(passage: Passage, toShot: Affine): Passage {
  const { direction, speed, opens, closes, seenOn, way } = passage;
  const [ax, ay] = applyAffine(toShot, 0, 0);
  const [bx, by] = applyAffine(toShot, speed, 0);
  return { direction, speed: Math.hypot(bx - ax, by - ay), opens, closes, seenOn, way };
}
