import { type Random, seeded } from '../src/core/random';

export { type Random, seeded };

export function between(random: Random, low: number, high: number): number {
  return low + (high - low) * random();
}

/** A table of numbers with mean 0 and standard deviation 1, for noise that is looked up instead of computed. */
export function gaussianTable(random: Random, length: number): Float32Array {
  const table = new Float32Array(length);
  for (let i = 0; i < length; i += 2) {
    const radius = Math.sqrt(-2 * Math.log(1 - random()));
    const angle = 2 * Math.PI * random();
    table[i] = radius * Math.cos(angle);
    if (i + 1 < length) table[i + 1] = radius * Math.sin(angle);
  }
  return table;
}
