import { Bezier } from 'bezier-js';
import { firstKeyFrom, type Key, numberAt, placeAmong, shareOfWay } from './track';

interface Level extends Key {
  value: number;
}
const key = (frame: number, value: number, onward: Key['onward'] = 'linear', ease?: Key['ease']): Level => ({
  ...{ frame, value, onward, ease },
});
const at = (keys: Level[], moment: number) => numberAt(keys, moment, ({ value }) => value);

test('a moment is before, on, between or after keys, and a value without keys is none', () => {
  const keys = [key(4, 1), key(10, 7), key(11, 0)];
  expect([3, 4, 7, 10, 12].map((moment) => placeAmong(keys, moment).where)).toEqual([
    ...['before', 'on', 'between', 'on', 'after'],
  ]);
  expect([-5, 4, 10, 11, 99].map((frame) => firstKeyFrom(keys, frame))).toEqual([0, 0, 1, 2, 3]);
  expect([-9, 4, 5.5, 10, 10.25, 30].map((moment) => at(keys, moment))).toEqual([1, 1, 2.5, 7, 5.25, 0]);
  expect(at([], 3)).toBeNull();
  expect(at([key(4, 9)], 400)).toBe(9);
});

test('hold stays until the next key; smooth never overshoots, and has no kink at a key', () => {
  expect([4, 6, 9.99, 10].map((m) => at([key(4, 1, 'hold'), key(10, 7)], m))).toEqual([1, 1, 1, 7]);
  const keys = [0, 3, 4, 9, 15].map((frame, k) => key(frame, [0, 2, 8, 8, 1][k], 'smooth'));
  for (let m = 0; m <= 15; m += 0.05) {
    const value = at(keys, m)!;
    const next = keys[Math.min(4, firstKeyFrom(keys, m))];
    const before = keys[Math.max(0, firstKeyFrom(keys, m) - 1)];
    expect(value).toBeGreaterThanOrEqual(Math.min(before.value, next.value) - 1e-9);
    expect(value).toBeLessThanOrEqual(Math.max(before.value, next.value) + 1e-9);
  }
  for (const frame of [3, 4, 9]) {
    const slope = (side: number) => (at(keys, frame + side)! - at(keys, frame)!) / side;
    expect(slope(1e-5)).toBeCloseTo(slope(-1e-5), 3);
  }
});

test('eased with free handles goes along its Bézier (W3C, CSS Easing Functions Level 1; by bezier-js)', () => {
  const handles = [0.1, 0.9, 0.8, -0.4] as const;
  const curve = new Bezier(0, 0, handles[0], handles[1], handles[2], handles[3], 1, 1);
  const keys = [key(10, 100, 'eased', handles), key(60, 300)];
  for (let k = 0; k <= 50; k++) {
    const { x, y } = curve.get(k / 50);
    expect(at(keys, 10 + 50 * x)).toBeCloseTo(100 + 200 * y, 6);
  }
  // Without handles: ease-in-out.
  const usual = new Bezier(0, 0, 0.42, 0, 0.58, 1, 1, 1).get(0.3);
  expect(shareOfWay(key(0, 0, 'eased'), usual.x)).toBeCloseTo(usual.y, 6);
});
