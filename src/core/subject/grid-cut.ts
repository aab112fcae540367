import type { ColourGrid } from './colour-grid';
import { cheapestCut, type CutGraph, steps } from './max-flow';

const { exp, max, min, round } = Math;

/** Whole units a natural unit of cost: fine enough that nothing is lost by rounding. */
const units = 32;
/** What parting two alike neighbours costs, from the bench's subjects (Rother et al. 2004 have 50 with other units). */
const parting = 14;
/** What holds a sample where a stroke says it is. */
export const held = 1e5;

/** What it costs to part neighbours in a picture: little where its colour changes (Boykov and Jolly 2001). */
export class PartingCost {
  private readonly table: Float32Array;

  /** @param share of what parting costs usually. */
  constructor(
    private readonly grid: ColourGrid,
    share = 1,
  ) {
    const { width, height } = grid;
    // The mean difference of neighbours, over some of them, is what counts as a change.
    let [sum, count] = [0, 0];
    // Odd, so that it goes through all columns.
    const stride = 2 * max(3, round((width * height) / 80_000)) + 1;
    for (let at = 0; at + width + 1 < width * height; at += stride) {
      sum += this.difference(at, at + 1) + this.difference(at, at + width);
      count += 2;
    }
    const usual = max(1, sum / max(1, count));
    this.table = Float32Array.from(
      { length: 4096 },
      (_, d) => share * units * parting * exp(-d / (2 * usual)),
    );
  }

  /** Squared difference of two samples, code values. */
  private difference(a: number, b: number): number {
    const { y, u, v } = this.grid;
    const [dy, du, dv] = [y[a] - y[b], u[a] - u[b], v[a] - v[b]];
    return dy * dy + 2 * (du * du + dv * dv);
  }

  /** @param aslant whether they lie corner to corner. */
  of(a: number, b: number, aslant: boolean): number {
    const difference = this.difference(a, b);
    const alike = difference < 4096 ? this.table[difference] : 0;
    return round(aslant ? alike * Math.SQRT1_2 : alike);
  }
}

/** A whole grid's graph, without leanings. */
export function gridGraph({ width, height }: ColourGrid, cost: PartingCost): CutGraph {
  const count = width * height;
  const neighbours = new Int32Array(8 * count).fill(-1);
  const capacities = new Int32Array(8 * count);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i;
      for (let way = 4; way < 8; way++) {
        const [dx, dy] = steps[way];
        const [x, y] = [i + dx, j + dy];
        if (x < 0 || x >= width || y >= height) continue;
        const other = y * width + x;
        const own = cost.of(at, other, dx !== 0 && dy !== 0);
        neighbours[8 * at + way] = other;
        neighbours[8 * other + 7 - way] = at;
        capacities[8 * at + way] = capacities[8 * other + 7 - way] = own;
      }
    }
  return { count, neighbours, capacities, leanings: new Int32Array(count) };
}

/** Cuts a whole grid. @param leaning what speaks for each sample's being inside, natural units. */
export function cutGrid(graph: CutGraph, leaning: (at: number) => number): Uint8Array {
  return cheapestCut({
    ...graph,
    capacities: graph.capacities.slice(),
    leanings: Int32Array.from({ length: graph.count }, (_, at) => whole(leaning(at))),
  });
}

function whole(cost: number): number {
  return round(units * min(held, max(-held, cost)));
}

/**
 * A region of a picture of half the size taken to this one: only a band about its border is cut anew, the rest stays (Lombaert
 * et al. 2005).
 *
 * @param inside of the smaller grid.
 * @param contradicting samples whose side as much as this speaks against are cut anew too, natural units.
 */
