import { numbersPerPoint as N } from '../model/choices';
import { flattenOutline } from '../outline';
import { fitOutline } from './fit-curve';
import { type Cubic, pointAt } from './bezier';

/** The farthest that a drawn point lies from the fitted line, px. */
function farthest(drawn: readonly number[], coordinates: readonly number[], closed: boolean): number {
  const flat = [...flattenOutline(coordinates, closed, 1, 0.01)];
  const line = closed ? [...flat, flat[0], flat[1]] : flat;
  let worst = 0;
  for (let i = 0; i < drawn.length; i += 2) {
    let nearest = Infinity;
    for (let k = 0; k + 3 < line.length; k += 2) {
      const [ax, ay, bx, by] = [line[k], line[k + 1], line[k + 2], line[k + 3]];
      const [dx, dy] = [bx - ax, by - ay];
      const t = Math.min(
        1,
        Math.max(0, ((drawn[i] - ax) * dx + (drawn[i + 1] - ay) * dy) / (dx * dx + dy * dy || 1)),
      );
      nearest = Math.min(nearest, Math.hypot(ax + t * dx - drawn[i], ay + t * dy - drawn[i + 1]));
    }
    worst = Math.max(worst, nearest);
  }
  return worst;
}

const along = (count: number, at: (t: number) => [number, number]) =>
  Array.from({ length: count }, (_, k) => at(k / (count - 1))).flat();

test('a Bézier that was drawn comes back with its ends and at most one point more', () => {
  const cubic: Cubic = [100, 40, 180, 130, 20, 300, 140, 420];
  const drawn = along(120, (t) => pointAt(cubic, t));
  const fitted = fitOutline(drawn, 1, false);
  expect(fitted.length / N).toBeLessThanOrEqual(3);
  expect(farthest(drawn, fitted, false)).toBeLessThanOrEqual(1);
  expect(fitted.slice(0, 2)).toEqual([100, 40]);
  expect(fitted.slice(-N, -N + 2)).toEqual([140, 420]);
});

test.each([0.5, 1.5, 4])(
  'a line along a back stays within %s px, and a wider tolerance takes fewer points',
  (tolerance) => {
    const back = along(240, (t) => [300 + 40 * Math.sin(7 * t) + 12 * Math.sin(23 * t), 700 * t]);
    const fitted = fitOutline(back, tolerance, false);
    expect(farthest(back, fitted, false)).toBeLessThanOrEqual(tolerance * 1.05);
    expect(fitted.length / N).toBeLessThan({ 0.5: 24, 1.5: 16, 4: 12 }[tolerance]!);
  },
);

test('a circle takes few points, a rectangle four corners', () => {
  const circle = along(200, (t) => [400 + 150 * Math.cos(6.2 * t), 300 + 150 * Math.sin(6.2 * t)]);
  const round = fitOutline(circle, 1, true);
  expect(round.length / N).toBeLessThanOrEqual(6);
  expect(farthest(circle, round, true)).toBeLessThan(1.1);
  const side = (from: [number, number], to: [number, number]) =>
    along(40, (t) => [from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t]);
  const door = [
    ...side([100, 50], [260, 50]),
    ...side([260, 50], [260, 400]),
    ...side([260, 400], [100, 400]),
    ...side([100, 400], [100, 54]),
  ];
  const square = fitOutline(door, 1, true);
  expect(square.length / N).toBe(4);
  expect(farthest(door, square, true)).toBeLessThan(1.1);
});

test('too little to be a line gives nothing; jitter of the hand is passed over', () => {
  expect(fitOutline([5, 5], 1, false)).toEqual([]);
  expect(fitOutline([5, 5, 5.1, 5.1], 1, false)).toEqual([]);
  let state = 5;
  const jitter = () => ((state = (state * 48271) % 2147483647) / 2147483647 - 0.5) * 1.6;
  const shaky = along(150, (t) => [200 + 60 * t + jitter(), 600 * t + jitter()]);
  expect(fitOutline(shaky, 1.5, false).length / N).toBeLessThanOrEqual(4);
});
