import { seeded } from '../random';
import { chainBelief, evenOffsets } from './chain';

/** Marginals by going through every course of the chain: what the dynamic programming must come to. */
function bruteForce(costs: Float32Array, count: number, offsets: number, stiffness: number, leap: number) {
  const kernel = (k: number) => {
    let whole = 0;
    const reach = Math.min(offsets - 1, Math.ceil(4 * stiffness));
    for (let j = -reach; j <= reach; j++) whole += Math.exp(-0.5 * (j / stiffness) ** 2);
    const near = Math.abs(k) <= reach ? Math.exp(-0.5 * (k / stiffness) ** 2) / whole : 0;
    return (1 - leap) * near + leap / offsets;
  };
  const marginals = new Float64Array(count * offsets);
  const course = new Array<number>(count).fill(0);
  for (let n = 0; n < offsets ** count; n++) {
    for (let i = 0, rest = n; i < count; i++, rest = Math.floor(rest / offsets)) course[i] = rest % offsets;
    let p = 1;
    for (let i = 0; i < count; i++) {
      p *= Math.exp(-costs[i * offsets + course[i]]);
      if (i > 0) p *= kernel(course[i] - course[i - 1]);
    }
    for (let i = 0; i < count; i++) marginals[i * offsets + course[i]] += p;
  }
  return marginals;
}

test('the belief along a line is that of all its courses together, one by one', () => {
  const random = seeded(3);
  const [count, offsets] = [5, 5];
  for (let round = 0; round < 6; round++) {
    const costs = Float32Array.from({ length: count * offsets }, () => 4 * random());
    const { mean, variance } = chainBelief(costs, count, offsets, 1, { stiffness: 0.9, leap: 0.1 });
    const marginals = bruteForce(costs, count, offsets, 0.9, 0.1);
    for (let i = 0; i < count; i++) {
      const own = Array.from(marginals.subarray(i * offsets, (i + 1) * offsets));
      const whole = own.reduce((sum, p) => sum + p, 0);
      const best = own.indexOf(Math.max(...own));
      // Mean and variance are taken within 3 px of the likeliest.
      const near = own.map((p, k) => (Math.abs(k - best) <= 3 ? p : 0));
      const sum = near.reduce((all, p) => all + p, 0);
      const first = near.reduce((all, p, k) => all + p * (k - 2), 0) / sum;
      const second = near.reduce((all, p, k) => all + p * (k - 2) ** 2, 0) / sum;
      expect(whole).toBeGreaterThan(0);
      expect(mean[i]).toBeCloseTo(first, 3);
      expect(variance[i]).toBeCloseTo(Math.max(0.02, second - first * first), 3);
    }
  }
});

test('places seen from centres of their own come to the same as places seen from one', () => {
  const random = seeded(9);
  const [count, wide, narrow] = [12, 21, 9];
  // The edge runs slantwise: a window of 9 offsets about it holds what the window of 21 does.
  const edge = Float64Array.from({ length: count }, (_, i) => Math.round(i / 2) - 3);
  const cost = (i: number, at: number) => 1.2 * Math.abs(at - edge[i] - 0.3);
  const whole = new Float32Array(count * wide);
  const part = new Float32Array(count * narrow);
  for (let i = 0; i < count; i++) {
    const noise = Array.from({ length: wide }, () => 0.2 * random());
    for (let k = 0; k < wide; k++) whole[i * wide + k] = cost(i, k - 10) + noise[k];
    for (let k = 0; k < narrow; k++) part[i * narrow + k] = whole[i * wide + k - 4 + edge[i] + 10];
  }
  const settings = { stiffness: 1, leap: 0.001 };
  const a = chainBelief(whole, count, wide, 1, settings);
  const b = chainBelief(part, count, narrow, 1, settings, edge);
  for (let i = 0; i < count; i++) expect(b.mean[i]).toBeCloseTo(a.mean[i], 1);
});

test('an unsure place goes along with its sure neighbours', () => {
  const mean = Float64Array.from({ length: 21 }, (_, i) => (i === 10 ? 9 : 0.2 * i));
  const variance = Float64Array.from({ length: 21 }, (_, i) => (i === 10 ? 30 : 0.05));
  const even = evenOffsets({ mean, variance, doubt: new Float64Array(21) }, 0.35);
  expect(even[10]).toBeGreaterThan(1.7);
  expect(even[10]).toBeLessThan(2.6);
  expect(even[3]).toBeCloseTo(0.6, 1);
});
