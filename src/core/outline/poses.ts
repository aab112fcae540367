import { type PoseRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { inBetween } from './in-between';

/**
 * The frame in the middle of the longest stretch between two poses: where a correction helps most.
 *
 * @param poses ascending by frame.
 * @returns null when no frame lies between any two.
 */
export function middleOfLongestGap(poses: readonly PoseRow[]): number | null {
  let [longest, middle] = [1, null as number | null];
  for (let k = 1; k < poses.length; k++) {
    const gap = poses[k].frame - poses[k - 1].frame;
    if (gap <= longest) continue;
    longest = gap;
    middle = poses[k - 1].frame + (gap >> 1);
  }
  return middle;
}

/** The farthest, px, that a point or the end of a handle lies from where it lies in another pose. */
export function poseDistance(a: readonly number[], b: readonly number[]): number {
  let farthest = 0;
  for (let i = 0; i < a.length; i += N) {
    const [dx, dy] = [a[i] - b[i], a[i + 1] - b[i + 1]];
    farthest = Math.max(farthest, Math.hypot(dx, dy));
    for (const k of [i + 2, i + 4])
      farthest = Math.max(farthest, Math.hypot(dx + a[k] - b[k], dy + a[k + 1] - b[k + 1]));
  }
  return farthest;
}

/**
 * Frames whose poses can go, as the in-betweens of those that stay reproduce them: the stretch is parted where it is
 * missed most until nothing is missed by more than `tolerance` (after Douglas and Peucker 1973). Only where
 * in-betweens are linear: poses at either end of another way onward stay.
 *
 * @param poses ascending by frame.
 * @param tolerance px.
 */
export function superfluousPoses(poses: readonly PoseRow[], tolerance: number): number[] {
  if (poses.length < 3) return [];
  const ends = poses.flatMap(({ onward }, k) => (onward === 'linear' ? [] : [k, k + 1]));
  const kept = new Set([0, ...ends, poses.length - 1].filter((k) => k < poses.length));
  const inOrder = [...kept].sort((a, b) => a - b);
  const open = inOrder.slice(1).map((to, k): [number, number] => [inOrder[k], to]);
  while (open.length > 0) {
    const [from, to] = open.pop()!;
    let [worst, at] = [tolerance, -1];
    for (let k = from + 1; k < to; k++) {
      const fraction = (poses[k].frame - poses[from].frame) / (poses[to].frame - poses[from].frame);
      const drawn = inBetween(poses[from].coordinates, poses[to].coordinates, fraction);
      const distance = poseDistance(poses[k].coordinates, drawn);
      if (distance > worst) [worst, at] = [distance, k];
    }
    if (at < 0) continue;
    kept.add(at);
    open.push([from, at], [at, to]);
  }
  return poses.flatMap(({ frame }, k) => (kept.has(k) ? [] : [frame]));
}

/** Poses to each side that a pose is smoothed with. */
const reach = 2;

/**
 * The poses with the jitter taken out of every point's track: each is put on the parabola that fits it and its two
 * neighbours to both sides best. Where poses lie evenly these are the weights of Savitzky and Golay (1964).
 *
 * @param poses ascending by frame.
 * @param fixed frames whose poses stay as they are; the first two and the last two do as well.
 * @returns the coordinates of those that move, by frame.
 */
export function smoothedPoses(
  poses: readonly PoseRow[],
  fixed: ReadonlySet<number> = new Set(),
): Map<number, number[]> {
  const moved = new Map<number, number[]>();
  for (let k = reach; k < poses.length - reach; k++) {
    if (fixed.has(poses[k].frame)) continue;
    const near = poses.slice(k - reach, k + reach + 1);
    const weights = parabolaWeights(near.map(({ frame }) => frame - poses[k].frame));
    moved.set(
      poses[k].frame,
      poses[k].coordinates.map((_, i) =>
        near.reduce((sum, pose, j) => sum + weights[j] * pose.coordinates[i], 0),
      ),
    );
  }
  return moved;
}

/** What values at these places, all different, add to the value at 0 of the parabola that fits them best. */
export function parabolaWeights(places: readonly number[]): number[] {
  // Normal equations of 1, t, t²; the weights are the first row of (AᵀA)⁻¹Aᵀ.
  const power = (n: number) => places.reduce((sum, t) => sum + t ** n, 0);
  const [s0, s1, s2, s3, s4] = [0, 1, 2, 3, 4].map(power);
  const [a, b, c] = [s2 * s4 - s3 * s3, s2 * s3 - s1 * s4, s1 * s3 - s2 * s2];
  const determinant = s0 * a + s1 * b + s2 * c;
  return places.map((t) => (a + b * t + c * t * t) / determinant);
}
