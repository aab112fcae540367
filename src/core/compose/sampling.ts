import type { Shot } from '../model/shot';
import { type Affine, compose } from '../geometry/affine';
import { applyHomography, type Homography, homographyOfAffine, stretchAt } from '../geometry/homography';
import { type Lens, straightened } from '../geometry/lens';
import { inverse3, times3 } from '../geometry/matrix3';
import type { Rectangle } from '../geometry/rectangle';
import { shotToPlanes } from '../picture/planes';
import { samplesFor } from './blur';
import type { LayerDraw } from './scene';

/** Samples along each side of an output pixel, so that a shot shown smaller does not alias. */
export function tapsFor(samplesPerPixel: number): number {
  return Math.min(4, Math.max(1, Math.round(samplesPerPixel)));
}

/** Width and height in px. */
export interface Size {
  width: number;
  height: number;
}

/** How a layer is sampled in a picture of some size. */
export interface Sampling {
  /** From px of the picture to px of the (straightened) shot: one, or where it is blurred three, as of {@link Blur}. */
  maps: readonly Homography[];
  /** The lens that maps the straightened shot to the filmed one, or null. */
  lens: Lens | null;
  /** Samples of a blur; 0: none. */
  samples: number;
  /** Samples along each side of a pixel; of a blur they are spread over its samples. */
  taps: number;
  /** Whether its pixels stand on the picture's own, one to one. */
  aligned: boolean;
  /** The px of the shot that are seen; what lies beyond its own borders is read from there. */
  inside: Rectangle;
  /** Whether that is mirrored at the borders, in place of the pixels at the border. */
  mirrored: boolean;
  /** Whether luma is read with a sharp kernel, as it is shown neither one to one nor smaller. */
  sharp: boolean;
}

/** @param planes its picture, of which the size counts; null where a matte is painted. */
export function samplingOf(
  { toShot, bent, blur, lens }: LayerDraw,
  shot: Shot,
  planes: Size | null,
  { crossing, width, height }: { crossing: Size; width: number; height: number },
): Sampling {
  const toCrossing: Affine = [crossing.width / width, 0, 0, crossing.height / height, 0, 0];
  const placed = compose(toShot, toCrossing);
  const still = bent ? times3(bent.map, homographyOfAffine(placed)) : homographyOfAffine(placed);
  const maps = blur ? blur.maps.map((map) => times3(map, homographyOfAffine(toCrossing))) : [still];
  const samples = blur ? samplesFor((blur.length * width) / crossing.width) : 0;
  const inside = insideOf(shot, blur && blur.border !== 'transparent' ? maps[1] : null, lens, {
    width,
    height,
  });
  const mirrored = blur?.border === 'mirror';
  if (!planes) return { maps, lens, samples, taps: 1, aligned: false, inside, mirrored, sharp: false };
  const toPlanes = compose(shotToPlanes(shot, planes), placed);
  const [a, b, c, d, e, f] = toPlanes;
  let perPixel = Math.hypot(a, b);
  if (bent) {
    const [x, y] = applyHomography(inverse3(still), ...bent.middle);
    perPixel *= stretchAt(still, x, y) / Math.hypot(placed[0], placed[1]);
  }
  const taps = tapsFor(perPixel);
  const [ex, fy] = [e, f].map((shift) => Math.abs(shift - Math.round(shift)) < 1e-9);
  const aligned = !bent && !blur && !lens && a === 1 && b === 0 && c === 0 && d === 1 && ex && fy;
  return {
    maps,
    lens,
    samples,
    taps,
    aligned,
    inside,
    mirrored,
    sharp: !aligned && !blur && taps === 1 && width === crossing.width,
  };
}

/** Beyond all that is ever looked at, in widths and heights of a shot. */
const farBeyond = 1e6;
/** Parts of a side of the shot that are looked at where a lens bows it. */
const bowedParts = 16;

/**
 * What is seen of a blurred shot: beyond a side that does not show in the picture as it is without the blur, all is.
 *
 * @param still from px of the picture to px of the shot; null: only the shot itself is seen.
 */
function insideOf(
  { width, height }: Size,
  still: Homography | null,
  lens: Lens | null,
  picture: Size,
): Rectangle {
  if (!still) return [0, 0, width, height];
  const fromShot = inverse3(still);
  const parts = lens ? bowedParts : 1;
  const isSeen = (x0: number, y0: number, x1: number, y1: number) => {
    const places = Array.from({ length: parts + 1 }, (_, k) => {
      const at = [x0 + ((x1 - x0) * k) / parts, y0 + ((y1 - y0) * k) / parts] as const;
      const [x, y] = lens ? straightened(lens, ...at) : at;
      // Behind the camera nothing is known: as if it were seen.
      return fromShot[6] * x + fromShot[7] * y + fromShot[8] > 0 ? applyHomography(fromShot, x, y) : null;
    });
    return places.slice(1).some((to, k) => !to || !places[k] || meets(places[k], to, picture));
  };
  return [
    isSeen(0, 0, 0, height) ? 0 : -farBeyond * width,
    isSeen(0, 0, width, 0) ? 0 : -farBeyond * height,
    isSeen(width, 0, width, height) ? width : farBeyond * width,
    isSeen(0, height, width, height) ? height : farBeyond * height,
  ];
}

/** px of the picture within its border that count as on it. */
const onBorder = 0.5;

/** Whether a line between two places lies in a picture somewhere (Liang and Barsky 1984). */
function meets([x0, y0]: readonly number[], [x1, y1]: readonly number[], { width, height }: Size): boolean {
  let [from, to] = [0, 1];
  for (const [way, room] of [
    [x0 - x1, x0 - onBorder],
    [x1 - x0, width - onBorder - x0],
    [y0 - y1, y0 - onBorder],
    [y1 - y0, height - onBorder - y0],
  ]) {
    if (way === 0) {
      if (room <= 0) return false;
    } else if (way < 0) from = Math.max(from, room / way);
    else to = Math.min(to, room / way);
  }
  return from < to;
}

/** The size of a shot's decoded pictures, which are not turned yet. */
export function uprightSize({ rotation, width, height }: Shot): Size {
  return rotation % 180 === 0 ? { width, height } : { width: height, height: width };
}

/** The pixels of a picture of `width` × `height` that a layer is drawn in. */
export function clipIn({ clip }: LayerDraw, crossing: Size, width: number, height: number): Rectangle {
  if (!clip) return [0, 0, width, height];
  const [across, down] = [width / crossing.width, height / crossing.height];
  return [
    Math.round(clip[0] * across),
    Math.round(clip[1] * down),
    Math.round(clip[2] * across),
    Math.round(clip[3] * down),
  ];
}
