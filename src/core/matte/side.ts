import type { Side } from '../model/choices';
import { flattenOutline, regionOf } from '../outline';
import { coverage } from './coverage';
import { meanAlpha, MatteScratch } from './matte';

/** Width in px at which the two sides are weighed. */
const measuringWidth = 160;

/**
 * The side of a seam that holds less of the frame: where it is drawn first, little has been swept yet.
 *
 * @param coordinates of the seam's pose, in shot px.
 */
export function sideWithLess(coordinates: readonly number[], shot: { width: number; height: number }): Side {
  const scale = measuringWidth / shot.width;
  const height = Math.max(1, Math.round(shot.height * scale));
  const region = regionOf(
    flattenOutline(coordinates, false, scale, 0.1),
    'seam',
    'left',
    measuringWidth,
    height,
  );
  const alpha = new Uint8Array(measuringWidth * height);
  coverage(region.polygon, measuringWidth, height, alpha, new MatteScratch());
  return meanAlpha(alpha) <= 0.5 ? 'left' : 'right';
}
