import { distanceToLine, goesRound } from './polyline';

test('distances to an open and a closed line are those to its sides and ends', () => {
  const corner = [0, 0, 10, 0, 10, 10];
  expect(distanceToLine(5, 3, corner, false)).toBe(3);
  // Beyond an end the end counts; closed, the third side (from 10, 10 back to 0, 0) is nearer.
  expect(distanceToLine(-3, -4, corner, false)).toBe(5);
  expect(distanceToLine(3, 7, corner, false)).toBe(7);
  expect(distanceToLine(3, 7, corner, true)).toBeCloseTo(4 / Math.SQRT2, 12);
  expect(distanceToLine(3, 7, [1, 1], false)).toBe(Infinity);
});

test('a closed line goes round places by the even-odd rule', () => {
  const twice = [0, 0, 10, 0, 10, 10, 0, 10, 0, 0, 8, 2, 8, 8, 2, 8];
  expect([1, 5, 11].map((x) => goesRound([0, 0, 10, 0, 10, 10, 0, 10], x, 5))).toEqual([true, true, false]);
  // What is gone round twice lies outside.
  expect([goesRound(twice, 7, 5), goesRound(twice, 9, 5)]).toEqual([false, true]);
});
