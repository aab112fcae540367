import { followedBy } from '@/core/compose/following';
import { carriedAlongAt, channelAt, movedAt, shotCorners, shotMapAt, wholeAt } from '@/core/compose/moves';
import { layerSourceFrame } from '@/core/compose/source-frames';
import { keysOf } from '@/core/document/keys';
import type { CrossingDocument } from '@/core/document/tables';
import { type Affine, applyAffine, identity, invert } from '@/core/geometry/affine';
import { type Channel, cornerChannels } from '@/core/model/channels';
import type { ShotMedia } from '@/wire/answers';

/** The frame of what moves as it lies over the picture, and what a drag of its parts sets; without the page. */

export type Place = readonly [x: number, y: number];
export type CornerChannel = (typeof cornerChannels)[number];
/** Blurs that go towards a point, or about one. */
export const blurPoints = ['blur-towards', 'blur-about'] as const;
export type BlurPoint = (typeof blurPoints)[number];

/** Screen px from the middle down to the knob of the still point, while that is the middle. */
export const hangs = 30;
/** Screen px from the upper side to the knob that turns. */
const stalk = 26;

export const isCorner = (does: Hold['does']): does is CornerChannel =>
  (cornerChannels as readonly string[]).includes(does);

export const isBlurPoint = (does: Hold['does']): does is BlurPoint =>
  (blurPoints as readonly string[]).includes(does);

/** What a hand holds of the frame. */
export interface Hold {
  does: 'scale' | 'turn' | 'place' | 'still' | CornerChannel | BlurPoint;
  from: Place;
  /** On screen, what it is scaled and turned about. */
  about: Place;
  /** The same in px of the crossing, before what it goes along with moves it; null: its own middle. */
  still: Place | null;
  /** What it goes along with. */
  along: Affine;
  start: { x: number; y: number; size: number; turn: number };
  /** The numbers of the corner or the blur that is held. */
  numbers: readonly number[];
  moved: boolean;
}

/** The frame as it lies on screen. */
export interface Laid {
  /** Crossing px to the mover's own. */
  toShot: Affine;
  corners: readonly Place[];
  middle: Place;
  /** Where the knob that turns stands, and where its stalk begins. */
  knob: Place;
  top: Place;
  /** The still point in crossing px; null: the middle. */
  still: Place | null;
  /** What it is scaled and turned about. */
  about: Place;
  stillKnob: Place;
}

/** @param ownStill the still point in the mover's own px. */
export function laidOut(
  { at, toShot }: { at: readonly Place[]; toShot: Affine },
  view: Affine,
  ownStill: Place | null,
): Laid {
  const corners = at.map(([x, y]) => applyAffine(view, x, y));
  const middle = applyAffine(view, ...middleOf(at));
  const still = ownStill && applyAffine(invert(toShot), ...ownStill);
  const about = still ? applyAffine(view, ...still) : middle;
  const [a, b] = corners;
  const top: Place = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const up = Math.hypot(top[0] - middle[0], top[1] - middle[1]) || 1;
  const knob: Place = [
    top[0] + ((top[0] - middle[0]) / up) * stalk,
    top[1] + ((top[1] - middle[1]) / up) * stalk,
  ];
  // Where it is the middle its knob hangs below, to be taken from there.
  const stillKnob: Place = still ? about : [middle[0], middle[1] + hangs];
  return { toShot, corners, middle, knob, top, still, about, stillKnob };
}

