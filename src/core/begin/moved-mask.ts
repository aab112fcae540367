import { type FramePicture, lumaAt, type LumaLevel } from '../edge/frame-picture';
import { type Affine, applyAffine } from '../geometry/affine';

/** Widest picture, px, on which movement is looked for. */
const widest = 400;

/** A picture's luma, small enough to look at all of it, and its size as a share of the picture's. */
export function smallLuma(picture: FramePicture): { luma: LumaLevel; share: number } {
  let k = 0;
  while (picture.width / 2 ** k > widest) k++;
  const luma = picture.level(k);
  return { luma, share: luma.width / picture.width };
}

/** px about its place within which a sample's like is looked for: the scene's movement is not known finer. */
const slack = 1;

/**
 * How much each sample of a picture differs from another that is laid over it by the scene's movement, 0 to 255: the least
 * within a px about its place. NaN where the other does not reach.
 *
 * @param map from the first picture's px, of its whole size, to the other's.
 */
export function differenceOver(a: FramePicture, b: FramePicture, map: Affine): Float32Array {
  const { luma: own, share } = smallLuma(a);
  const { luma: other } = smallLuma(b);
  const out = new Float32Array(own.width * own.height);
  for (let j = 0; j < own.height; j++)
    for (let i = 0; i < own.width; i++) {
      const [x, y] = applyAffine(map, (i + 0.5) / share, (j + 0.5) / share);
      const [u, v] = [x * share, y * share];
      const at = j * own.width + i;
      if (u < 1 || v < 1 || u > other.width - 1 || v > other.height - 1) {
        out[at] = NaN;
        continue;
      }
      const value = own.values[at];
      let least = Infinity;
      for (let dy = -slack; dy <= slack; dy++)
        for (let dx = -slack; dx <= slack; dx++) {
          const difference = Math.abs(lumaAt(other, u + dx, v + dy) - value);
          if (difference < least) least = difference;
        }
      out[at] = least;
    }
  return out;
}
