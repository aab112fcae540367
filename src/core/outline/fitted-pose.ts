import { numbersPerPoint as N } from '../model/choices';
import { cubicThrough } from '../geometry/fit-curve';
import { boxAbout } from '../geometry/rectangle';
import { flattenOutline } from './curve';
import { poseAlong } from './pose-along';

const { hypot, round } = Math;

/** px between places of a line that points are brought onto, at the most. */
const fine = 0.05;

/**
 * A pose's points on another line that was drawn with points of its own: of a loop matched about it (see pose-along.ts), of
 * a seam at the same shares of its length, whichever way it was drawn.
 *
 * @param coordinates, other six numbers a point, shot px.
 */
export function fittedPose(
  coordinates: readonly number[],
  closed: boolean,
  other: readonly number[],
): number[] {
  return fittedTo(coordinates, closed, Array.from(flattenOutline(other, closed, 1, fine)));
}

/** As {@link fittedPose}, onto a line of places, x, y by turns. */
export function fittedTo(coordinates: readonly number[], closed: boolean, line: readonly number[]): number[] {
  const own = Array.from(flattenOutline(coordinates, closed, 1, fine));
  if (closed) {
    const [a, b] = [boxAbout(own), boxAbout(line)];
    // As large as the other, and where it is: what is matched then is shape.
    const laid = coordinates.map((value, i) => {
      const [low, high] = [a[i % 2], a[(i % 2) + 2]];
      const [from, to] = [b[i % 2], b[(i % 2) + 2]];
      const scale = high > low ? (to - from) / (high - low) : 1;
      return i % N < 2 ? from + (value - low) * scale : value * scale;
    });
    return poseAlong(laid, line);
  }
  return alongSeam(coordinates, own, facing(line, own));
}

/** The line walked the way that another is. */
function facing(line: readonly number[], other: readonly number[]): readonly number[] {
  const far = (i: number, k: number) => hypot(line.at(i)! - other.at(k)!, line.at(i + 1)! - other.at(k + 1)!);
  if (far(0, 0) + far(-2, -2) <= far(0, -2) + far(-2, 0)) return line;
  return Array.from({ length: line.length / 2 }, (_, k) => [
    line.at(-2 * k - 2)!,
    line.at(-2 * k - 1)!,
  ]).flat();
}

/** Lengths from a line's beginning to each of its places, px. */
function lengthsOf(line: readonly number[]): number[] {
  const lengths = [0];
  for (let i = 2; i < line.length; i += 2)
    lengths.push(lengths[i / 2 - 1] + hypot(line[i] - line[i - 2], line[i + 1] - line[i - 1]));
  return lengths;
}

/** Places on each side of a pose that lie on the line, from which its curve is fitted. */
const perSide = 16;

function alongSeam(
  coordinates: readonly number[],
  own: readonly number[],
  line: readonly number[],
): number[] {
  const count = coordinates.length / N;
  const [lengths, ownLengths] = [lengthsOf(line), lengthsOf(own)];
  const whole = lengths[lengths.length - 1];
  const placeAt = (share: number): [number, number] => {
    const far = share * whole;
    let k = 1;
    while (k < lengths.length - 1 && lengths[k] < far) k++;
    const t = (far - lengths[k - 1]) / (lengths[k] - lengths[k - 1] || 1);
    const i = 2 * k;
    return [line[i - 2] + t * (line[i] - line[i - 2]), line[i - 1] + t * (line[i + 1] - line[i - 1])];
  };
  /** How far along its own line each point lies: flattening keeps the points as places. */
  let from = 0;
  const shares = Array.from({ length: count }, (_, p) => {
    const [x, y] = [coordinates[p * N], coordinates[p * N + 1]];
    let [best, least] = [from, Infinity];
    for (let k = from; k < ownLengths.length; k++) {
      const far = hypot(own[2 * k] - x, own[2 * k + 1] - y);
      if (far < least) [best, least] = [k, far];
      if (least < 1e-6) break;
    }
    from = best;
    return ownLengths[best] / (ownLengths[ownLengths.length - 1] || 1);
  });
  shares[count - 1] = 1;
  const pose = new Array<number>(coordinates.length).fill(0);
  for (let p = 0; p + 1 < count; p++) {
    const [a, b] = [shares[p], shares[p + 1]];
    const side = Array.from({ length: perSide + 1 }, (_, k) => placeAt(a + ((b - a) * k) / perSide));
    const c = cubicThrough(side);
    pose.splice(p * N, 2, c[0], c[1]);
    pose.splice(p * N + 4, 2, c[2] - c[0], c[3] - c[1]);
    pose.splice((p + 1) * N, 4, c[6], c[7], c[4] - c[6], c[5] - c[7]);
  }
  return pose.map((value) => round(value * 1000) / 1000);
}
