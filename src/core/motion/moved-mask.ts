import { type FramePicture, halvingsTo, lumaAt, type LumaLevel } from '../picture/frame-picture';
import type { Affine } from '../geometry/affine';

/** Widest picture, px, on which movement is looked for. */
const widest = 400;

/** How often a picture so wide is halved until it is small enough to look at all of it. @param width px. */
export const halvingsOf = (width: number) => halvingsTo(width, widest);

/** A picture's luma, small enough to look at all of it, and its size as a share of the picture's. */
export function smallLuma(
  picture: FramePicture,
  halvings = halvingsOf(picture.width),
): { luma: LumaLevel; share: number } {
  const luma = picture.level(halvings);
  return { luma, share: luma.width / picture.width };
}

/** What stands for a sample that the other picture does not reach: it differs more than any. */
const unknown = 1e6;

/**
 * How much each sample of a picture differs from another that is laid over it by the scene's movement, 0 to 255: the least
 * within a sample about its place, as the scene's movement is not known finer. NaN where the other does not reach.
 *
 * @param map from the first picture's px, of its whole size, to the other's.
 * @param halvings of both: the first may be a part of a picture as wide as the other.
 */
export function differenceOver(
  a: FramePicture,
  b: FramePicture,
  map: Affine,
  halvings = halvingsOf(b.width),
): Float32Array {
  const { luma: own, share } = smallLuma(a, halvings);
  const laid = laidOver(smallLuma(b, halvings).luma, own, share, map);
  const { width, height, values } = own;
  const out = new Float32Array(width * height).fill(NaN);
  const { abs, min } = Math;
  for (let j = 1; j < height - 1; j++)
    for (let at = j * width + 1, end = at + width - 2; at < end; at++) {
      const value = values[at];
      const [over, below] = [at - width, at + width];
      const above = min(abs(laid[over - 1] - value), abs(laid[over] - value), abs(laid[over + 1] - value));
      const beside = min(abs(laid[at - 1] - value), abs(laid[at] - value), abs(laid[at + 1] - value));
      const under = min(abs(laid[below - 1] - value), abs(laid[below] - value), abs(laid[below + 1] - value));
      const least = min(above, beside, under);
      // Where nothing about it is known.
      if (least < unknown / 2) out[at] = least;
    }
  return out;
}

/** A picture's luma at the places of another's samples; {@link unknown} where it does not reach. */
function laidOver(luma: LumaLevel, { width, height }: LumaLevel, share: number, map: Affine): Float32Array {
  const out = new Float32Array(width * height);
  const [a, b, c, d, e, f] = map;
  for (let j = 0, at = 0; j < height; j++) {
    // The places of a row, in samples of the other: they lie evenly on a line.
    const y = (j + 0.5) / share;
    let [u, v] = [(a * (0.5 / share) + c * y + e) * share, (b * (0.5 / share) + d * y + f) * share];
    for (let i = 0; i < width; i++, at++, u += a, v += b) {
      const inside = u >= 1 && v >= 1 && u <= luma.width - 1 && v <= luma.height - 1;
      out[at] = inside ? lumaAt(luma, u, v) : unknown;
    }
  }
  return out;
}