export function cutBand(
  grid: ColourGrid,
  cost: PartingCost,
  inside: Uint8Array,
  {
    smaller,
    leaning,
    contradicting = Infinity,
  }: {
    smaller: { width: number; height: number };
    leaning: (at: number) => number;
    contradicting?: number;
  },
): Uint8Array {
  const { width, height } = grid;
  const border = borderOf(inside, smaller.width, smaller.height);
  const out = new Uint8Array(width * height);
  const nodeAt = numbersFor(width * height);
  let nodes = new Int32Array(1 << 14);
  let count = 0;
  const everywhere = contradicting < Infinity;
  for (let j = 0; j < height; j++) {
    const row = min(smaller.height - 1, j >> 1) * smaller.width;
    // Where neither the region nor its border is, the rest stays outside.
    const first = everywhere ? 0 : firstIn(inside, border, row, smaller.width);
    const last = everywhere ? smaller.width - 1 : lastIn(inside, border, row, smaller.width);
    const end = last === smaller.width - 1 ? width : 2 * last + 2;
    for (let i = 2 * first, at = j * width + i; i < end; i++, at++) {
      const from = row + min(smaller.width - 1, i >> 1);
      const side = inside[from];
      out[at] = side;
      if (border[from] === 0) {
        if (!everywhere) continue;
        const says = leaning(at);
        if ((side ? -says : says) <= contradicting) continue;
      }
      if (count === nodes.length) {
        const longer = new Int32Array(2 * count);
        longer.set(nodes);
        nodes = longer;
      }
      nodes[count++] = at;
      nodeAt[at] = count;
    }
  }
  const neighbours = new Int32Array(8 * count).fill(-1);
  const capacities = new Int32Array(8 * count);
  const leanings = new Int32Array(count);
  for (let node = 0; node < count; node++) {
    const at = nodes[node];
    const [i, j] = [at % width, (at / width) | 0];
    let own = whole(leaning(at));
    for (let way = 0; way < 8; way++) {
      const dx = across[way];
      const dy = down[way];
      const [x, y] = [i + dx, j + dy];
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const next = y * width + x;
      const other = nodeAt[next] - 1;
      // Each pair of the band is met once; to the rest all ways lead.
      if (other >= 0 && way < 4) continue;
      const parting = cost.of(at, next, dx !== 0 && dy !== 0);
      if (other < 0) own += out[next] ? parting : -parting;
      else {
        neighbours[8 * node + way] = other;
        neighbours[8 * other + 7 - way] = node;
        capacities[8 * node + way] = capacities[8 * other + 7 - way] = parting;
      }
    }
    leanings[node] = own;
  }
  const sides = cheapestCut({ count, neighbours, capacities, leanings });
  for (let node = 0; node < count; node++) {
    out[nodes[node]] = sides[node];
    nodeAt[nodes[node]] = 0;
  }
  return out;
}

/** The first column of a row in which the region or its border is; its width where there is none. */
function firstIn(inside: Uint8Array, border: Uint8Array, row: number, width: number): number {
  let i = 0;
  while (i < width && !inside[row + i] && !border[row + i]) i++;
  return i;
}

/** The last one; −1 where there is none. */
function lastIn(inside: Uint8Array, border: Uint8Array, row: number, width: number): number {
  let i = width - 1;
  while (i >= 0 && !inside[row + i] && !border[row + i]) i--;
  return i;
}

const across = Int8Array.from(steps, ([dx]) => dx);
const down = Int8Array.from(steps, ([, dy]) => dy);

let kept = new Int32Array(0);

/** Zeros for every sample of a grid; whoever writes to them leaves them zero. */
function numbersFor(count: number): Int32Array {
  if (kept.length < count) kept = new Int32Array(count);
  return kept;
}

/** Samples to each side of a border that are cut anew. */
const band = 1;

/** Samples that lie within {@link band} of the border between inside and outside. */
function borderOf(inside: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const mark = (i: number, j: number) => {
    for (let y = max(0, j - band + 1); y <= min(height - 1, j + band - 1); y++)
      out.fill(1, y * width + max(0, i - band + 1), y * width + min(width - 1, i + band - 1) + 1);
  };
  for (let j = 0, at = 0; j < height; j++)
    for (let i = 0; i < width; i++, at++) {
      if (i + 1 < width && inside[at] !== inside[at + 1]) {
        mark(i, j);
        mark(i + 1, j);
      }
      if (j + 1 < height && inside[at] !== inside[at + width]) {
        mark(i, j);
        mark(i, j + 1);
      }
    }
  return out;
}
