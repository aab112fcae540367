import { type Affine, applyAffine, invert } from '../geometry/affine';
import { type EdgeLine, straightPicture, type StraightPicture } from '../edge/straight';
import type { FramePicture } from '../picture/frame-picture';
import { acrossOf } from './across';
import { bandBeside } from './band';
import { bandMotion } from './band-motion';
import { still, unlike } from './behind-way';
import type { FollowSettings } from './follow-settings';

/**
 * The movement of the object's texture to the next frame, where it differs from its edge's, as with a pattern that stands still. It is
 * measured so deep inside the object that the edge does not get there. Null where texture and edge go together, or nothing can be told.
 *
 * @param edgeMap the edge's movement, as far as it is known. @param guess the texture's movement. @param soft px of the edge's
 * softness.
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
 * px across from a line at which its edge would lie, had it gone along with the texture.
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
 * The object's texture from another frame, moved to this one; Y is NaN where it was not the object's.
 *
 * @param way the texture's, from this frame to the other. @param edge px across from the line at which the edge there would lie in
 * this frame. @param soft px of softness.
 */
export function shownElsewhere(
  other: FramePicture,
  line: EdgeLine,
  strip: { from: number; step: number; across: number },
  { way, edge, soft }: { way: Affine; edge: Float64Array; soft: number },
): StraightPicture {
  const seen = straightPicture(other, line, { ...strip, passage: { map: way, ...still(line.count) } });
  for (let i = 0, s = 0; i < seen.count; i++)
    for (let m = 0; m < seen.across; m++, s++)
      if (seen.from + m * seen.step > edge[i] - soft - 1) seen.y[s] = NaN;
  return seen;
}
