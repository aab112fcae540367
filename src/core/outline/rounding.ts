import { numbersPerPoint as N } from '../model/choices';
import { type Cubic, flatteningSteps, pointAt, splitCubic } from '../geometry/bezier';
import { pointCount, segmentCount, segmentCubic } from './curve';

/** Turn, in degrees, from which a point counts as a corner. */
const leastTurn = 8;

/**
 * The outline with its corners gone round: from `roundness` px before a corner to as far after it, at most half-way
 * to the next point, an arc takes the place of the point. Between straight sides it is a circle's (to 0.03 %, the
 * cubic with handles of 4/3·tan(θ/4) radii).
 *
 * @param factors of each point, or empty; a corner's go to both ends of its arc.
 */
export function roundedCorners(
  coordinates: readonly number[],
  factors: readonly number[],
  closed: boolean,
  roundness: number,
): { coordinates: readonly number[]; factors: readonly number[] } {
  if (roundness <= 0) return { coordinates, factors };
  const points = pointCount(coordinates);
  const segments = segmentCount(coordinates, closed);
  const cubics = Array.from({ length: segments }, (_, s) => segmentCubic(coordinates, s));
  const lengths = cubics.map(lengthOf);
  const corner = Array.from({ length: points }, (_, p) => {
    const into = closed ? (p + segments - 1) % segments : p - 1;
    if (into < 0 || p >= segments) return null;
    const [a, b] = [directionAt(cubics[into], 1), directionAt(cubics[p], 0)];
    const turn = Math.acos(Math.min(1, Math.max(-1, a[0] * b[0] + a[1] * b[1])));
    // Straight back there is no arc to go.
    if (turn < (leastTurn * Math.PI) / 180 || turn > Math.PI - 0.05) return null;
    return { turn, trim: Math.min(roundness, lengths[into] / 2, lengths[p] / 2) };
  });
  const left = cubics.map((cubic, s) => {
    const [from, to] = [corner[s]?.trim ?? 0, corner[(s + 1) % points]?.trim ?? 0];
    const [start, end] = [placeAlong(cubic, from), placeAlong(cubic, lengths[s] - to)];
    // Nothing may be left of a side: which way it runs is asked of the whole.
    return {
      part: partOf(cubic, start, Math.max(start, end)),
      first: directionOn(cubic, start),
      last: directionOn(cubic, end),
    };
  });
  const next: number[] = [];
  const nextFactors: number[] = [];
  for (let p = 0; p < points; p++) {
    const before = closed ? left[(p + segments - 1) % segments] : left[p - 1];
    const into: Cubic | undefined = before?.part;
    const onto: Cubic | undefined = left[p]?.part;
    const factor = factors[p] ?? 1;
    const round = corner[p];
    if (!round || !into || !onto) {
      const i = p * N;
      const [x, y] = [coordinates[i], coordinates[i + 1]];
      next.push(x, y, ...(into ? [into[4] - x, into[5] - y] : [coordinates[i + 2], coordinates[i + 3]]));
      next.push(...(onto ? [onto[2] - x, onto[3] - y] : [coordinates[i + 4], coordinates[i + 5]]));
      nextFactors.push(factor);
      continue;
    }
    const reach = ((4 / 3) * Math.tan(round.turn / 4) * round.trim) / Math.tan(round.turn / 2);
    const [ax, ay] = before.last;
    const [bx, by] = left[p].first;
    next.push(into[6], into[7], into[4] - into[6], into[5] - into[7], ax * reach, ay * reach);
    next.push(onto[0], onto[1], -bx * reach, -by * reach, onto[2] - onto[0], onto[3] - onto[1]);
    nextFactors.push(factor, factor);
  }
  return { coordinates: next, factors: factors.length > 0 ? nextFactors : factors };
}

function lengthOf(cubic: Cubic): number {
  let [length, x, y] = [0, cubic[0], cubic[1]];
  const steps = Math.max(4, flatteningSteps(cubic, 0.05));
  for (let k = 1; k <= steps; k++) {
    const [nx, ny] = pointAt(cubic, k / steps);
    length += Math.hypot(nx - x, ny - y);
    [x, y] = [nx, ny];
  }
  return length;
}

/** The parameter at which a cubic has run `far` px. */
function placeAlong(cubic: Cubic, far: number): number {
  let [length, x, y] = [0, cubic[0], cubic[1]];
  if (far <= 0) return 0;
  const steps = Math.max(4, flatteningSteps(cubic, 0.05));
  for (let k = 1; k <= steps; k++) {
    const [nx, ny] = pointAt(cubic, k / steps);
    const step = Math.hypot(nx - x, ny - y);
    // A straight side's parameter does not run evenly along it: the last stretch is found by halving.
    if (length + step >= far) return halved(cubic, (k - 1) / steps, k / steps, far - length);
    length += step;
    [x, y] = [nx, ny];
  }
  return 1;
}

function halved(cubic: Cubic, from: number, to: number, far: number): number {
  const [x, y] = pointAt(cubic, from);
  for (let k = 0; k < 30; k++) {
    const middle = (from + to) / 2;
    const [mx, my] = pointAt(cubic, middle);
    if (Math.hypot(mx - x, my - y) < far) from = middle;
    else to = middle;
  }
  return to;
}

function partOf(cubic: Cubic, from: number, to: number): Cubic {
  const end = to >= 1 ? cubic : splitCubic(cubic, to)[0];
  return from <= 0 ? end : splitCubic(end, from / to)[1];
}

/** Unit direction in which a cubic runs at parameter `t`. */
function directionOn(cubic: Cubic, t: number): [number, number] {
  if (t <= 0) return directionAt(cubic, 0);
  if (t >= 1) return directionAt(cubic, 1);
  return directionAt(splitCubic(cubic, t)[1], 0);
}

/** Unit direction in which a cubic runs at its start (0) or its end (1). */
function directionAt(cubic: Cubic, end: 0 | 1): [number, number] {
  const at = end === 0 ? [0, 2, 4, 6] : [6, 4, 2, 0];
  for (const k of at.slice(1)) {
    const [dx, dy] = [cubic[k] - cubic[at[0]], cubic[k + 1] - cubic[at[0] + 1]];
    const length = Math.hypot(dx, dy);
    if (length > 1e-6) return end === 0 ? [dx / length, dy / length] : [-dx / length, -dy / length];
  }
  return [1, 0];
}
