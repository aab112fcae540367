/**
 * A smooth series near a given one: minimises Σ(s−p)² + λ·Σ(second difference of s)². Graduation after Whittaker
 * (1923); the five-banded system is solved by elimination.
 *
 * @param lambda 0 or more; 0 gives the series back.
 */
export function whittaker(series: ArrayLike<number>, lambda: number): Float64Array {
  const n = series.length;
  const s = Float64Array.from(series);
  if (n < 3 || lambda === 0) return s;
  // Bands of I + λ·DᵀD: main, first and second above it.
  const main = new Float64Array(n).fill(1);
  const above = new Float64Array(n);
  const above2 = new Float64Array(n);
  for (let i = 0; i + 2 < n; i++) {
    main[i] += lambda;
    main[i + 1] += 4 * lambda;
    main[i + 2] += lambda;
    above[i] -= 2 * lambda;
    above[i + 1] -= 2 * lambda;
    above2[i] += lambda;
  }
  // LDLᵀ of a symmetric matrix with two bands.
  const l1 = new Float64Array(n);
  const l2 = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    if (i > 0) main[i] -= l1[i - 1] * l1[i - 1] * main[i - 1];
    if (i > 1) main[i] -= l2[i - 2] * l2[i - 2] * main[i - 2];
    if (i + 1 < n) l1[i] = (above[i] - (i > 0 ? l1[i - 1] * l2[i - 1] * main[i - 1] : 0)) / main[i];
    if (i + 2 < n) l2[i] = above2[i] / main[i];
  }
  for (let i = 0; i < n; i++) {
    if (i > 0) s[i] -= l1[i - 1] * s[i - 1];
    if (i > 1) s[i] -= l2[i - 2] * s[i - 2];
  }
  for (let i = 0; i < n; i++) s[i] /= main[i];
  for (let i = n - 1; i >= 0; i--) {
    if (i + 1 < n) s[i] -= l1[i] * s[i + 1];
    if (i + 2 < n) s[i] -= l2[i] * s[i + 2];
  }
  return s;
}
