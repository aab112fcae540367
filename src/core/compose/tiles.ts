import { applyHomography, type Homography, isAffine } from '../geometry/homography';
import { asFilmed, type Lens } from '../geometry/lens';
import type { Rectangle } from '../geometry/rectangle';
import { type Alpha, fullOf } from '../matte/alpha';
import type { Matte } from './layer-matte';

/** Side of a tile in px of the picture drawn. */
export const tileSide = 32;

/** What a matte cuts of a tile. */
export const tileCut = { none: 0, all: 1, part: 2 } as const;
export type TileCut = (typeof tileCut)[keyof typeof tileCut];

/** A picture in tiles, row by row. */
export interface Tiles {
  columns: number;
  rows: number;
  cut: Uint8Array;
}

export function tilesOf(width: number, height: number, cut: TileCut): Tiles {
  const columns = Math.ceil(width / tileSide);
  const rows = Math.ceil(height / tileSide);
  return { columns, rows, cut: new Uint8Array(columns * rows).fill(cut) };
}

/**
 * What a matte cuts of each tile, so that a layer is only drawn where it shows and only mixed where it must be.
 *
 * @param toMatte from px of the picture drawn to texels of the matte; several where it passes from one to the other.
 * @param lens what bends them further, in texels of the matte, or null.
 */
export function matteTiles(
  matte: Matte<Alpha>,
  toMatte: readonly Homography[],
  width: number,
  height: number,
  lens: Lens | null = null,
): Tiles {
  const tiles = tilesOf(width, height, tileCut.part);
  const affine = !lens && toMatte.length === 1 && isAffine(toMatte[0]) ? toMatte[0] : null;
  for (let row = 0, i = 0; row < tiles.rows; row++) {
    const [top, bottom] = [row * tileSide, Math.min(height, (row + 1) * tileSide)];
    for (let column = 0; column < tiles.columns; column++, i++) {
      const [left, right] = [column * tileSide, Math.min(width, (column + 1) * tileSide)];
      // The box around the tile in the matte.
      const box = affine
        ? affineBox(affine, left, top, right, bottom)
        : projectedBox(toMatte, lens, left, top, right, bottom);
      if (!box) continue;
      const [x0, x1] = texels(box[0], box[2], matte.width);
      const [y0, y1] = texels(box[1], box[3], matte.height);
      tiles.cut[i] = uniformCut(matte, x0, y0, x1, y1);
    }
  }
  return tiles;
}

/** Sums of the parts' least and greatest. */
function affineBox(
  [a, c, e, b, d, f]: Homography,
  left: number,
  top: number,
  right: number,
  bottom: number,
): Rectangle {
  return [
    Math.min(a * left, a * right) + Math.min(c * top, c * bottom) + e,
    Math.min(b * left, b * right) + Math.min(d * top, d * bottom) + f,
    Math.max(a * left, a * right) + Math.max(c * top, c * bottom) + e,
    Math.max(b * left, b * right) + Math.max(d * top, d * bottom) + f,
  ];
}

/** The box around a rectangle under all these maps, and a texel more for what lies between them or bows out; null where it is open. */
function projectedBox(
  maps: readonly Homography[],
  lens: Lens | null,
  left: number,
  top: number,
  right: number,
  bottom: number,
): Rectangle | null {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const map of maps)
    for (const x of [left, right])
      for (const y of [top, bottom]) {
        if (map[6] * x + map[7] * y + map[8] <= 0) return null;
        const [px, py] = applyHomography(map, x, y);
        const [u, v] = lens ? asFilmed(lens, px, py) : [px, py];
        [x0, y0, x1, y1] = [Math.min(x0, u), Math.min(y0, v), Math.max(x1, u), Math.max(y1, v)];
      }
  return maps.length === 1 && !lens ? [x0, y0, x1, y1] : [x0 - 1, y0 - 1, x1 + 1, y1 + 1];
}

/** The texels that pixels between two places can read: those between, and one to each side. */
function texels(from: number, to: number, size: number): [number, number] {
  return [
    Math.min(size - 1, Math.max(0, Math.floor(from) - 1)),
    Math.min(size, Math.max(1, Math.ceil(to) + 1)),
  ];
}

function uniformCut({ alpha, width }: Matte<Alpha>, x0: number, y0: number, x1: number, y1: number): TileCut {
  const first = alpha[y0 * width + x0];
  if (first !== 0 && first !== fullOf(alpha)) return tileCut.part;
  for (let y = y0; y < y1; y++) {
    for (let i = y * width + x0; i < y * width + x1; i++) if (alpha[i] !== first) return tileCut.part;
  }
  return first === 0 ? tileCut.none : tileCut.all;
}

/** The tiles for which `wanted` holds, joined along rows, cut to a frame. */
export function rectanglesOf(
  tiles: Tiles,
  [left, top, right, bottom]: Rectangle,
  wanted: (tile: number) => boolean,
): Rectangle[] {
  const rectangles: Rectangle[] = [];
  for (let row = 0; row < tiles.rows; row++) {
    const y0 = Math.max(top, row * tileSide);
    const y1 = Math.min(bottom, (row + 1) * tileSide);
    if (y0 >= y1) continue;
    for (let column = 0; column < tiles.columns; column++) {
      const from = column;
      while (column < tiles.columns && wanted(row * tiles.columns + column)) column++;
      const x0 = Math.max(left, from * tileSide);
      const x1 = Math.min(right, column * tileSide);
      if (x0 < x1 && column > from) rectangles.push([x0, y0, x1, y1]);
    }
  }
  return rectangles;
}
