import type { Matte } from '@/core/compose/picture';
import { type PicturePlanes, shotToPlanes } from '@/core/compose/planes';
import type { LayerDraw } from '@/core/compose/scene';
import { matteTiles, type Rectangle, tileCut, type Tiles, tilesOf } from '@/core/compose/tiles';
import type { Shot } from '@/core/document/rows';
import { type Affine, applyAffine, compose, invert } from '@/core/geometry/affine';

/** A layer with the picture and the matte it is to be drawn with. */
export interface PreparedLayer {
  draw: LayerDraw;
  /** Null when the scene paints the matte. */
  planes: PicturePlanes | null;
  matte: Matte | null;
}

/** What is drawn into. */
export interface Target {
  width: number;
  height: number;
  flipped: boolean;
  /** The part that is drawn, in px. */
  visible: Rectangle;
}

/** A layer's maps from px of the target, and the tiles that it cuts and hides. */
export interface Placed extends PreparedLayer {
  toPlanes: Affine | null;
  toMatte: Affine | null;
  tiles: Tiles;
  /** The part of the target that is drawn and whose pixel centres lie in the shot. */
  frame: Rectangle;
  /** Whether nothing below this layer shows in a tile. */
  hides(tile: number): boolean;
}

/** @param toShot from px of the target to shot px: scale and shift only. */
export function place(
  layer: PreparedLayer,
  shot: Shot,
  toShot: Affine,
  { width, height, visible }: Target,
): Placed {
  const { draw, planes, matte } = layer;
  const toMatte =
    matte && compose([matte.width / shot.width, 0, 0, matte.height / shot.height, 0, 0], toShot);
  const whole = draw.cut.extent === 'all' ? tileCut.all : tileCut.none;
  const tiles = matte ? matteTiles(matte, toMatte!, width, height) : tilesOf(width, height, whole);
  const fromShot = invert(toShot);
  const [left, top] = applyAffine(fromShot, 0, 0);
  const [right, bottom] = applyAffine(fromShot, shot.width, shot.height);
  const clamped = (edge: number, size: number) => Math.min(size, Math.max(0, Math.ceil(edge - 0.5 - 1e-6)));
  const inShot: Rectangle = [
    clamped(left, width),
    clamped(top, height),
    clamped(right, width),
    clamped(bottom, height),
  ];
  const fills = inShot[0] === 0 && inShot[1] === 0 && inShot[2] === width && inShot[3] === height;
  const frame: Rectangle = [
    Math.max(inShot[0], visible[0]),
    Math.max(inShot[1], visible[1]),
    Math.min(inShot[2], visible[2]),
    Math.min(inShot[3], visible[3]),
  ];
  return {
    ...layer,
    toPlanes: planes && compose(shotToPlanes(shot, planes), toShot),
    toMatte,
    tiles,
    frame,
    hides: (tile) => fills && tiles.cut[tile] === tileCut.none,
  };
}

/** Both chroma planes as one of pairs: one texture to read instead of two. */
export function interleaved({ u, v }: PicturePlanes): Uint8Array {
  const pairs = new Uint8Array(u.length * 2);
  for (let i = 0, o = 0; i < u.length; i++) {
    pairs[o++] = u[i];
    pairs[o++] = v[i];
  }
  return pairs;
}
