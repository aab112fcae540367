import { pentadiagonal } from './pentadiagonal';

/**
 * A smooth series near a given one: minimises Σ(s−p)² + λ·Σ(second difference of s)². Graduation after Whittaker
 * (1923); the system has two bands beside its diagonal.
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
  pentadiagonal(main, above, above2, Float64Array.from(series), s);
  return s;
}
