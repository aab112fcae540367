import { confidenceBetween, unsureFrom } from './confidence';
import { likelyErrors } from './likely-errors';
import { LoopModel } from './line-model';
import type { RunSight } from './run-state';

const count = 80;

/** What a frame said of a run whose places from `lost` on are spread and doubtful. */
function sight(lost: number, seenTo = count): RunSight {
  const each = (sure: number, not: number) =>
    Float64Array.from({ length: count }, (_, i) => (i < lost ? sure : not));
  return {
    belief: { mean: new Float64Array(count), variance: each(0.05, 2), doubt: each(0, 0.4) },
    behindError: new Float32Array(count).fill(2),
    objectError: new Float32Array(count).fill(2),
    misfit: new Float32Array(count).fill(1),
    reach: 20,
    seen: Uint8Array.from({ length: count }, (_, i) => (i < seenTo ? 1 : 0)),
    softness: { sigma: 1, shutter: 0 },
    speed: 4,
  };
}

test('a place that is lost may be anywhere; what was unsure on the way counts on, but little', () => {
  const steps = likelyErrors([[sight(60)], [sight(60)], [sight(count)]]);
  expect(steps[0][0][10]).toBeLessThan(0.2);
  expect(steps[0][0][70]).toBeGreaterThan(20);
  expect(steps[2][0][70]).toBeLessThan(0.3);
  expect(steps[2][0][70]).toBeGreaterThan(steps[2][0][10]);
});

test('between two poses a frame is unsure where one place in twenty may be off, and only what is in the picture counts', () => {
  const off = (from: number) => [Float64Array.from({ length: count }, (_, i) => (i < from ? 0.3 : 12))];
  const none = [new Float64Array(count)];
  expect(confidenceBetween([sight(count)], off(count), none)).toMatchObject({ reason: null });
  const unsure = confidenceBetween([sight(60)], off(60), [new Float64Array(count).fill(5)]);
  expect(unsure.doubt).toBeGreaterThan(unsureFrom);
  expect(unsure.reason).toBe('alike');
  expect(unsure.places[0][70]).toBeCloseTo(12, 6);
  expect(confidenceBetween([sight(60, 50)], off(60), none).doubt).toBeLessThan(unsureFrom);
  expect(confidenceBetween([sight(60, 2)], off(0), none)).toMatchObject({ doubt: 0, reason: null });
});

test('a loop has as many places on a side as it needs on the longer of two poses', () => {
  const box = (width: number): [number, number][] => [
    [0, 0],
    [width, 0],
    [width, 200],
    [0, 200],
  ];
  const narrow = LoopModel.around(box(20), 4);
  const dense = narrow.denseFor(narrow.through(box(400)));
  expect(narrow.runs.map(({ line }) => line.count)).toEqual([5, 50, 5, 50]);
  expect(dense.runs.map(({ line }) => line.count)).toEqual([100, 50, 100, 50]);
  expect(dense.points()).toEqual(narrow.points());
  expect(dense.through(box(400)).runs[0].line.count).toBe(100);
});
