import { fitOutline } from '../geometry/fit-curve';
import { numbersPerPoint as N } from '../model/choices';
import { segmentCount, segmentCubic } from './curve';
import { insertPoint } from './topology';

const { hypot } = Math;

/** px of a shot 1280 wide within which the points are fitted first, what that is multiplied by while there are too many, and how often. */
const [closest, wider, mostTries] = [1, 1.35, 14];

/**
 * As many points as a pose has, laid anew along a line that has changed its shape too much for them to go along, and counted from
 * where the first of them lies nearest to the pose's.
 *
 * @param coordinates six numbers a point, shot px, already about where the line is.
 * @param line x, y by turns, shot px, walked as the pose is.
 * @param shotWidth px.
 * @returns null where so few points cannot follow it at all.
 */
export function poseAnew(
  coordinates: readonly number[],
  line: readonly number[],
  closed: boolean,
  shotWidth: number,
): number[] | null {
  let within = (closest * shotWidth) / 1280;
  let pose = fitOutline(line, within, closed);
  for (let k = 0; k < mostTries && pose.length > coordinates.length; k++) {
    within *= wider;
    pose = fitOutline(line, within, closed);
  }
  if (pose.length > coordinates.length || pose.length < 2 * N) return null;
  while (pose.length < coordinates.length) pose = insertPoint(pose, longestSide(pose, closed).side, 0.5);
  const rounded = pose.map((value) => Math.round(value * 1000) / 1000);
  return closed ? countedAs(rounded, coordinates) : rounded;
}

/** A pose with points in the middles of its sides until none is longer, so that it can follow what is straight only now. @param most px. */
export function withoutLongSides(coordinates: readonly number[], closed: boolean, most: number): number[] {
  let pose = coordinates.slice();
  for (;;) {
    const { side, length } = longestSide(pose, closed);
    if (length <= most) return pose.map((value) => Math.round(value * 1000) / 1000);
    pose = insertPoint(pose, side, 0.5);
  }
}

function longestSide(pose: readonly number[], closed: boolean): { side: number; length: number } {
  let [longest, most] = [0, -1];
  for (let s = 0; s < segmentCount(pose, closed); s++) {
    const cubic = segmentCubic(pose, s);
    const length = hypot(cubic[6] - cubic[0], cubic[7] - cubic[1]);
    if (length > most) [longest, most] = [s, length];
  }
  return { side: longest, length: most };
}

/** A closed pose counted from the point from which its points lie nearest to another's. */
function countedAs(pose: number[], other: readonly number[]): number[] {
  const turned = (by: number) => [...pose.slice(by * N), ...pose.slice(0, by * N)];
  let [best, least] = [pose, Infinity];
  for (let by = 0; by < pose.length / N; by++) {
    const candidate = turned(by);
    let far = 0;
    for (let p = 0; p < pose.length; p += N)
      far += (candidate[p] - other[p]) ** 2 + (candidate[p + 1] - other[p + 1]) ** 2;
    if (far < least) [best, least] = [candidate, far];
  }
  return best;
}
