import { type OutlineRow, plainEdge, plainOutline } from '../document/tables';
import type { Combine } from '../model/choices';
import { MatteScratch, meanAlpha } from './matte';
import { drawOutlines, type PosedOutline } from './outline-matte';

const [width, height] = [120, 80];
const scratch = new MatteScratch();
const rectangle = (x0: number, y0: number, x1: number, y1: number) =>
  [x0, y0, x1, y0, x1, y1, x0, y1].flatMap((value, i, all) =>
    i % 2 === 0 ? [value, all[i + 1], 0, 0, 0, 0] : [],
  );
const posed = (
  combine: Combine,
  coordinates: number[],
  exposures: number[][] = [],
  edge: Partial<OutlineRow> = {},
): PosedOutline => ({
  outline: {
    ...{
      ...plainOutline,
      id: 'o',
      layerId: 'l',
      cutsLayerId: null,
      name: 'o',
      kind: 'loop',
      sweptSide: 'left',
    },
    ...{ position: 0, points: ['a', 'b', 'c', 'd'], combine },
  },
  edge: { ...plainEdge, ...edge },
  coordinates,
  exposures,
});
function drawn(outlines: PosedOutline[], full = false, scale = 1): Uint8Array {
  const out = new Uint8Array(Math.round(width * scale) * Math.round(height * scale)).fill(9);
  drawOutlines(
    outlines,
    full ? 'full' : 'empty',
    { scale, width: Math.round(width * scale), height: Math.round(height * scale), scratch },
    out,
  );
  return out;
}
const whole = width * height;
const area = (out: Uint8Array) => meanAlpha(out) * whole;

test('outlines add to, take from and keep only what those before them cut', () => {
  const [a, b] = [rectangle(10, 10, 60, 60), rectangle(40, 20, 90, 50)];
  const [own, other, both] = [50 * 50, 50 * 30, 20 * 30];
  expect(area(drawn([posed('add', a), posed('add', b)]))).toBeCloseTo(own + other - both, 0);
  expect(area(drawn([posed('add', a), posed('take away', b)]))).toBeCloseTo(own - both, 0);
  expect(area(drawn([posed('add', a), posed('keep only', b)]))).toBeCloseTo(both, 0);
  // In order: what is added after it was taken away is there.
  expect(area(drawn([posed('add', a), posed('take away', b), posed('add', b)]))).toBeCloseTo(
    own + other - both,
    0,
  );
  // With all cut to begin with, a hand is held in.
  expect(area(drawn([posed('take away', b)], true))).toBeCloseTo(whole - other, 0);
  expect(area(drawn([posed('keep only', b)]))).toBe(0);
});

test('motion blur is the mean over the shutter: a moving edge becomes a ramp as wide as its way', () => {
  const steps = 24;
  const way = 12;
  const exposures = Array.from({ length: steps }, (_, k) =>
    rectangle(-50, -50, 60 + (way * (k + 0.5)) / steps, 200),
  );
  const out = drawn([posed('add', rectangle(-50, -50, 66, 200), exposures)]);
  // The area under a box that slides: linear from full to nothing.
  for (let x = 52; x < 80; x++) {
    const left = Math.min(1, Math.max(0, (72 - x) / way));
    const right = Math.min(1, Math.max(0, (72 - (x + 1)) / way));
    expect(Math.abs(out[30 * width + x] - (255 * (left + right)) / 2)).toBeLessThan(4);
  }
  expect(area(out)).toBeCloseTo(area(drawn([posed('add', rectangle(-50, -50, 66, 200))])), -1);
});

test.each([1, 0.47, 0.33, 1])(
  'at %d of the size the mean is that of the mattes, each drawn alone',
  (scale) => {
    const shapes = [0, 7, 19, 40].map((x) => rectangle(x + 3.3, 8.2, x + 52.7, 71.9));
    for (const edge of [{}, { featherInside: 9, featherOutside: 4, spread: 1 }]) {
      const mean = drawn([posed('add', shapes[0], shapes, edge)], false, scale);
      const stride = Math.max(1, Math.floor(1 / scale));
      const alone = shapes
        .filter((_, k) => k % stride === 0)
        .map((shape) => drawn([posed('add', shape, [], edge)], false, scale));
      const off = mean.map((alpha, i) => {
        const sum = alone.reduce((total, matte) => total + matte[i], 0);
        return Math.abs(alpha - sum / alone.length) > 0.5 ? 1 : 0;
      });
      expect(off.indexOf(1)).toBe(-1);
    }
  },
);

test('mattes of another shape are summed right after wide ones', () => {
  // Narrow and tall: fewer runs to the row, but more rows than the sums were made for.
  const own = new MatteScratch();
  const mean = (w: number, h: number) => {
    const out = new Uint8Array(w * h);
    const shapes = [0, 4].map((y) => rectangle(-9, h / 2 + y, w + 9, h + 9));
    drawOutlines(
      [posed('add', shapes[0], shapes)],
      'empty',
      { scale: 1, width: w, height: h, scratch: own },
      out,
    );
    return meanAlpha(out) * h;
  };
  expect(mean(1280, 20)).toBeCloseTo(8, 1);
  expect(mean(50, 400)).toBeCloseTo(198, 1);
});

test('round corners cut the corner’s area off: four times 1 − π/4 of the radius squared', () => {
  const round = drawn([posed('add', rectangle(10, 10, 90, 70), [], { roundness: 20 })]);
  expect(Math.abs(area(round) - (80 * 60 - (4 - Math.PI) * 400))).toBeLessThan(3);
  // At half the size the same share of the frame is covered.
  expect(
    meanAlpha(drawn([posed('add', rectangle(10, 10, 90, 70), [], { roundness: 20 })], false, 0.5)),
  ).toBeCloseTo(meanAlpha(round), 3);
});
