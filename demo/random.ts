/** Uniform numbers in 0 to 1 from a seed: the same everywhere (mulberry32, public domain, T. Ettinger 2017). */
export type Random = () => number;

export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

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
