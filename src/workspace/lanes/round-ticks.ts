/** Round frame numbers, eight to twelve of them. */
export function roundTicks(length: number): number[] {
  const step =
    [1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2500, 5000, 10000].find(
      (each) => length / each <= 12,
    ) ?? 25000;
  return Array.from({ length: Math.ceil(length / step) }, (_, k) => k * step);
}
