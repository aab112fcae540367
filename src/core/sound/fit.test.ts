import { fitSweep, passageOf } from './fit';
import { make } from './makers';

test('a sweep is as long as the edge is in the picture, and loudest where it is fastest', () => {
  const coverage = Array.from({ length: 60 }, (_, n) => 1 / (1 + Math.exp(-(n - 35) / 2.5)));
  const passage = passageOf(coverage)!;
  expect(passage.fastest).toBeGreaterThanOrEqual(35);
  expect(passage.fastest).toBeLessThanOrEqual(36);
  const { start, length, loudestAt } = fitSweep(passage, { num: 25, den: 1 });
  const [left] = make({
    maker: 'air sweep',
    length,
    height: 0,
    brightness: 50,
    loudestAt,
    seed: 1,
  });
  // The loudest 40 ms by power.
  let [best, at] = [0, 0];
  for (let i = 0; i + 1920 < length; i += 480) {
    let power = 0;
    for (let k = i; k < i + 1920; k++) power += left[k] ** 2;
    if (power > best) [best, at] = [power, i + 960];
  }
  expect(Math.abs((start + at) / 1920 - 35.5)).toBeLessThan(2.5);
  expect(start / 1920).toBeGreaterThan(passage.first - 4);
  expect((start + length) / 1920).toBeLessThan(passage.last + 5);
});

test('where nothing is ever partly covered there is no passage', () => {
  expect(passageOf([0, 0, 1, 1])).toBeNull();
  expect(passageOf([])).toBeNull();
});
