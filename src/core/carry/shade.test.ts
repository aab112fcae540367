import type { StraightPicture } from '../edge/straight';
import { unshadedWhereLeapt } from './leapt-places';
import { shadeOf } from './shade';

const [count, across] = [60, 30];

/** Grey samples from a line outward. */
function strip(value: (i: number, m: number) => number): StraightPicture {
  const y = new Float32Array(count * across).map((_, s) => 16 + value(Math.floor(s / across), s % across));
  const grey = new Float32Array(count * across).fill(128);
  return { count, across, from: 0, step: 1, y, u: grey, v: grey };
}

const bare = strip(() => 120);
const soft = new Float64Array(count).fill(3);

test('a shadow is kept as it falls off outward, and a limb that smears is none', () => {
  const fall = (m: number) => (m < 14 ? 0.6 : 1);
  // Places 20 to 29 smear a little of something dark over the first samples.
  const lit = strip((i, m) => 120 * fall(m) * (i >= 20 && i < 30 && m < 8 ? 0.9 : 1));
  const shade = shadeOf(lit, bare, null, soft);
  for (const i of [5, 25, 50]) {
    expect(shade[i * across + 5]).toBeCloseTo(0.6, 1);
    expect(shade[i * across + 20]).toBeCloseTo(1, 2);
  }
  // What is much darker there is a shadow of its own.
  const darker = shadeOf(
    strip((i) => (i >= 20 && i < 40 ? 50 : 120)),
    bare,
    null,
    soft,
  );
  expect(darker[30 * across + 5]).toBeLessThan(0.5);
  expect(darker[5 * across + 5]).toBeCloseTo(1, 2);
});

test('each place is looked at from beyond its own softness, and what leapt has no shadow yet', () => {
  const smeared = strip((i, m) => (i < 30 && m < 10 ? 40 : 120));
  const own = Float64Array.from({ length: count }, (_, i) => (i < 36 ? 11 : 3));
  const shade = shadeOf(smeared, bare, new Float32Array(count * across).fill(1), own);
  expect(Math.min(...shade)).toBeGreaterThan(0.98);
  const leaps = Float64Array.from({ length: count }, (_, i) => (i === 7 ? 40 : 0));
  const after = unshadedWhereLeapt(new Float32Array(count * across).fill(0.5), leaps);
  expect([after[7 * across], after[8 * across]]).toEqual([1, 0.5]);
});
