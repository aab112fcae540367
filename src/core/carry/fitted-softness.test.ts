import { seeded } from '../random';
import { objectShare, widthOfSoftness, type EdgeSoftness } from '../edge/softness-profile';
import type { StraightPicture } from '../edge/straight';
import { fittedSoftness } from './fitted-softness';

const [count, reach] = [120, 40];
const across = 2 * reach + 1;

type Colour = readonly [y: number, u: number, v: number];
const cloth = (i: number): Colour => [70 + 12 * Math.sin(0.3 * i), 140, 112];
const ground = (i: number, far: number): Colour => [
  170 + 30 * Math.sin(0.2 * i + 0.09 * far) * Math.cos(0.05 * far - i),
  120,
  134,
];

function strip(colourAt: (i: number, far: number) => Colour, noise = 0): StraightPicture {
  const random = seeded(7);
  const [y, u, v] = [0, 1, 2].map(() => new Float32Array(count * across));
  for (let i = 0, s = 0; i < count; i++)
    for (let m = 0; m < across; m++, s++)
      [y[s], u[s], v[s]] = colourAt(i, m - reach).map((value) => value + noise * (random() - 0.5));
  return { count, across, from: -reach, step: 1, y, u, v };
}

/** An edge of the cloth before the ground. @param light of the ground so many px outward. @param limb places that go at another pace. */
function edge(softness: EdgeSoftness, pace: number, light = (_far: number) => 1, limb = (_i: number) => 1) {
  return strip((i, far) => {
    const share = objectShare(softness, pace * limb(i), far);
    const [o, g] = [cloth(i), ground(i, far)];
    const zero = [16, 128, 128];
    return [0, 1, 2].map(
      (c) => share * o[c] + (1 - share) * (zero[c] + light(far) * (g[c] - zero[c])),
    ) as unknown as Colour;
  }, 8);
}

const speed = (pace: number) => new Float64Array(count).fill(pace);

test.each([
  ['sharp', { sigma: 0.8, shutter: 0 }, -20],
  ['out of focus', { sigma: 5, shutter: 0 }, -20],
  ['smeared', { sigma: 0.8, shutter: 0.45 }, -50],
  ['both', { sigma: 4, shutter: 0.3 }, -30],
])('an edge that is %s is found as wide as it is', (_, softness, pace) => {
  const found = fittedSoftness(edge(softness, pace), strip(ground), speed(pace));
  const [told, is] = [found, softness].map((each) => widthOfSoftness(each, pace));
  expect(Math.abs(told - is)).toBeLessThan(1 + 0.12 * is);
});

test('a shadow that goes along, and a limb that smears more, are no softness', () => {
  const softness = { sigma: 2, shutter: 0.3 };
  const width = widthOfSoftness(softness, -20);
  const shadow = (far: number) => 0.55 + 0.45 / (1 + Math.exp((26 - far) / 3));
  const shaded = fittedSoftness(edge(softness, -20, shadow), strip(ground), speed(-20));
  expect(Math.abs(widthOfSoftness(shaded, -20) - width)).toBeLessThan(2);
  const limb = (i: number) => (i > 40 && i < 70 ? 4 : 1);
  const swung = fittedSoftness(
    edge(softness, -20, () => 1, limb),
    strip(ground),
    speed(-20),
  );
  expect(Math.abs(widthOfSoftness(swung, -20) - width)).toBeLessThan(2);
});

test('it is told without what lies behind, and taken as usual where both sides look alike', () => {
  const softness = { sigma: 3.5, shutter: 0 };
  const alone = fittedSoftness(edge(softness, -20), null, speed(-20));
  expect(Math.abs(widthOfSoftness(alone, -20) - widthOfSoftness(softness, -20))).toBeLessThan(3);
  const alike = strip(() => [100, 128, 128]);
  expect(fittedSoftness(alike, alike, speed(-20))).toEqual({ sigma: 0.8, shutter: 0 });
});
