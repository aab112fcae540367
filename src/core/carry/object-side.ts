import { lumaAt } from '../picture/frame-picture';
import type { EdgeLine } from '../edge/straight';
import { type Affine, applyAffine, identity } from '../geometry/affine';
import { bandMotion } from './band-motion';
import type { Frames } from './frames';
import { bandBeside } from './band';

/** px on either side of a line that say what the line itself goes with. */
const beside = 3;

/**
 * Whether an edge goes along with what lies to the right of it, walked forward: either side's movement to a
 * neighbouring frame is measured, and the edge's own contrast is found again after one of them.
 */
export async function edgeGoesWithRight(
  frames: Frames,
  frame: number,
  direction: 1 | -1,
  line: EdgeLine,
): Promise<boolean> {
  const next =
    frame + direction < 0 || frame + direction >= frames.count ? frame - direction : frame + direction;
  if (next < 0 || next >= frames.count) return false;
  const [here, there] = [await frames.picture(frame), await frames.picture(next)];
  const search = { acrossPx: 0.06 * here.width, downPx: 0.03 * here.width, trust: 4 };
  const motionOf = (from: number, to: number) => {
    const found = bandMotion(here, there, bandBeside(line, from, to), identity, search);
    return { map: found?.map ?? identity, explained: found?.explained ?? 0 };
  };
  const [left, right] = [motionOf(-46, beside), motionOf(-beside, 46)];
  // The side that the edge belongs to is found again with it, the other loses it.
  if (Math.abs(left.explained - right.explained) > 0.04) return right.explained > left.explained;
  const missing = (map: Affine) => {
    const points = bandBeside(line, -beside, beside);
    let sum = 0;
    for (let i = 0; i < points.length; i += 2) {
      const [x, y] = applyAffine(map, points[i], points[i + 1]);
      sum += Math.min(
        40,
        Math.abs(lumaAt(there.level(0), x, y) - lumaAt(here.level(0), points[i], points[i + 1])),
      );
    }
    return sum;
  };
  return missing(right.map) < missing(left.map);
}
