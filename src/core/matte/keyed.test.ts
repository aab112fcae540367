import type { PicturePlanes } from '../picture/planes';
import type { ChromaSettings } from '../document/tables';
import type { Shot } from '../model/shot';
import { chromaAround, drawKeyed, spillOf } from './keyed';

const [width, height] = [240, 160];
const shot = { id: 's', width, height, rotation: 0 } as Shot;
const board = { cb: 84, cr: 60 };
const coat = { cb: 120, cr: 150 };
const key: ChromaSettings = { ...board, tolerance: 4, softness: 0, grow: 0, clean: 0, spill: 0 };

/** A picture made by formula: the mix of board and coat at each place is known. */
function mixed(boardAt: (x: number, y: number) => number, noise = 0): PicturePlanes {
  const [chromaWidth, chromaHeight] = [width / 2, height / 2];
  const [u, v] = [new Uint8Array(chromaWidth * chromaHeight), new Uint8Array(chromaWidth * chromaHeight)];
  let state = 7;
  const random = () => ((state = (state * 48271) % 2147483647) / 2147483647 - 0.5) * 2 * noise;
  for (let y = 0; y < chromaHeight; y++)
    for (let x = 0; x < chromaWidth; x++) {
      // Chroma is sited on every other column, half-way between two rows.
      const share = boardAt(2 * x + 0.5, 2 * y + 1);
      u[y * chromaWidth + x] = Math.round(coat.cb + (board.cb - coat.cb) * share + random());
      v[y * chromaWidth + x] = Math.round(coat.cr + (board.cr - coat.cr) * share + random());
    }
  const y = new Uint8Array(width * height).fill(120);
  return {
    ...{ width, height, chromaWidth, chromaHeight, y, u, v },
    colour: { matrix: 'bt709', fullRange: false },
  };
}
const disc = (radius: number, soft: number) => (x: number, y: number) =>
  Math.min(1, Math.max(0, 0.5 + (radius - Math.hypot(x - 120, y - 80)) / soft));
function keyed(settings: Partial<ChromaSettings>, planes: PicturePlanes, of = shot, w = width, h = height) {
  const out = new Uint8Array(w * h).fill(7);
  drawKeyed({ ...key, ...settings }, planes, of, { width: w, height: h }, out);
  return out;
}
const areaOf = (alpha: Uint8Array) => alpha.reduce((sum, value) => sum + value, 0) / 255;

test('the key of a picture made by formula is its known alpha', () => {
  const far = Math.hypot(board.cb - coat.cb, board.cr - coat.cr);
  const truth = disc(50, 24);
  // Full at the board's colour, nothing at the coat's: what lies between follows the smooth step of the mix.
  const out = keyed({ tolerance: 0, softness: far }, mixed(truth));
  let worst = 0;
  for (let y = 4; y < height - 4; y++)
    for (let x = 4; x < width - 4; x++) {
      const share = truth(x + 0.5, y + 0.5);
      worst = Math.max(worst, Math.abs(out[y * width + x] - 255 * share * share * (3 - 2 * share)));
    }
  // One code value of chroma is 1/96 of the way, and the grid is half as fine as the picture.
  expect(worst).toBeLessThan(14);
  expect(Math.abs(areaOf(keyed({ tolerance: far / 2 }, mixed(truth))) / (Math.PI * 2500) - 1)).toBeLessThan(
    0.01,
  );
});

test('noise within the tolerance makes no holes; specks and holes are cleaned away, larger ones are not', () => {
  const noisy = keyed({ tolerance: 9, softness: 6 }, mixed(disc(50, 0.01), 5));
  for (let y = 50; y < 110; y += 3) for (let x = 90; x < 150; x += 3) expect(noisy[y * width + x]).toBe(255);
  const spotted = mixed((x, y) => {
    const spot = (cx: number, cy: number, r: number) => Math.hypot(x - cx, y - cy) < r;
    // In the board a small and a large hole, beside it a small and a large speck.
    if (spot(100, 80, 4) || spot(130, 80, 12) || spot(30, 30, 12)) return spot(30, 30, 12) ? 1 : 0;
    return spot(120, 80, 50) || spot(30, 120, 4) ? 1 : 0;
  });
  const at = (alpha: Uint8Array, x: number, y: number) => alpha[y * width + x];
  const places = [
    [100, 80],
    [130, 80],
    [30, 30],
    [30, 120],
  ] as const;
  const [plain, clean] = [keyed({}, spotted), keyed({ clean: 14 }, spotted)];
  expect(places.map(([x, y]) => at(plain, x, y))).toEqual([0, 0, 255, 255]);
  expect(places.map(([x, y]) => at(clean, x, y))).toEqual([255, 0, 255, 0]);
});

test('the key is shrunk and grown by px of the shot, in all directions alike', () => {
  const planes = mixed(disc(50, 0.01));
  for (const grow of [-8, -3, 4, 10]) {
    const radius = Math.sqrt(areaOf(keyed({ grow }, planes)) / Math.PI);
    expect(Math.abs(radius - 50 - grow)).toBeLessThan(1.2);
  }
});

test('rotation and another size of matte lead to the same place; a pick finds colour and spread', () => {
  const planes = mixed(disc(30, 0.01));
  const turned = { ...shot, width: height, height: width, rotation: 90 as const };
  expect(areaOf(keyed({}, planes, turned, height, width))).toBeCloseTo(Math.PI * 900, -2);
  expect(4 * areaOf(keyed({}, planes, shot, width / 2, height / 2))).toBeCloseTo(Math.PI * 900, -2);
  expect(chromaAround(planes, shot, 120, 80, 10)).toEqual({ ...board, spread: 0 });
  const noisy = chromaAround(
    mixed(() => 1, 4),
    shot,
    60,
    60,
    20,
  );
  expect(Math.hypot(noisy.cb - board.cb, noisy.cr - board.cr)).toBeLessThan(1);
  // Evenly spread over ±4 in both: the root of 2 · 4² / 3.
  expect(Math.abs(noisy.spread - Math.sqrt(32 / 3))).toBeLessThan(0.5);
});

test('spill lies along the key’s hue; a grey key has none', () => {
  const spill = spillOf({ ...key, spill: 50 })!;
  expect(spill.share).toBe(0.5);
  expect(Math.hypot(spill.u, spill.v)).toBeCloseTo(1, 9);
  expect(spill.u / spill.v).toBeCloseTo((84 - 128) / (60 - 128), 9);
  expect(spillOf({ ...key, cb: 128, cr: 128, spill: 50 })).toBeNull();
  expect(spillOf(key)).toBeNull();
});
