import { type Shot, type ShotMotion, numbersPerFrame } from '../model/shot';
import { type Affine, compose, invert } from '../geometry/affine';

/** The scene's movement from a frame to another, the shot's px to its px. */
export function sceneMap(
  motion: ShotMotion,
  shot: Pick<Shot, 'width' | 'height'>,
  from: number,
  to: number,
): Affine {
  if (to < from) return invert(sceneMap(motion, shot, to, from));
  const [cx, cy] = [shot.width / 2, shot.height / 2];
  let map: Affine = [1, 0, 0, 1, 0, 0];
  for (let k = from + 1; k <= to; k++) {
    const [dx, dy, scale, turn] = motion.frames.slice(k * numbersPerFrame, k * numbersPerFrame + 4);
    const [a, b] = [scale * Math.cos(turn), scale * Math.sin(turn)];
    const step: Affine = [a, b, -b, a, cx + dx - a * cx + b * cy, cy + dy - b * cx - a * cy];
    map = compose(step, map);
  }
  return map;
}
