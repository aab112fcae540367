import { distanceToLine } from '../geometry/polyline';
import { flattenOutline } from './curve';
import { signedArea } from './inward';
import { openPoseAlong, poseAlong } from './pose-along';
import { poseAnew } from './pose-anew';

/** Units by which points that went along may miss a line before they are laid anew. */
export const missing = 3;

/** How a line is measured: shot px of a unit, which is a px of a shot 1280 wide, and what of it is in the picture. */
interface Measure {
  unit: number;
  seen(x: number, y: number): boolean;
}

/**
 * A pose on a line that it lies about, and how many units it is off: its points go along with it, or are laid anew where it has become
 * another line.
 *
 * @param line x, y by turns, shot px; an open one is walked as the pose is.
 */
export function poseLaid(
  pose: readonly number[],
  line: readonly number[],
  closed: boolean,
  measure: Measure,
): { coordinates: readonly number[]; off: number } {
  const along = closed ? poseAlong(pose, line) : openPoseAlong(pose, line);
  const off = missed(along, line, closed, measure);
  if (off <= missing) return { coordinates: along, off };
  const anew = poseAnew(pose, closed ? facing(line, pose) : line, closed, 1280 * measure.unit);
  const offAnew = anew ? missed(anew, line, closed, measure) : Infinity;
  return offAnew < off ? { coordinates: anew!, off: offAnew } : { coordinates: along, off };
}

/** A closed line walked the way that a pose is. */
function facing(line: readonly number[], pose: readonly number[]): readonly number[] {
  const own = signedArea(Array.from(flattenOutline(pose, true, 1, 1)));
  if (own > 0 === signedArea(line) > 0) return line;
  const out: number[] = [];
  for (let i = line.length - 2; i >= 0; i -= 2) out.push(line[i], line[i + 1]);
  return out;
}

/** Units within which nine tenths of a line in the picture have the pose's. */
export function missed(
  pose: readonly number[],
  line: readonly number[],
  closed: boolean,
  { unit, seen }: Measure,
): number {
  const own = flattenOutline(pose, closed, 1, 0.5);
  const distances: number[] = [];
  const stride = 2 * Math.max(1, Math.floor(line.length / 400));
  for (let i = 0; i < line.length; i += stride)
    if (seen(line[i], line[i + 1])) distances.push(distanceToLine(line[i], line[i + 1], own, closed));
  if (distances.length === 0) return 0;
  distances.sort((a, b) => a - b);
  return distances[Math.floor(0.9 * distances.length)] / unit;
}
