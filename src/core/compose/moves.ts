import { followedBy, mapOf, type Movement, movementBetween, partOf, takenAlong } from './following';
import { toShotAt } from './placement';
import { type Grade, plainGrade } from '../colour/grade';
import type { CrossingDocument, LayerRow } from '../document/tables';
import { type Channel, cornerChannels, gradeChannels, placementChannels } from '../model/channels';
import { keysOf, type MoveKey, numbersAt } from '../document/keys';
import type { Shot } from '../model/shot';
import { type Affine, compose, identity, invert } from '../geometry/affine';
import { type Homography, homographyOf } from '../geometry/homography';
import { firstKeyFrom, numberBetween, placeAmong, shareOfWay } from '../time/track';

/** What a layer, or the whole picture, does at a crossing frame: px of the crossing, percent, degrees, percent. */
export interface Moved {
  x: number;
  y: number;
  size: number;
  turn: number;
  opacity: number;
}

/** What an owner does where it has no keys: a layer as it was set for all frames, the whole picture nothing. */
export function restOf({ layers }: CrossingDocument, ownerId: string): Moved {
  const layer = layers[ownerId];
  if (!layer) return { x: 0, y: 0, size: 100, turn: 0, opacity: 100 };
  return { x: layer.x, y: layer.y, size: layer.scale, turn: layer.turn, opacity: 100 };
}

/**
 * What an owner does at a crossing frame; where it has no keys, as at rest. Size runs evenly to the eye, in the
 * logarithm; where place and size move between the same two frames, place goes along with size, so that one point of
 * the picture stays still.
 *
 * @param frame may lie between frames.
 */
export function movedAt(document: CrossingDocument, ownerId: string, frame: number): Moved {
  const rest = restOf(document, ownerId);
  const { place, size, turn, opacity } = keysOf(document, ownerId);
  const sizeNow = size ? Math.exp(valueAt(size, frame, (key) => Math.log(valueOf(key)))) : rest.size;
  const [x, y] = place ? placeAt(place, size, frame, sizeNow) : [rest.x, rest.y];
  return {
    x,
    y,
    size: sizeNow,
    turn: turn ? valueAt(turn, frame, valueOf) : rest.turn,
    opacity: opacity ? Math.min(100, Math.max(0, valueAt(opacity, frame, valueOf))) : rest.opacity,
  };
}

/** What a channel's numbers are at a crossing frame: by {@link movedAt} where that knows it, else {@link numbersAt}. */
export function channelAt(
  document: CrossingDocument,
  ownerId: string,
  channel: Channel,
  frame: number,
): number[] {
  if (channel === 'place') {
    const { x, y } = movedAt(document, ownerId, frame);
    return [x, y];
  }
  if (channel === 'size' || channel === 'turn' || channel === 'opacity')
    return [movedAt(document, ownerId, frame)[channel]];
  return numbersAt(document, ownerId, channel, frame);
}

function valueOf({ row }: MoveKey): number {
  return row.value;
}

function valueAt(keys: readonly MoveKey[], frame: number, of: (key: MoveKey) => number): number {
  const place = placeAmong(keys, frame);
  return place.where === 'between' ? numberBetween(keys, place, of) : of(place.key);
}

function placeAt(
  keys: readonly MoveKey[],
  sizes: readonly MoveKey[] | undefined,
  frame: number,
  sizeNow: number,
): [x: number, y: number] {
  const at = placeAmong(keys, frame);
  if (at.where !== 'between') return [at.key.row.value, at.key.row.second];
  const { from, to } = at;
  const along = (share: number): [number, number] => [
    from.row.value + (to.row.value - from.row.value) * share,
    from.row.second + (to.row.second - from.row.second) * share,
  ];
  if (sizes && from.onward !== 'hold') {
    const k = firstKeyFrom(sizes, from.frame);
    const [a, b] = [sizes[k], sizes[k + 1]];
    if (a?.frame === from.frame && b?.frame === to.frame && valueOf(a) !== valueOf(b)) {
      return along((sizeNow - valueOf(a)) / (valueOf(b) - valueOf(a)));
    }
  }
  if (from.onward === 'smooth')
    return [numberBetween(keys, at, valueOf), numberBetween(keys, at, ({ row }) => row.second)];
  return along(shareOfWay(from, at.share));
}

/** The layer as it is placed at a crossing frame: by its own keys, then as the layer moves that it follows. */
export function layerAt(document: CrossingDocument, layer: LayerRow, frame: number): LayerRow {
  const own = ownPlaceAt(document, layer, frame);
  const movement = followedAt(document, layer, frame);
  return movement ? takenAlong(own, movement) : own;
}

