import { type Affine, applyAffine, compose, identity, invert } from './affine';
import { bestSimilarity } from './similarity';

const turnAndShift: Affine = [0, 2, -2, 0, 30, -7];

test('composition applies the second map after the first, and the inverse undoes it', () => {
  const shear: Affine = [1, 0.25, 0.5, 1, 3, 4];
  for (const [x, y] of [
    [0, 0],
    [11, -3],
    [-200.5, 47],
  ]) {
    const step = applyAffine(shear, x, y);
    expect(applyAffine(compose(turnAndShift, shear), x, y)).toEqual(applyAffine(turnAndShift, ...step));
    applyAffine(compose(invert(shear), shear), x, y).forEach((value, i) =>
      expect(value).toBeCloseTo([x, y][i], 9),
    );
  }
  expect(compose(identity, turnAndShift)).toEqual([...turnAndShift]);
  expect(() => invert([1, 2, 2, 4, 0, 0])).toThrow(RangeError);
});

test('the best similarity recovers turn, scale and centres exactly, and the least-squares one under noise', () => {
  const points = [0, 0, 80, 10, 60, 90, -20, 70, 33, 41];
  const turn = 0.7;
  const scale = 1.3;
  const move = (x: number, y: number) => [
    scale * (Math.cos(turn) * x - Math.sin(turn) * y) + 12,
    scale * (Math.sin(turn) * x + Math.cos(turn) * y) - 5,
  ];
  const moved = points.flatMap((x, i) => (i % 2 ? [] : move(x, points[i + 1])));
  const found = bestSimilarity(points, moved, 2);
  expect(found.turn).toBeCloseTo(turn, 9);
  expect(found.scale).toBeCloseTo(scale, 9);
  const noisy = moved.map((value, i) => value + [0.4, -0.7, 0.2, 0.5, -0.6][i % 5]);
  const error = (s: typeof found) =>
    points.reduce((sum, x, i) => {
      if (i % 2) return sum;
      const [px, py] = [x - s.fromX, points[i + 1] - s.fromY];
      const qx = s.toX + s.scale * (Math.cos(s.turn) * px - Math.sin(s.turn) * py);
      const qy = s.toY + s.scale * (Math.sin(s.turn) * px + Math.cos(s.turn) * py);
      return sum + (qx - noisy[i]) ** 2 + (qy - noisy[i + 1]) ** 2;
    }, 0);
  const best = bestSimilarity(points, noisy, 2);
  for (const change of [
    { turn: best.turn + 0.003 },
    { turn: best.turn - 0.003 },
    { scale: best.scale * 1.004 },
    { toX: best.toX + 0.1 },
  ]) {
    expect(error({ ...best, ...change })).toBeGreaterThan(error(best));
  }
  // All points in one place have no direction: nothing is turned.
  expect(bestSimilarity([5, 5, 5, 5], [9, 9, 9, 9], 2)).toMatchObject({ turn: 0, scale: 1 });
});
