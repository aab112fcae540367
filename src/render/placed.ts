import type { Matte } from '@/core/compose/layer-matte';
import { clipIn, type Sampling, samplingOf } from '@/core/compose/sampling';
import type { Alpha } from '@/core/matte/alpha';
import { perDeepCode, type PicturePlanes } from '@/core/picture/planes';
import type { LayerDraw } from '@/core/compose/scene';
import { matteTiles, tileCut, type Tiles, tilesOf } from '@/core/compose/tiles';
import type { Rectangle } from '@/core/geometry/rectangle';
import type { Shot } from '@/core/model/shot';
import { applyHomography, type Homography, isAffine } from '@/core/geometry/homography';
import { asFilmed, type Lens, lensOf, straightened } from '@/core/geometry/lens';
import { inverse3, times3 } from '@/core/geometry/matrix3';

/** A layer with the picture and the matte it is to be drawn with. */
export interface PreparedLayer {
  draw: LayerDraw;
  /** Null when the scene paints the matte. */
  planes: PicturePlanes | null;
  matte: Matte<Alpha> | null;
}

/** What is drawn into. */
export interface Target {
  width: number;
  height: number;
  flipped: boolean;
  /** The part that is drawn, in px. */
  visible: Rectangle;
  /** The tiles that are drawn; left out: all. */
  only?: (tile: number) => boolean;
}

/** A layer's maps from px of the target, and the tiles that it cuts and hides. */
export interface Placed extends PreparedLayer {
  /** To px of the shot. */
  sampling: Sampling;
  /** Whether pixels outside the shot have to be left out one by one, as it lies aslant. */
  bounded: boolean;
  tiles: Tiles;
  /** The part of the target that is drawn and that the shot reaches. */
  frame: Rectangle;
  /** Whether nothing below this layer shows in a tile. */
  hides(tile: number): boolean;
}

export function place(
  layer: PreparedLayer,
  shot: Shot,
  crossing: { width: number; height: number },
  { width, height, visible }: Target,
): Placed {
  const { draw, planes, matte } = layer;
  const sampling = samplingOf(draw, shot, planes, { crossing, width, height });
  const { maps, lens, inside } = sampling;
  const extended = inside[0] < 0 || inside[1] < 0 || inside[2] > shot.width || inside[3] > shot.height;
  const plain = maps.length === 1 && isAffine(maps[0]) && !lens;
  const whole = draw.cut.extent === 'all' ? tileCut.all : tileCut.none;
  const tiles = matte
    ? matteTiles(
        matte,
        maps.map((map) =>
          times3([matte.width / shot.width, 0, 0, 0, matte.height / shot.height, 0, 0, 0, 1], map),
        ),
        width,
        height,
        lens && lensOf(lens.lambda, matte),
      )
    : tilesOf(width, height, whole);
  const upright = plain && maps[0][1] === 0 && maps[0][3] === 0;
  const inShot = maps
    .map((map): Rectangle => (extended ? [0, 0, width, height] : boxOfShot(shot, map, lens, width, height)))
    .reduce((a, b) => [
      Math.min(a[0], b[0]),
      Math.min(a[1], b[1]),
      Math.max(a[2], b[2]),
      Math.max(a[3], b[3]),
    ]);
  const fills =
    draw.opacity === 1 &&
    draw.mixed === null &&
    draw.clip === null &&
    (upright
      ? inShot[0] === 0 && inShot[1] === 0 && inShot[2] === width && inShot[3] === height
      : maps.every((map) => coversBorder(inside, map, lens, width, height)));
  const frame = [visible, clipIn(draw, crossing, width, height)].reduce<Rectangle>(
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
    sampling,
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

/** The pixels of the target whose centres can lie in the shot; all of them where part of it lies behind the camera. */
function boxOfShot(
  shot: Shot,
  toShot: Homography,
  lens: Lens | null,
  width: number,
  height: number,
): Rectangle {
  const fromShot = inverse3(toShot);
  const edge = lens
    ? borderOf(shot.width, shot.height).map(([x, y]) => straightened(lens, x, y))
    : cornersOf(shot.width, shot.height);
  if (edge.some(([x, y]) => fromShot[6] * x + fromShot[7] * y + fromShot[8] <= 0))
    return [0, 0, width, height];
  const seen = edge.map(([x, y]) => applyHomography(fromShot, x, y));
  const [xs, ys] = [seen.map(([x]) => x), seen.map(([, y]) => y)];
  // Between the places of a bowed border that are looked at it may reach a little farther.
  const more = lens ? 2 : 0;
  const clamped = (at: number, size: number) => Math.min(size, Math.max(0, Math.ceil(at - 0.5 - 1e-6)));
  return [
    clamped(Math.min(...xs) - more, width),
    clamped(Math.min(...ys) - more, height),
    clamped(Math.max(...xs) + more, width),
    clamped(Math.max(...ys) + more, height),
  ];
}

/** Places along each side of a rectangle that are looked at where what is straight is bent. */
const alongSide = 16;

function borderOf(width: number, height: number): [number, number][] {
  return Array.from({ length: alongSide }, (_, k) => k / alongSide).flatMap((share): [number, number][] => [
    [width * share, 0],
    [width, height * share],
    [width * (1 - share), height],
    [0, height * (1 - share)],
  ]);
}

/** Whether the shot reaches all of a picture's border, and so all of it. */
function coversBorder(
  [left, top, right, bottom]: Rectangle,
  toShot: Homography,
  lens: Lens | null,
  width: number,
  height: number,
): boolean {
  const within = lens ? 1 : 0;
  return (lens ? borderOf : cornersOf)(width, height).every(([x, y]) => {
    if (toShot[6] * x + toShot[7] * y + toShot[8] <= 0) return false;
    const [px, py] = applyHomography(toShot, x, y);
    const [sx, sy] = lens ? asFilmed(lens, px, py) : [px, py];
    return sx >= left + within && sy >= top + within && sx <= right - within && sy <= bottom - within;
  });
}

/** What deep samples are of 255 code values, and a deep matte's alpha of what is full. */
const [wholeSample, wholeAlpha] = [255 * perDeepCode, 65_535];

/** Words as shares of a whole, as textures of bytes are read. */
function sharesOf(words: Uint16Array, whole: number): Float32Array {
  const shares = new Float32Array(words.length);
  const share = 1 / whole;
  for (let i = 0; i < shares.length; i++) shares[i] = words[i] * share;
  return shares;
}

export const alphaShares = (alpha: Uint16Array) => sharesOf(alpha, wholeAlpha);

/** The same for deep samples; of two planes in pairs. */
export function sampleShares(first: Uint16Array, second: Uint16Array | null = null): Float32Array {
  if (!second) return sharesOf(first, wholeSample);
  const whole = wholeSample;
  const pairs = new Float32Array(2 * first.length);
  for (let i = 0; i < first.length; i++) {
    pairs[2 * i] = first[i] / whole;
    pairs[2 * i + 1] = second[i] / whole;
  }
  return pairs;
}

/** Both chroma planes as one of pairs: one texture to read instead of two. */
export function interleaved({ u, v }: PicturePlanes): Uint8Array {
  // Both at once, in the order in which every machine that runs a browser stores them: the lower byte first.
  const pairs = new Uint16Array(u.length);
  for (let i = 0; i < u.length; i++) pairs[i] = u[i] | (v[i] << 8);
  return new Uint8Array(pairs.buffer);
}
