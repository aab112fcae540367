/** The value below which so large a share of the values lies, one of them; 0 of none. */
export function quantile(values: ArrayLike<number>, share: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}

/** The middle one of the values, the upper of two; 0 of none. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}
