import { seeded } from '../random';
import { solved } from './cholesky';
import { movingMean } from './moving-mean';
import { pentadiagonal } from './pentadiagonal';
import { median, quantile } from './quantile';

test('a system with two bands beside its diagonal is solved as the full one is', () => {
  const random = seeded(5);
  const n = 12;
  const [diagonal, one, two, right] = Array.from({ length: 4 }, () =>
    Float64Array.from({ length: n }, () => random() - 0.5),
  );
  for (let i = 0; i < n; i++) diagonal[i] = 3 + random();
  const full = new Float64Array(n * n);
  for (let i = 0; i < n; i++) {
    full[i * n + i] = diagonal[i];
    if (i + 1 < n) full[i * n + i + 1] = one[i];
    if (i + 2 < n) full[i * n + i + 2] = two[i];
  }
  const x = new Float64Array(n);
  pentadiagonal(diagonal, one, two, right, x);
  solved(full, right, n).forEach((value, i) => expect(x[i]).toBeCloseTo(value, 10));
});

test('quantiles are values that are there; the median is the upper of two middles', () => {
  expect([0, 0.25, 0.5, 0.99, 1].map((share) => quantile([40, 10, 30, 20], share))).toEqual([
    10, 20, 30, 40, 40,
  ]);
  expect([median([3, 1, 2]), median([4, 1, 3, 2]), median([])]).toEqual([2, 3, 0]);
});

test('a moving mean is that of the neighbours there are', () => {
  expect([...movingMean(Float64Array.of(1, 2, 3, 10), 1)]).toEqual([1.5, 2, 5, 6.5]);
  expect([...movingMean(Float64Array.of(1, 2, 3, 10), 9)]).toEqual([4, 4, 4, 4]);
});