/** What moves a layer at a crossing frame beside its own keys: what it follows; null where it follows nothing. */
function followedAt(document: CrossingDocument, layer: LayerRow, frame: number): Movement | null {
  const leader = document.layers[layer.followsId ?? ''];
  if (!leader) return null;
  return partOf(movementBetween(leader, layerAt(document, leader, frame)), layer.followShare / 100);
}

/** What a layer is moved by, once its own keys have placed it: what it follows, then the whole picture. Crossing px to crossing px. */
export function carriedAlongAt(document: CrossingDocument, layer: LayerRow, frame: number): Affine {
  const movement = followedAt(document, layer, frame);
  const followed = movement ? mapOf(movement, document.crossing) : identity;
  return compose(wholeAt(document, frame) ?? identity, followed);
}

function ownPlaceAt(document: CrossingDocument, layer: LayerRow, frame: number): LayerRow {
  const { place, size, turn } = keysOf(document, layer.id);
  if (!place && !size && !turn) return layer;
  const moved = movedAt(document, layer.id, frame);
  return { ...layer, x: moved.x, y: moved.y, scale: moved.size, turn: moved.turn };
}

/** A layer's opacity at a crossing frame, 0 to 1. */
export function opacityAt(document: CrossingDocument, layer: LayerRow, frame: number): number {
  return keysOf(document, layer.id).opacity ? movedAt(document, layer.id, frame).opacity / 100 : 1;
}

/** How the whole picture is moved at a crossing frame, crossing px to crossing px; null where it is at rest. */
export function wholeAt(document: CrossingDocument, frame: number): Affine | null {
  const { crossing } = document;
  const { place, size, turn } = keysOf(document, crossing.id);
  if (!place && !size && !turn) return null;
  const moved = movedAt(document, crossing.id, frame);
  const [scale, angle] = [moved.size / 100, (moved.turn * Math.PI) / 180];
  const [a, b] = [Math.cos(angle) * scale, Math.sin(angle) * scale];
  const [cx, cy] = [crossing.width / 2, crossing.height / 2];
  return [a, b, -b, a, cx + moved.x - a * cx + b * cy, cy + moved.y - b * cx - a * cy];
}

/** From the crossing's px to a layer's shot at a crossing frame, with everything that moves. */
export function shotMapAt(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
  sourceFrame: number,
): Affine {
  const toShot = toShotAt(document.crossing, layerAt(document, layer, frame), shot, sourceFrame);
  const whole = wholeAt(document, frame);
  return whole ? compose(toShot, invert(whole)) : toShot;
}

/** A layer's colour settings at a crossing frame; null where they change nothing. */
export function gradeAt(document: CrossingDocument, layerId: string, frame: number): Grade | null {
  const keys = keysOf(document, layerId);
  if (!gradeChannels.some((channel) => keys[channel])) return null;
  const grade = { ...plainGrade };
  for (const channel of gradeChannels) [grade[channel]] = numbersAt(document, layerId, channel, frame);
  return gradeChannels.every((channel) => grade[channel] === plainGrade[channel]) ? null : grade;
}

/** Corners of a shot, from the upper left clockwise. */
export function shotCorners({ width, height }: Pick<Shot, 'width' | 'height'>): number[] {
  return [0, 0, width, 0, width, height, 0, height];
}

/**
 * From a layer's shot, corner by corner pulled elsewhere, to the shot as it is; null where its corners are at rest, or
 * are pulled so that they make no convex quadrilateral.
 */
export function bentAt(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): Homography | null {
  const keys = keysOf(document, layer.id);
  if (!cornerChannels.some((channel) => keys[channel])) return null;
  const at = shotCorners(shot);
  const offsets = cornerChannels.flatMap((channel) => numbersAt(document, layer.id, channel, frame));
  if (offsets.every((offset) => offset === 0)) return null;
  const pulled = at.map((value, k) => value + offsets[k]);
  const turns = [0, 1, 2, 3].map((k) => {
    const [px, py, qx, qy, rx, ry] = [0, 1, 2].flatMap((i) => {
      const j = ((k + i) % 4) * 2;
      return [pulled[j], pulled[j + 1]];
    });
    return (qx - px) * (ry - qy) - (qy - py) * (rx - qx);
  });
  return turns.every((turn) => turn > 0) ? homographyOf(pulled, at) : null;
}

/** Whether a layer has keys of its own, or what it follows has, or the whole picture. */
export function moves(document: CrossingDocument, layer: LayerRow): boolean {
  const movers = [layer, ...followedBy(document, layer), document.crossing];
  return movers.some(({ id }) => {
    const keys = keysOf(document, id);
    return [...placementChannels, ...cornerChannels].some((channel) => keys[channel]);
  });
}