/** What a drag of a hold sets, `at` and `from` in screen px of the picture. */
export function draggedTo(
  { does, start, about, still, numbers, along }: Hold,
  [at, from]: readonly [Place, Place],
  { scale, toShot, byStep }: { scale: number; toShot: Affine; byStep: boolean },
  size: { width: number; height: number },
): Partial<Record<Channel, readonly number[]>> {
  const [dx, dy] = [(at[0] - from[0]) / scale, (at[1] - from[1]) / scale];
  if (isCorner(does)) {
    const [a, b, c, d] = toShot;
    return { [does]: [tenth(numbers[0] + a * dx + c * dy), tenth(numbers[1] + b * dx + d * dy)] };
  }
  if (isBlurPoint(does)) {
    const [a, b, c, d] = invert(along);
    const [strength, x, y] = numbers;
    return { [does]: [strength, tenth(x + a * dx + c * dy), tenth(y + b * dx + d * dy)] };
  }
  if (does === 'place') {
    const [a, b, c, d] = invert(along);
    return { place: [tenth(start.x + a * dx + c * dy), tenth(start.y + b * dx + d * dy)] };
  }
  if (does === 'scale') {
    const by =
      Math.hypot(at[0] - about[0], at[1] - about[1]) /
      (Math.hypot(from[0] - about[0], from[1] - about[1]) || 1);
    const scaled = tenth(start.size * by);
    return { size: [scaled], ...placeAbout(still, start, [scaled / start.size, 0], size) };
  }
  const angle =
    Math.atan2(at[1] - about[1], at[0] - about[0]) - Math.atan2(from[1] - about[1], from[0] - about[0]);
  const turn = start.turn + (Math.atan2(Math.sin(angle), Math.cos(angle)) * 180) / Math.PI;
  const turned = byStep ? 15 * Math.round(turn / 15) : tenth(turn);
  const way = ((turned - start.turn) * Math.PI) / 180;
  return { turn: [turned], ...placeAbout(still, start, [Math.cos(way), Math.sin(way)], size) };
}

/** The place that leaves the still point where it is, as what moves is scaled and turned (a complex factor) about it. */
function placeAbout(
  still: Place | null,
  { x, y }: Hold['start'],
  [re, im]: Place,
  { width, height }: { width: number; height: number },
) {
  if (!still) return {};
  const [dx, dy] = [width / 2 + x - still[0], height / 2 + y - still[1]];
  const to = [still[0] + re * dx - im * dy - width / 2, still[1] + im * dx + re * dy - height / 2];
  return { place: to.map(tenth) };
}

/** The points of the blurs that are seen or have keys, crossing px as the picture is moved. */
export function blurPointsOf(document: CrossingDocument, moverId: string, frame: number) {
  const { width, height } = document.crossing;
  const keys = keysOf(document, moverId);
  const whole = document.layers[moverId] ? (wholeAt(document, frame) ?? identity) : identity;
  return blurPoints
    .filter((channel) => keys[channel])
    .map((channel) => {
      const [, x, y] = channelAt(document, moverId, channel, frame);
      return { channel, at: applyAffine(whole, width / 2 + x, height / 2 + y) };
    });
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}

function middleOf(corners: readonly Place[]): [number, number] {
  return [corners.reduce((sum, [x]) => sum + x, 0) / 4, corners.reduce((sum, [, y]) => sum + y, 0) / 4];
}

/** The corners of what moves at a crossing frame, crossing px, and the way from there to its own px; null where the layer has no picture to speak of. */
export function cornersOf(
  document: CrossingDocument,
  shots: readonly ShotMedia[],
  moverId: string,
  frame: number,
): { at: Place[]; toShot: Affine } | null {
  const layer = document.layers[moverId];
  const shot = layer && shots.find((media) => media.shot.id === layer.shotId)?.shot;
  if ((layer && !shot) || (!layer && moverId !== document.crossing.id)) return null;
  const map: Affine = shot
    ? invert(shotMapAt(document, layer, shot, frame, layerSourceFrame(document, layer, shot, frame)))
    : (wholeAt(document, frame) ?? identity);
  const pulled = cornerChannels.map((channel) =>
    layer ? channelAt(document, moverId, channel, frame) : [0, 0],
  );
  const at = shotCorners(shot ?? document.crossing);
  return {
    at: pulled.map(([x, y], k) => applyAffine(map, at[2 * k] + x, at[2 * k + 1] + y)),
    toShot: invert(map),
  };
}

/** Where the middle of what moves is at every frame, crossing px; none where it rests. */
export function middlesOf(document: CrossingDocument, moverId: string): Place[] {
  const { width, height, length } = document.crossing;
  const layer = document.layers[moverId];
  const movers = layer ? [layer, ...followedBy(document, layer)] : [document.crossing];
  if (!movers.some(({ id }) => (keysOf(document, id).place?.length ?? 0) > 1)) return [];
  return Array.from({ length }, (_, frame) => {
    const { x, y } = movedAt(document, moverId, frame);
    const along = layer ? carriedAlongAt(document, layer, frame) : identity;
    return applyAffine(along, width / 2 + x, height / 2 + y);
  });
}
