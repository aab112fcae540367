import { heldToArrivals } from './arrivals';
import type { Witness } from './course';

const [frames, places] = [12, 30];
const witness = (offset: (t: number, i: number) => number): Witness => ({
  offsets: Array.from({ length: frames }, (_, t) =>
    Float64Array.from({ length: places }, (_, i) => offset(t, i)),
  ),
  errors: Array.from({ length: frames }, () => new Float64Array(places).fill(0.5)),
});
const right = () => witness(() => 0);
/** Lost from frame 3 on at places 10 to 20, farther and farther. */
const drifts = () => witness((t, i) => (t > 3 && i >= 10 && i <= 20 ? 5 * (t - 3) : 0));
/** The same, followed from the other end. */
const driftsBack = () => witness((t, i) => (t < 8 && i >= 10 && i <= 20 ? 5 * (8 - t) : 0));

test('a direction that misses where the other arrives is off by what they are apart, only there', () => {
  const [forward, back] = heldToArrivals(drifts(), right());
  expect(back.errors).toEqual(right().errors);
  expect(forward.errors[9][15]).toBeCloseTo(Math.hypot(0.5, 30), 6);
  expect(forward.errors[3][15]).toBeCloseTo(0.5, 6);
  expect(forward.errors[9][4]).toBeCloseTo(0.5, 6);
  // From the other end alike.
  const [on, home] = heldToArrivals(right(), driftsBack());
  expect(on.errors).toEqual(right().errors);
  expect(home.errors[2][15]).toBeCloseTo(Math.hypot(0.5, 30), 6);
});

test('where both miss, or both arrive, nothing is held against either', () => {
  const [forward, back] = heldToArrivals(drifts(), driftsBack());
  expect(forward.errors).toEqual(right().errors);
  expect(back.errors).toEqual(right().errors);
  const wavers = witness((t) => (t > 4 && t < 8 ? 9 : 1));
  expect(heldToArrivals(wavers, right()).map(({ errors }) => errors)).toEqual([
    right().errors,
    right().errors,
  ]);
});
