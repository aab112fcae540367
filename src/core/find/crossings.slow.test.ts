import { seeded } from '../random';
import { CoverMap, looksEvery } from './cover-map';
import { crossingsIn } from './crossings';

/**
 * Long takes drawn small, with known answers: blobs of noise as ground, things with blobs of their own that cover the picture
 * from top to bottom and leave it, and what must not be taken for one.
 */

const [width, height] = [96, 54];
const { abs, floor, max, min, sin } = Math;
const rate = { num: 25, den: 1 };

/** Even noise with a grain of some px: `at` any place. */
function texture(seed: number, grain: number) {
  const random = seeded(seed);
  const side = 128;
  const values = Float32Array.from({ length: side * side }, () => 40 + 170 * random());
  return (x: number, y: number) => {
    const [u, v] = [x / grain + 1000, y / grain + 1000];
    const [i, j] = [floor(u), floor(v)];
    const [a, b] = [u - i, v - j];
    const value = (p: number, q: number) => values[(q % side) * side + (p % side)];
    return (
      (1 - b) * ((1 - a) * value(i, j) + a * value(i + 1, j)) +
      b * ((1 - a) * value(i, j + 1) + a * value(i + 1, j + 1))
    );
  };
}

/** What a take shows at a frame: at a place, the value of a layer, or null where it is not. */
type Layer = (x: number, y: number, frame: number) => number | null;

/** A thing so wide whose trailing edge enters on frame `opens` and leaves on frame `closes`. */
function passing(opens: number, closes: number, wide: number, direction: 1 | -1, lean = 0): Layer {
  const own = texture(opens + 7, 4.5);
  const pace = width / (closes - opens);
  return (x, y, frame) => {
    const across = direction > 0 ? x : width - x;
    const trailing = (frame - opens) * pace + lean * (y - height / 2);
    return across >= trailing && across < trailing + wide ? own(across - trailing, y) : null;
  };
}

function looked(frames: number, layers: readonly Layer[], { pan = 0, flicker = 0 } = {}) {
  const every = looksEvery(rate);
  const map = new CoverMap({ width, height }, rate.num / every);
  const ground = texture(3, 7);
  const random = seeded(5);
  const picture = new Float32Array(width * height);
  for (let frame = 0; frame < frames; frame += every) {
    const gain = 1 + flicker * sin(frame * 1.9);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let value: number | null = null;
        for (const layer of layers) value = layer(x, y, frame) ?? value;
        value ??= ground(x + pan * frame, y);
        picture[y * width + x] = gain * value + 8 * (random() - 0.5);
      }
    map.add(picture, width, height);
    // It is also asked before all has been looked at.
    if (frame % 100 === 98) crossingsIn({ map, every, rate, width });
  }
  map.end();
  return crossingsIn({ map, every, rate, width });
}

test('what covers the picture and leaves it is found, with its frames, side, pace and width', () => {
  const things = [
    { opens: 60, closes: 108, wide: 75, direction: 1 as const, lean: 0 },
    { opens: 210, closes: 242, wide: 7, direction: -1 as const, lean: 0.04 },
    { opens: 330, closes: 370, wide: 100, direction: -1 as const, lean: -0.2 },
  ];
  const found = looked(
    500,
    things.map(({ opens, closes, wide, direction, lean }) => passing(opens, closes, wide, direction, lean)),
  );
  expect(found).toHaveLength(things.length);
  for (const [k, { opens, closes, wide, direction }] of things.entries()) {
    expect(found[k]).toMatchObject({ kind: 'passes', direction });
    expect(abs(found[k].opens - opens)).toBeLessThanOrEqual(4);
    expect(abs(found[k].closes - closes)).toBeLessThanOrEqual(4);
    expect(abs(found[k].speed / (width / (closes - opens)) - 1)).toBeLessThan(0.1);
    expect(abs(found[k].covers - min(1, wide / width))).toBeLessThan(0.2);
    expect(found[k].unsteady).toBeLessThan(0.06);
  }
});

/** A thing of half the height that wanders through again and again. */
const small: Layer = (x, y, frame) =>
  y > 25 && abs(x - ((frame * 0.85) % 130)) < 7 ? 60 + 5 * ((x + y) % 7) : null;

test('panned, flickering and beside smaller things it is found; these alone are not, nor a cut', () => {
  const found = looked(330, [small, passing(150, 200, 60, 1)], { pan: 0.25, flicker: 0.05 });
  expect(found.map(({ kind, direction }) => [kind, direction])).toEqual([['passes', 1]]);
  expect(looked(330, [small], { pan: 0.25, flicker: 0.05 })).toEqual([]);
  const other = texture(99, 6);
  expect(looked(300, [(x, y, frame) => (frame >= 150 ? other(x, y) : null)])).toEqual([]);
});

test('a door that swings open is found where it does, and a light that is switched on opens nothing', () => {
  const own = texture(41, 5);
  const door: Layer = (x, y, frame) => {
    const share = min(1, max(0, (frame - 160) / 40));
    return x > 30 && x < 70 - 40 * share && y > 7 ? own((x - 30) / (1.001 - share) + 30, y) : null;
  };
  const found = looked(360, [door]);
  expect(found.map(({ kind, direction }) => [kind, direction])).toEqual([['opens', -1]]);
  expect(abs(found[0].opens - 160)).toBeLessThanOrEqual(8);
  expect(abs(found[0].closes - 200)).toBeLessThanOrEqual(8);
  const ground = texture(3, 7);
  const light: Layer = (x, y, frame) => (frame > 150 ? min(255, 60 + ground(x, y)) : null);
  expect(looked(300, [light])).toEqual([]);
});
