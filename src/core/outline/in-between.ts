import { bestSimilarity } from '../geometry/similarity';
import { numbersPerPoint as N } from '../document/rows';

/**
 * The pose at `fraction` (0 to 1) of the way from one pose to the next: the similarity that best maps the one to
 * the other is interpolated as turn, scale and shift, and what it leaves over point by point, so that a swinging
 * door stays its size in between. Linear in time.
 */
export function inBetween(from: readonly number[], to: readonly number[], fraction: number): number[] {
  if (fraction <= 0) return from.slice();
  if (fraction >= 1) return to.slice();
  const { turn, scale, fromX, fromY, toX, toY } = bestSimilarity(from, to, N);
  const rotate = (x: number, y: number, angle: number, size: number): [number, number] => {
    const cos = Math.cos(angle) * size;
    const sin = Math.sin(angle) * size;
    return [cos * x - sin * y, sin * x + cos * y];
  };
  const partTurn = turn * fraction;
  const partScale = scale ** fraction;
  const centreX = fromX + (toX - fromX) * fraction;
  const centreY = fromY + (toY - fromY) * fraction;
  const pose = new Array<number>(from.length);
  for (let i = 0; i < from.length; i += 2) {
    const isPoint = i % N === 0;
    const px = from[i] - (isPoint ? fromX : 0);
    const py = from[i + 1] - (isPoint ? fromY : 0);
    const qx = to[i] - (isPoint ? toX : 0);
    const qy = to[i + 1] - (isPoint ? toY : 0);
    // The target seen from the source: what remains of it is mixed there, then the part similarity applied.
    const [ux, uy] = rotate(qx, qy, -turn, 1 / scale);
    const [x, y] = rotate(px + (ux - px) * fraction, py + (uy - py) * fraction, partTurn, partScale);
    pose[i] = x + (isPoint ? centreX : 0);
    pose[i + 1] = y + (isPoint ? centreY : 0);
  }
  return pose;
}
