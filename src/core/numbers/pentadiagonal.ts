/**
 * Solves a symmetric positive definite system with two bands beside its diagonal by LDLᵀ (Golub and Van Loan, Matrix
 * Computations, 4th edition, §4.3.6; from memory).
 *
 * @param diagonal n numbers. @param one, two the bands above it: what row i has in columns i + 1 and i + 2.
 * @param x takes the solution, and may be `right`.
 */
export function pentadiagonal(
  diagonal: Float64Array,
  one: Float64Array,
  two: Float64Array,
  right: Float64Array,
  x: Float64Array,
): void {
  const n = diagonal.length;
  const d = new Float64Array(n);
  const l = new Float64Array(n);
  const m = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    d[i] = diagonal[i];
    let off = one[i];
    if (i >= 1) {
      d[i] -= l[i - 1] * l[i - 1] * d[i - 1];
      off -= l[i - 1] * d[i - 1] * m[i - 1];
    }
    if (i >= 2) d[i] -= m[i - 2] * m[i - 2] * d[i - 2];
    l[i] = off / d[i];
    m[i] = two[i] / d[i];
  }
  for (let i = 0; i < n; i++) {
    x[i] = right[i];
    if (i >= 1) x[i] -= l[i - 1] * x[i - 1];
    if (i >= 2) x[i] -= m[i - 2] * x[i - 2];
  }
  for (let i = 0; i < n; i++) x[i] /= d[i];
  for (let i = n - 1; i >= 0; i--) {
    if (i + 1 < n) x[i] -= l[i] * x[i + 1];
    if (i + 2 < n) x[i] -= m[i] * x[i + 2];
  }
}
