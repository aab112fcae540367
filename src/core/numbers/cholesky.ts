/** Solves the symmetric positive definite h x = g (upper triangle given, n × n) by Cholesky's method. */
export function solved(h: Float64Array, g: Float64Array, n: number): Float64Array {
  const l = new Float64Array(n * n);
  for (let r = 0; r < n; r++)
    for (let c = 0; c <= r; c++) {
      let sum = h[n * c + r];
      for (let k = 0; k < c; k++) sum -= l[n * r + k] * l[n * c + k];
      l[n * r + c] = r === c ? Math.sqrt(Math.max(sum, 1e-12)) : sum / l[n * c + c];
    }
  const x = Float64Array.from(g);
  for (let r = 0; r < n; r++) {
    for (let k = 0; k < r; k++) x[r] -= l[n * r + k] * x[k];
    x[r] /= l[n * r + r];
  }
  for (let r = n - 1; r >= 0; r--) {
    for (let k = r + 1; k < n; k++) x[r] -= l[n * k + r] * x[k];
    x[r] /= l[n * r + r];
  }
  return x;
}
