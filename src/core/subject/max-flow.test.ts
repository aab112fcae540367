import { seeded } from '../random';
import { cheapestCut, type CutGraph, steps } from './max-flow';

/** A grid with random costs. */
function randomGrid(width: number, height: number, random: () => number, most: number): CutGraph {
  const count = width * height;
  const neighbours = new Int32Array(8 * count).fill(-1);
  const capacities = new Int32Array(8 * count);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      steps.forEach(([dx, dy], way) => {
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || v < 0 || u >= width || v >= height) return;
        const [node, other] = [y * width + x, v * width + u];
        neighbours[8 * node + way] = other;
        if (way < 4) return;
        const cost = Math.floor(random() ** 3 * most);
        capacities[8 * node + way] = cost;
        capacities[8 * other + 7 - way] = cost;
      });
  const leanings = Int32Array.from({ length: count }, () => Math.round((random() - 0.5) * 2 * most));
  return { count, neighbours, capacities, leanings };
}

/** What parting the nodes so costs: neighbours on different sides, and nodes that lean to the other one. */
function costOf({ count, neighbours, capacities, leanings }: CutGraph, sides: ArrayLike<number>): number {
  let cost = 0;
  for (let node = 0; node < count; node++) {
    cost += sides[node] ? Math.max(0, -leanings[node]) : Math.max(0, leanings[node]);
    for (let way = 4; way < 8; way++) {
      const other = neighbours[8 * node + way];
      if (other >= 0 && sides[node] !== sides[other]) cost += capacities[8 * node + way];
    }
  }
  return cost;
}

const copied = (graph: CutGraph): CutGraph => ({
  ...graph,
  capacities: graph.capacities.slice(),
  leanings: graph.leanings.slice(),
});

test('no parting of a small grid is cheaper: all of them are tried', () => {
  const random = seeded(3);
  for (let round = 0; round < 12; round++) {
    const graph = randomGrid(4, 3, random, 30);
    const cost = costOf(graph, cheapestCut(copied(graph)));
    let least = Infinity;
    for (let bits = 0; bits < 1 << graph.count; bits++)
      least = Math.min(
        least,
        costOf(
          graph,
          Array.from({ length: graph.count }, (_, node) => (bits >> node) & 1),
        ),
      );
    expect(cost).toBe(least);
  }
});

test('on larger grids it costs as much as the maximum flow by plain augmenting paths', () => {
  const random = seeded(9);
  for (let round = 0; round < 6; round++) {
    const graph = randomGrid(17, 13, random, 50);
    expect(costOf(graph, cheapestCut(copied(graph)))).toBe(plainMaximumFlow(copied(graph)));
  }
});

/** Breadth-first augmenting paths (Edmonds and Karp 1972). */
function plainMaximumFlow({ count, neighbours, capacities, leanings }: CutGraph): number {
  let flow = 0;
  while (true) {
    const from = new Int32Array(count).fill(-2);
    const queue: number[] = [];
    for (let node = 0; node < count; node++)
      if (leanings[node] > 0) {
        from[node] = -1;
        queue.push(node);
      }
    let end = -1;
    for (let at = 0; at < queue.length && end < 0; at++) {
      const node = queue[at];
      if (leanings[node] < 0) end = node;
      for (let way = 0; way < 8 && end < 0; way++) {
        const other = neighbours[8 * node + way];
        if (other < 0 || from[other] !== -2 || capacities[8 * node + way] === 0) continue;
        from[other] = 8 * node + way;
        queue.push(other);
      }
    }
    if (end < 0) return flow;
    let most = -leanings[end];
    let start = end;
    for (; from[start] !== -1; start = from[start] >> 3) most = Math.min(most, capacities[from[start]]);
    most = Math.min(most, leanings[start]);
    for (let node = end; from[node] !== -1; node = from[node] >> 3) {
      capacities[from[node]] -= most;
      capacities[8 * node + 7 - (from[node] & 7)] += most;
    }
    leanings[start] -= most;
    leanings[end] += most;
    flow += most;
  }
}
