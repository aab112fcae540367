import { type EdgeSettings, type OutlineRow, type PoseRow } from '../document/tables';
import { numbersPerPoint as N, type OutlineKind } from '../model/choices';
import { poseDistance } from './poses';
import { shapeAtMoment } from './shape';
import { median } from '../numbers/quantile';

/** Most moments that are mixed into a blurred matte: beyond, its steps grow instead. */
export const mostExposures = 32;

/** How the shutter's time is parted, and how far the outline moves between two of its moments. */
export interface Shutter {
  moments: number[];
  /** px of the shot between two moments, at the fastest point. */
  step: number;
}

/**
 * The moments while the shutter is open at a frame: as many as keep the steps of the fastest point under half a
 * pixel, or under an eighth of the softness, which hides them as well; at most `mostExposures`.
 *
 * @param poses of the outline, ascending by frame.
 * @returns null where nothing moves, or the shutter is closed.
 */
export function shutterAt(
  outline: OutlineRow,
  edge: EdgeSettings,
  poses: readonly PoseRow[],
  frame: number,
): Shutter | null {
  if (outline.shutter <= 0 || poses.length < 2) return null;
  const opens = frame + outline.phase / 360;
  const open = outline.shutter / 360;
  const travel = poseDistance(shapeAtMoment(poses, opens), shapeAtMoment(poses, opens + open));
  const allowed = Math.max(0.5, (edge.featherInside + edge.featherOutside) / 8);
  const count = Math.min(mostExposures, Math.ceil(travel / allowed));
  if (count < 2) return null;
  return {
    moments: Array.from({ length: count }, (_, k) => opens + (open * (k + 0.5)) / count),
    step: travel / count,
  };
}

/** px a frame at which an outline's points move: all ways for a loop, at right angles to the line between its ends for a seam; the median. */
export function speedAcross(kind: OutlineKind, poses: readonly PoseRow[], frame: number): number {
  if (poses.length < 2) return 0;
  const [a, b] = [shapeAtMoment(poses, frame - 0.5), shapeAtMoment(poses, frame + 0.5)];
  const last = a.length - N;
  const [dx, dy] = [a[last] - a[0], a[last + 1] - a[1]];
  const length = Math.hypot(dx, dy) || 1;
  const speeds: number[] = [];
  for (let i = 0; i < a.length; i += N) {
    const [mx, my] = [b[i] - a[i], b[i + 1] - a[i + 1]];
    speeds.push(kind === 'loop' ? Math.hypot(mx, my) : Math.abs(mx * dy - my * dx) / length);
  }
  return median(speeds);
}
