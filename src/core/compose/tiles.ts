import type { Affine } from '../geometry/affine';
import type { Rectangle } from '../geometry/rectangle';
import type { Matte } from './picture';

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
 * @param toMatte from px of the picture drawn to texels of the matte.
 */
export function matteTiles(matte: Matte, toMatte: Affine, width: number, height: number): Tiles {
  const tiles = tilesOf(width, height, tileCut.part);
  const [a, b, c, d, e, f] = toMatte;
  for (let row = 0, i = 0; row < tiles.rows; row++) {
    const [top, bottom] = [row * tileSide, Math.min(height, (row + 1) * tileSide)];
    for (let column = 0; column < tiles.columns; column++, i++) {
      const [left, right] = [column * tileSide, Math.min(width, (column + 1) * tileSide)];
      // The box around the tile in the matte: sums of the parts' least and greatest.
      const least = (p: number, q: number, k: number) =>
        Math.min(p * left, p * right) + Math.min(q * top, q * bottom) + k;
      const most = (p: number, q: number, k: number) =>
        Math.max(p * left, p * right) + Math.max(q * top, q * bottom) + k;
      const [x0, x1] = texels(least(a, c, e), most(a, c, e), matte.width);
      const [y0, y1] = texels(least(b, d, f), most(b, d, f), matte.height);
      tiles.cut[i] = uniformCut(matte, x0, y0, x1, y1);
    }
  }
  return tiles;
}

/** The texels that pixels between two places can read: those between, and one to each side. */
function texels(from: number, to: number, size: number): [number, number] {
  return [
    Math.min(size - 1, Math.max(0, Math.floor(from) - 1)),
    Math.min(size, Math.max(1, Math.ceil(to) + 1)),
  ];
}

function uniformCut({ alpha, width }: Matte, x0: number, y0: number, x1: number, y1: number): TileCut {
  const first = alpha[y0 * width + x0];
  if (first !== 0 && first !== 255) return tileCut.part;
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
