import { type Random, seeded } from '../src/core/random';

export { type Random, seeded };

export function between(random: Random, low: number, high: number): number {
  return low + (high - low) * random();
}

/** A table of numbers with mean 0 and standard deviation 1, for noise that is looked up instead of computed. */
export function gaussianTable(random: Random, length: number): Float32Array {
  const table = new Float32Array(length);
  const { sqrt, log, cos, sin, PI } = Math;
  for (let i = 0; i < length; i += 2) {
    const radius = sqrt(-2 * log(1 - random()));
    const angle = 2 * PI * random();
    table[i] = radius * cos(angle);
    if (i + 1 < length) table[i + 1] = radius * sin(angle);
  }
  return table;
}
