import type { Matte } from '@/core/compose/picture';
import { type PicturePlanes, shotToPlanes } from '@/core/picture/planes';
import type { LayerDraw } from '@/core/compose/scene';
import { matteTiles, tileCut, type Tiles, tilesOf } from '@/core/compose/tiles';
import type { Rectangle } from '@/core/geometry/rectangle';
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
  /** To shares of the shot's width and height. */
  toShot: Affine;
  /** Whether pixels outside the shot have to be left out one by one, as it lies aslant. */
  bounded: boolean;
  tiles: Tiles;
  /** The part of the target that is drawn and that the shot reaches. */
  frame: Rectangle;
  /** Whether nothing below this layer shows in a tile. */
  hides(tile: number): boolean;
}

/**
 * @param toShot from px of the target to shot px.
 * @param clip the part of the target that the layer may be drawn in.
 */
export function place(
  layer: PreparedLayer,
  shot: Shot,
  toShot: Affine,
  clip: Rectangle,
  { width, height, visible }: Target,
): Placed {
  const { draw, planes, matte } = layer;
  const toMatte =
    matte && compose([matte.width / shot.width, 0, 0, matte.height / shot.height, 0, 0], toShot);
  const whole = draw.cut.extent === 'all' ? tileCut.all : tileCut.none;
  const tiles = matte ? matteTiles(matte, toMatte!, width, height) : tilesOf(width, height, whole);
  const upright = toShot[1] === 0 && toShot[2] === 0;
  const inShot = boxOfShot(shot, toShot, width, height);
  const fills =
    draw.opacity === 1 &&
    draw.clip === null &&
    (upright
      ? inShot[0] === 0 && inShot[1] === 0 && inShot[2] === width && inShot[3] === height
      : coversCorners(shot, toShot, width, height));
  const frame = [visible, clip].reduce<Rectangle>(
    (box, other) => [
      Math.max(box[0], other[0]),
      Math.max(box[1], other[1]),
      Math.min(box[2], other[2]),
      Math.min(box[3], other[3]),
    ],
    inShot,
  );
  return {
    ...layer,
    toPlanes: planes && compose(shotToPlanes(shot, planes), toShot),
    toMatte,
    toShot: compose([1 / shot.width, 0, 0, 1 / shot.height, 0, 0], toShot),
    bounded: !upright && !fills,
    tiles,
    frame,
    hides: (tile) => fills && tiles.cut[tile] === tileCut.none,
  };
}

const cornersOf = (width: number, height: number): [number, number][] => [
  [0, 0],
  [width, 0],
  [0, height],
  [width, height],
];

/** The pixels of the target whose centres can lie in the shot. */
function boxOfShot(shot: Shot, toShot: Affine, width: number, height: number): Rectangle {
  const fromShot = invert(toShot);
  const corners = cornersOf(shot.width, shot.height).map(([x, y]) => applyAffine(fromShot, x, y));
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const clamped = (edge: number, size: number) => Math.min(size, Math.max(0, Math.ceil(edge - 0.5 - 1e-6)));
  return [
    clamped(Math.min(...xs), width),
    clamped(Math.min(...ys), height),
    clamped(Math.max(...xs), width),
    clamped(Math.max(...ys), height),
  ];
}

function coversCorners(shot: Shot, toShot: Affine, width: number, height: number): boolean {
  return cornersOf(width, height)
    .map(([x, y]) => applyAffine(toShot, x, y))
    .every(([x, y]) => x >= 0 && y >= 0 && x <= shot.width && y <= shot.height);
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
