import { type Cubic, nearestOnCubic, splitCubic } from '../geometry/bezier';
import { numbersPerPoint as N } from '../model/choices';
import { pointCount, segmentCount, segmentCubic } from './curve';

/**
 * The pose with one more point on `segment` at parameter `t`, its shape unchanged (de Casteljau). The new point
 * stands at index `segment + 1`.
 */
export function insertPoint(coordinates: readonly number[], segment: number, t: number): number[] {
  const [first, second] = splitCubic(segmentCubic(coordinates, segment), t);
  const next = coordinates.slice();
  const i = segment * N;
  const j = ((segment + 1) % pointCount(coordinates)) * N;
  next[i + 4] = first[2] - first[0];
  next[i + 5] = first[3] - first[1];
  next[j + 2] = second[4] - second[6];
  next[j + 3] = second[5] - second[7];
  const [x, y] = [first[6], first[7]];
  next.splice(i + N, 0, x, y, first[4] - x, first[5] - y, second[2] - x, second[3] - y);
  return next;
}

/**
 * The pose without point `index`. The two segments that met there become one: its end tangents stay, and each
 * handle's length is found by least squares against the curve that was, reparameterised between rounds (Schneider, Graphics Gems, 1990).
 */
export function removePoint(coordinates: readonly number[], index: number, closed: boolean): number[] {
  const points = pointCount(coordinates);
  const next = coordinates.slice();
  const inner = closed ? points > 2 : index > 0 && index < points - 1;
  if (inner) {
    const before = (index + points - 1) % points;
    const after = (index + 1) % points;
    const [out, into] = refitHandles(coordinates, before, index);
    next.splice(before * N + 4, 2, ...out);
    next.splice(after * N + 2, 2, ...into);
  }
  next.splice(index * N, N);
  return next;
}

/** Handles of the one cubic that best replaces the segments at `first` and `second`. */
function refitHandles(coordinates: readonly number[], first: number, second: number): [number[], number[]] {
  const a = segmentCubic(coordinates, first);
  const b = segmentCubic(coordinates, second);
  const samples: number[] = [];
  const steps = 24;
  for (const cubic of [a, b]) {
    for (let k = cubic === a ? 0 : 1; k <= steps; k++)
      samples.push(...splitCubic(cubic, k / steps)[0].slice(6));
  }
  const count = samples.length / 2;
  const parameters = [0];
  for (let k = 1; k < count; k++) {
    const step = Math.hypot(samples[2 * k] - samples[2 * k - 2], samples[2 * k + 1] - samples[2 * k - 1]);
    parameters.push(parameters[k - 1] + step);
  }
  const total = parameters[count - 1] || 1;
  for (let k = 0; k < count; k++) parameters[k] /= total;
  const [x0, y0, x3, y3] = [a[0], a[1], b[6], b[7]];
  const tangent1 = unit(a[2] - x0, a[3] - y0, x3 - x0, y3 - y0);
  const tangent2 = unit(b[4] - x3, b[5] - y3, x0 - x3, y0 - y3);
  let [length1, length2] = [total / 3, total / 3];
  for (let round = 0; round < 24; round++) {
    const lengths = handleLengths(samples, parameters, [x0, y0, x3, y3], tangent1, tangent2);
    // Where both directions are nearly one, what is best is far away: no handle is longer than the line that it bends.
    if (lengths) [length1, length2] = [Math.min(total, lengths[0]), Math.min(total, lengths[1])];
    const fitted: Cubic = [
      x0,
      y0,
      x0 + tangent1[0] * length1,
      y0 + tangent1[1] * length1,
      x3 + tangent2[0] * length2,
      y3 + tangent2[1] * length2,
      x3,
      y3,
    ];
    for (let k = 1; k < count - 1; k++)
      parameters[k] = nearestOnCubic(fitted, samples[2 * k], samples[2 * k + 1]).t;
  }
  return [
    [tangent1[0] * length1, tangent1[1] * length1],
    [tangent2[0] * length2, tangent2[1] * length2],
  ];
}

/** Lengths of the two handles by least squares at the given parameters; null where the system is singular. */
function handleLengths(
  samples: readonly number[],
  parameters: readonly number[],
  [x0, y0, x3, y3]: readonly number[],
  tangent1: readonly number[],
  tangent2: readonly number[],
): [number, number] | null {
  let [c11, c12, c22, r1, r2] = [0, 0, 0, 0, 0];
  parameters.forEach((t, k) => {
    const s = 1 - t;
    const b1 = 3 * s * s * t;
    const b2 = 3 * s * t * t;
    const fixed = s * s * s + b1;
    const restX = samples[2 * k] - (x0 * fixed + x3 * (1 - fixed));
    const restY = samples[2 * k + 1] - (y0 * fixed + y3 * (1 - fixed));
    c11 += b1 * b1;
    c12 += b1 * b2 * (tangent1[0] * tangent2[0] + tangent1[1] * tangent2[1]);
    c22 += b2 * b2;
    r1 += b1 * (tangent1[0] * restX + tangent1[1] * restY);
    r2 += b2 * (tangent2[0] * restX + tangent2[1] * restY);
  });
  const determinant = c11 * c22 - c12 * c12;
  if (Math.abs(determinant) < 1e-9 * c11 * c22) return null;
  return [Math.max(0, (r1 * c22 - r2 * c12) / determinant), Math.max(0, (r2 * c11 - r1 * c12) / determinant)];
}

function unit(x: number, y: number, insteadX: number, insteadY: number): [number, number] {
  const length = Math.hypot(x, y);
  if (length > 1e-9) return [x / length, y / length];
  const instead = Math.hypot(insteadX, insteadY) || 1;
  return [insteadX / instead, insteadY / instead];
}

/** The place on an outline that is nearest to a point: segment, parameter and distance in pixels. */
export function nearestOnOutline(coordinates: ArrayLike<number>, closed: boolean, x: number, y: number) {
  let best = { segment: 0, t: 0, x: 0, y: 0, distance: Infinity };
  for (let s = 0; s < segmentCount(coordinates, closed); s++) {
    const found = nearestOnCubic(segmentCubic(coordinates, s), x, y);
    if (found.distance < best.distance) best = { segment: s, ...found };
  }
  return best;
}
