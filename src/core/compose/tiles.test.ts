import { homographyOfAffine } from '../geometry/homography';
import { matteTiles, rectanglesOf, tileCut, tileSide, tilesOf } from './tiles';

const [width, height] = [200, 120];

/** A matte at half the picture's size: a soft-edged disc. */
const matte = {
  width: 100,
  height: 60,
  alpha: Uint8Array.from({ length: 6000 }, (_, i) => {
    const d = 27 - Math.hypot((i % 100) - 48, Math.floor(i / 100) - 31);
    return Math.round(255 * Math.min(1, Math.max(0, d / 2)));
  }),
};
const toMatte = [homographyOfAffine([0.5, 0, 0, 0.5, 0, 0])];

function sampled(x: number, y: number): number[] {
  const [tx, ty] = [(x + 0.5) * 0.5 - 0.5, (y + 0.5) * 0.5 - 0.5];
  const clamp = (value: number, size: number) => Math.min(size - 1, Math.max(0, value));
  return [Math.floor(ty), Math.floor(ty) + 1].flatMap((row) =>
    [Math.floor(tx), Math.floor(tx) + 1].map(
      (column) => matte.alpha[clamp(row, 60) * 100 + clamp(column, 100)],
    ),
  );
}

test('a tile called whole or empty is so in every sample that its pixels read', () => {
  const tiles = matteTiles(matte, toMatte, width, height);
  expect([tiles.columns, tiles.rows]).toEqual([7, 4]);
  expect(new Set(tiles.cut)).toEqual(new Set([tileCut.none, tileCut.all, tileCut.part]));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const cut = tiles.cut[Math.floor(y / tileSide) * tiles.columns + Math.floor(x / tileSide)];
      if (cut === tileCut.none) expect(Math.max(...sampled(x, y))).toBe(0);
      if (cut === tileCut.all) expect(Math.min(...sampled(x, y))).toBe(255);
    }
  }
});

test('the rectangles of all three kinds cover a part of the picture once', () => {
  const tiles = matteTiles(matte, toMatte, width, height);
  const hits = new Uint8Array(width * height);
  for (const kind of Object.values(tileCut)) {
    for (const [x0, y0, x1, y1] of rectanglesOf(
      tiles,
      [10, 5, 190, 101],
      (tile) => tiles.cut[tile] === kind,
    )) {
      for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) hits[y * width + x]++;
    }
  }
  hits.forEach((count, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    expect(count).toBe(x >= 10 && x < 190 && y >= 5 && y < 101 ? 1 : 0);
  });
  expect(rectanglesOf(tilesOf(64, 32, tileCut.none), [0, 0, 64, 32], () => true)).toEqual([[0, 0, 64, 32]]);
});
