import { type Affine, applyAffine, invert } from '../geometry/affine';
import { type EdgeLine, straightPicture, type StraightPicture } from '../edge/straight';
import { median } from '../numbers/quantile';
import type { FramePicture } from '../picture/frame-picture';
import { bandBeside } from './band';
import { bandMotion } from './band-motion';
import { still, unlike } from './behind-way';
import type { FollowSettings } from './follow-settings';

/** px across a line, away from the object, by which a map takes it: a median. */
export function acrossOf(map: Affine, line: EdgeLine): number {
  return median(
    Float64Array.from(line.x, (x, i) => {
      const [tx, ty] = applyAffine(map, x, line.y[i]);
      return (tx - x) * line.nx[i] + (ty - line.y[i]) * line.ny[i];
    }),
  );
}

/** A shift of so many px across a line, away from the object. */
export function shiftedAcross({ nx, ny }: EdgeLine, by: number): Affine {
  let [x, y] = [0, 0];
  for (let i = 0; i < nx.length; i++) [x, y] = [x + nx[i], y + ny[i]];
  const length = Math.hypot(x, y) || 1;
  return [1, 0, 0, 1, (by * x) / length, (by * y) / length];
}

/**
 * How what the object shows moves to the next frame where its edge moves otherwise, as over a pattern that stands still or turns
 * below it: told deep enough inside that the edge does not get there. Null where they go together, or nothing can be told.
 *
 * @param edgeMap the edge's movement, as far as it is known. @param guess the movement of what the object shows. @param soft px of
 * the edge's softness.
 */
export function textureMotion(
  here: FramePicture,
  there: FramePicture,
  line: EdgeLine,
  { edgeMap, guess, soft }: { edgeMap: Affine; guess: Affine; soft: number },
  { expecting: { acrossPx, downPx, trust }, texture }: FollowSettings,
): Affine | null {
  const along = acrossOf(edgeMap, line);
  const gone = soft + texture.clearance + Math.abs(along);
  const points = bandBeside(line, -gone - texture.depth, -gone);
  const found = bandMotion(here, there, points, guess, { acrossPx, downPx, trust, expected: true });
  if (!found || found.explained < texture.explains) return null;
  if (Math.abs(acrossOf(found.map, line) - along) < texture.apart) return null;
  const byItself = unlike(here, there, points, found);
  const withEdge = unlike(here, there, points, { map: edgeMap, gain: found.gain });
  return byItself < texture.better * withEdge ? found.map : null;
}

/**
 * px across from a line at which its edge would lie had it gone along with what the object shows.
 *
 * @param objectMap by which the line was expected there. @param own px across of each place besides.
 */
export function cameWithTexture(
  line: EdgeLine,
  texture: Affine,
  { objectMap, own }: { objectMap: Affine; own: Float64Array },
): Float64Array {
  const back = invert(objectMap);
  return Float64Array.from(line.x, (x, i) => {
    const [ox, oy] = applyAffine(back, x - own[i] * line.nx[i], line.y[i] - own[i] * line.ny[i]);
    const [tx, ty] = applyAffine(texture, ox, oy);
    return (tx - x) * line.nx[i] + (ty - line.y[i]) * line.ny[i];
  });
}

/**
 * What the object showed on the frame before, where it would be on this one; Y is NaN where it was not the object.
 *
 * @param before the frame before. @param came px across from the line at which its edge would lie there. @param soft px of softness.
 */
export function shownBefore(
  before: FramePicture,
  line: EdgeLine,
  strip: { from: number; step: number; across: number },
  { texture, came, soft }: { texture: Affine; came: Float64Array; soft: number },
): StraightPicture {
  const seen = straightPicture(before, line, {
    ...strip,
    passage: { map: invert(texture), ...still(line.count) },
  });
  for (let i = 0, s = 0; i < seen.count; i++)
    for (let m = 0; m < seen.across; m++, s++)
      if (seen.from + m * seen.step > came[i] - soft - 1) seen.y[s] = NaN;
  return seen;
}
