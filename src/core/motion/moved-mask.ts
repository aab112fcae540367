import { type FramePicture, lumaAt, type LumaLevel } from '../picture/frame-picture';
import type { Affine } from '../geometry/affine';

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
  const laid = laidOver(smallLuma(b).luma, own, share, map);
  const { width, height, values } = own;
  const out = new Float32Array(width * height).fill(NaN);
  for (let j = slack; j < height - slack; j++)
    for (let i = slack; i < width - slack; i++) {
      const at = j * width + i;
      const value = values[at];
      let least = Infinity;
      for (let row = at - slack * width; row <= at + slack * width; row += width)
        for (let k = row - slack; k <= row + slack; k++) {
          const difference = laid[k] > value ? laid[k] - value : value - laid[k];
          if (difference < least) least = difference;
        }
      // Where nothing about it is known.
      if (least < Infinity) out[at] = least;
    }
  return out;
}

/** A picture's luma at the places of another's samples; NaN where it does not reach. */
function laidOver(luma: LumaLevel, { width, height }: LumaLevel, share: number, map: Affine): Float32Array {
  const out = new Float32Array(width * height);
  const [a, b, c, d, e, f] = map;
  for (let j = 0, at = 0; j < height; j++) {
    // The places of a row, in samples of the other: they lie evenly on a line.
    const y = (j + 0.5) / share;
    let [u, v] = [(a * (0.5 / share) + c * y + e) * share, (b * (0.5 / share) + d * y + f) * share];
    for (let i = 0; i < width; i++, at++, u += a, v += b) {
      const inside = u >= 1 && v >= 1 && u <= luma.width - 1 && v <= luma.height - 1;
      out[at] = inside ? lumaAt(luma, u, v) : NaN;
    }
  }
  return out;
}
