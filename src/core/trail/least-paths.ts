import type { EdgeField } from './edge-field';

/** What a step through a sample without an edge costs, and one along a strong edge, in whole numbers. */
const [dearest, cheapest] = [96, 4];
/** What is added for a step that goes across the edge's direction, where there is one. */
const acrossMore = 24;
/** Steps to the eight samples around: across, down, and their lengths. */
const [acrosses, downs] = [Int8Array.of(1, 1, 0, -1, -1, -1, 0, 1), Int8Array.of(0, 1, 1, 1, 0, -1, -1, -1)];
const lengths = Float64Array.from(acrosses, (dx, s) => Math.hypot(dx, downs[s]));

/** What a step into a sample costs: less the stronger its edge is, and the more it goes along it. */
export function stepCost(field: EdgeField, into: number, direction: number): number {
  const edge = field.strength[into];
  const slant = acrosses[direction] * field.nx[into] + downs[direction] * field.ny[into];
  const flat = cheapest + (1 - edge) * (dearest - cheapest);
  return (lengths[direction] * flat + edge * (slant < 0 ? -slant : slant) * acrossMore + 0.5) | 0;
}

/** More than any path costs. */
const unreached = 0x7fffffff;
/** As many buckets as costs of a step can differ by, and one for what is under way. */
const bucketCount = Math.ceil(Math.SQRT2 * (dearest + acrossMore)) + 2;

/**
 * The least-cost paths from one sample to others (Dijkstra 1959, with Dial's buckets of 1969, since costs are small whole
 * numbers), as Mortensen and Barrett (SIGGRAPH 1995) draw with them; worked out only as far as they are asked for (Falcão
 * et al. 2000), and then kept.
 */
export class LeastPaths {
  /** The step by which each sample is best reached; −1 for the first. */
  private readonly by: Int8Array;
  private readonly sums: Int32Array;
  private readonly done: Uint8Array;
  private readonly heads = new Int32Array(bucketCount).fill(-1);
  /** Each bucket is a list that runs both ways, so that a sample can leave it. */
  private readonly next: Int32Array;
  private readonly before: Int32Array;
  private readonly offsets: Int32Array;
  private sum = 0;

  /** @param from index of the sample from which they go. */
  constructor(
    private readonly field: EdgeField,
    readonly from: number,
  ) {
    const count = field.width * field.height;
    this.by = new Int8Array(count).fill(-1);
    this.sums = new Int32Array(count).fill(unreached);
    this.done = new Uint8Array(count);
    this.next = new Int32Array(count).fill(-1);
    this.before = new Int32Array(count).fill(-1);
    this.offsets = Int32Array.from(acrosses, (dx, s) => downs[s] * field.width + dx);
    this.sums[from] = 0;
    this.heads[0] = from;
  }

  /** What the best path to a sample costs. */
  costTo(sample: number): number {
    this.reach(sample);
    return this.sums[sample];
  }

  /** Indices of the samples on the best path, from the first to this one. */
  pathTo(sample: number): number[] {
    this.reach(sample);
    const path = [sample];
    for (let at = sample; this.by[at] >= 0;) {
      at -= this.offsets[this.by[at]];
      path.push(at);
    }
    return path.reverse();
  }

  /** Goes on from the nearest samples outward until this one's best path is known. */
  private reach(sample: number) {
    const { field, by, sums, done, heads, next, before, offsets } = this;
    const { width, height } = field;
    for (; !done[sample]; this.sum++) {
      const { sum } = this;
      const bucket = sum % bucketCount;
      for (let at = heads[bucket]; at !== -1; at = heads[bucket]) {
        heads[bucket] = next[at];
        if (next[at] !== -1) before[next[at]] = -1;
        done[at] = 1;
        const x = at % width;
        const y = (at - x) / width;
        for (let s = 0; s < 8; s++) {
          const i = x + acrosses[s];
          const j = y + downs[s];
          if (i < 0 || j < 0 || i >= width || j >= height) continue;
          const to = at + offsets[s];
          if (done[to]) continue;
          const through = sum + stepCost(field, to, s);
          if (through >= sums[to]) continue;
          if (sums[to] !== unreached) {
            if (before[to] === -1) heads[sums[to] % bucketCount] = next[to];
            else next[before[to]] = next[to];
            if (next[to] !== -1) before[next[to]] = before[to];
          }
          sums[to] = through;
          by[to] = s;
          const fresh = through % bucketCount;
          next[to] = heads[fresh];
          before[to] = -1;
          if (heads[fresh] !== -1) before[heads[fresh]] = to;
          heads[fresh] = to;
        }
      }
    }
  }
}
