import type { CrossingDocument, LayerRow } from '../document/tables';
import type { BlurBorder } from '../model/choices';
import type { Shot } from '../model/shot';
import { type Affine, compose, identity, invert } from '../geometry/affine';
import { applyHomography, type Homography, homographyOfAffine } from '../geometry/homography';
import { times3 } from '../geometry/matrix3';
import { blurChannels } from '../model/channels';
import { keysOf, numbersAt } from '../document/keys';
import { layerAt, wholeAt } from './moves';
import { toShotAt } from './placement';

/** A layer smeared along its own movement while the shutter is open: each pixel is the mean of what passes it. */
export interface Blur {
  /** From crossing px to shot px as the shutter opens, half-way, and as it closes. */
  maps: readonly [Homography, Homography, Homography];
  /** The farthest that anything in the frame goes meanwhile, crossing px. */
  length: number;
  /** What is seen beyond the shot's borders. */
  border: BlurBorder;
}

/** Crossing px below which nothing is seen of a blur. */
const unseen = 0.4;
/** Pixels drawn between two samples of a blur while there are samples left. */
const step = 2;
/** The most samples: from so many on each is worth two code values at the most, and no steps are seen between them. */
const mostSamples = 128;

/** How many samples a blur of so many px takes. */
export function samplesFor(length: number): number {
  return Math.min(mostSamples, Math.max(4, Math.ceil(length / step)));
}

/** A map at a share (0 to 1) of the time that the shutter is open, on the parabola through the three. */
export function mapDuring({ maps }: Pick<Blur, 'maps'>, share: number): number[] {
  const [a, b, c] = [(1 - share) * (1 - 2 * share), 4 * share * (1 - share), share * (2 * share - 1)];
  return maps[0].map((value, k) => a * value + b * maps[1][k] + c * maps[2][k]);
}

/**
 * How a layer is blurred at a crossing frame: by what it and the whole picture do while the crossing's shutter is open,
 * and by the blurs that have keys; null where nothing is seen of it.
 *
 * @param bentAt the layer's further map at a moment, shot px to shot px, or null.
 */
export function blurOf(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  {
    frame,
    sourceFrame,
    bentAt,
  }: { frame: number; sourceFrame: number; bentAt: (moment: number) => Homography | null },
): Blur | null {
  const { crossing } = document;
  const byHand = [layer.id, crossing.id].some((id) =>
    blurChannels.some((channel) => keysOf(document, id)[channel]),
  );
  if (crossing.moveShutter === 0 && !byHand) return null;
  const at = (share: number): Homography => {
    const moment = frame + (share * crossing.moveShutter) / 360;
    const whole = wholeAt(document, moment) ?? identity;
    const seen = [
      smear(document, crossing.id, frame, share),
      invert(whole),
      smear(document, layer.id, frame, share),
      toShotAt(crossing, layerAt(document, layer, moment), shot, sourceFrame),
    ].reduce((map, then) => compose(then, map));
    const bent = bentAt(moment);
    return bent ? times3(bent, homographyOfAffine(seen)) : homographyOfAffine(seen);
  };
  const maps = [at(-0.5), at(0), at(0.5)] as const;
  const length = travel(maps, crossing.width, crossing.height);
  return length > unseen ? { maps, length, border: crossing.blurBorder } : null;
}

/** What the blurs that have keys do to a place at a share of the shutter's time, −0.5 to 0.5: a layer's or the whole picture's. */
function smear(document: CrossingDocument, ownerId: string, frame: number, share: number): Affine {
  const { width, height } = document.crossing;
  const numbers = (channel: (typeof blurChannels)[number]) => numbersAt(document, ownerId, channel, frame);
  const [length, direction] = numbers('blur-along');
  const [strength, towardsX, towardsY] = numbers('blur-towards');
  const [angle, aboutX, aboutY] = numbers('blur-about');
  let map = identity;
  if (length !== 0) {
    const way = (direction * Math.PI) / 180;
    map = [1, 0, 0, 1, share * length * Math.cos(way), share * length * Math.sin(way)];
  }
  if (strength !== 0) {
    const scale = 1 + (share * strength) / 100;
    map = compose(about(scale, 0, width / 2 + towardsX, height / 2 + towardsY), map);
  }
  if (angle !== 0) {
    const turn = (share * angle * Math.PI) / 180;
    map = compose(about(Math.cos(turn), Math.sin(turn), width / 2 + aboutX, height / 2 + aboutY), map);
  }
  return map;
}

/** The map that scales and turns by these about a point. */
function about(a: number, b: number, x: number, y: number): Affine {
  return [a, b, -b, a, x - a * x + b * y, y - b * x - a * y];
}

/** The farthest that a place of the frame travels, from opening over the middle to closing, crossing px. */
function travel(maps: Blur['maps'], width: number, height: number): number {
  let farthest = 0;
  for (const x of [0, width / 2, width])
    for (const y of [0, height / 2, height]) {
      const [a, b, c] = maps.map((map) => applyHomography(map, x, y));
      const [bx, by] = applyHomography(maps[1], x + 1, y);
      const scale = Math.hypot(bx - b[0], by - b[1]) || 1;
      const way = Math.hypot(b[0] - a[0], b[1] - a[1]) + Math.hypot(c[0] - b[0], c[1] - b[1]);
      farthest = Math.max(farthest, way / scale);
    }
  return farthest;
}
