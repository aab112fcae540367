/** Means over `near` neighbours to either side. */
export function movingMean(values: Float64Array, near: number): Float64Array {
  const sums = new Float64Array(values.length + 1);
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i] + values[i];
  return values.map((_, i) => {
    const [a, b] = [Math.max(0, i - near), Math.min(values.length, i + near + 1)];
    return (sums[b] - sums[a]) / (b - a);
  });
}
