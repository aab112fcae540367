/** What a node has no neighbour of, or no parent by. */
const none = -1;
/** A parent that is the source or the sink itself. */
const terminal = 8;
/** A parent that was lost and is looked for anew. */
const orphan = 9;
const [free, ofSource, ofSink] = [0, 1, 2];

/** Steps to a node's eight neighbours, x and y; direction `d` leads back by `7 − d`. */
export const steps: readonly (readonly [dx: number, dy: number])[] = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [-1, 0],
  [1, 0],
  [-1, 1],
  [0, 1],
  [1, 1],
];

/** Nodes of a grid, or of a part of it, that are to be parted in two as cheaply as can be. */
export interface CutGraph {
  count: number;
  /** Eight a node: which node lies that way, −1 where none does. */
  neighbours: Int32Array;
  /** Eight a node: what it costs to part the two, whole and 0 or more, in both directions the same. Used up by cutting. */
  capacities: Int32Array;
  /** What it costs a node to be on the sink's side, less what it costs to be on the source's; whole. Used up by cutting. */
  leanings: Int32Array;
}

/**
 * The cheapest cut of a graph whose nodes have up to eight neighbours: maximum flow by two search trees that are kept from path
 * to path (Boykov and Kolmogorov, PAMI 2004), with whole numbers, so that it is exact.
 *
 * @returns for each node 1 on the source's side, 0 on the sink's; what could be on either is on the sink's.
 */
export function cheapestCut({ count, neighbours, capacities: cap, leanings: lean }: CutGraph): Uint8Array {
  const tree = new Uint8Array(count);
  const parent = new Int8Array(count).fill(none);
  /** When, and how far from its terminal, a node was last seen to be in its tree. */
  const seen = new Int32Array(count);
  const far = new Int32Array(count);
  // Active nodes in the order in which they grow; each at most once.
  const next = new Int32Array(count).fill(none);
  let [first, last] = [none, none];
  const orphans: number[] = [];
  let time = 0;

  const activate = (node: number) => {
    if (next[node] !== none) return;
    if (last === none) first = node;
    else next[last] = node;
    last = node;
    // The last one leads to itself: it is in the row.
    next[node] = node;
  };
  const nextActive = (): number => {
    while (first !== none) {
      const node = first;
      if (next[node] === node) first = last = none;
      else first = next[node];
      next[node] = none;
      if (parent[node] !== none) return node;
    }
    return none;
  };
  const makeOrphan = (node: number) => {
    parent[node] = orphan;
    orphans.push(node);
  };

  for (let node = 0; node < count; node++) {
    if (lean[node] === 0) continue;
    tree[node] = lean[node] > 0 ? ofSource : ofSink;
    parent[node] = terminal;
    far[node] = 1;
    activate(node);
  }

  /** Sends as much as can go through an arc that leads from the source's tree to the sink's. */
  const augment = (from: number, way: number) => {
    const to = neighbours[8 * from + way];
    let most = cap[8 * from + way];
    let node = from;
    for (; parent[node] !== terminal; node = neighbours[8 * node + parent[node]]) {
      const arc = cap[8 * neighbours[8 * node + parent[node]] + 7 - parent[node]];
      if (arc < most) most = arc;
    }
    if (lean[node] < most) most = lean[node];
    for (node = to; parent[node] !== terminal; node = neighbours[8 * node + parent[node]]) {
      const arc = cap[8 * node + parent[node]];
      if (arc < most) most = arc;
    }
    if (-lean[node] < most) most = -lean[node];

    cap[8 * from + way] -= most;
    cap[8 * to + 7 - way] += most;
    for (node = from; parent[node] !== terminal;) {
      const up = neighbours[8 * node + parent[node]];
      const arc = 8 * up + 7 - parent[node];
      cap[8 * node + parent[node]] += most;
      cap[arc] -= most;
      if (cap[arc] === 0) makeOrphan(node);
      node = up;
    }
    lean[node] -= most;
    if (lean[node] === 0) makeOrphan(node);
    for (node = to; parent[node] !== terminal;) {
      const up = neighbours[8 * node + parent[node]];
      const arc = 8 * node + parent[node];
      cap[8 * up + 7 - parent[node]] += most;
      cap[arc] -= most;
      if (cap[arc] === 0) makeOrphan(node);
      node = up;
    }
    lean[node] += most;
    if (lean[node] === 0) makeOrphan(node);
  };

  /** How far a node is from its terminal, if it hangs on one; else Infinity. */
  const wayUp = (start: number): number => {
    let [node, distance] = [start, 0];
    while (true) {
      if (seen[node] === time) return distance + far[node];
      const by = parent[node];
      distance++;
      if (by === terminal) {
        seen[node] = time;
        far[node] = 1;
        return distance;
      }
      if (by === orphan || by === none) return Infinity;
      node = neighbours[8 * node + by];
    }
  };

  /** Whether something can still flow from the parent to the child, or in the sink's tree from the child on. */
  const flows = (child: number, way: number, other: number, side: number) =>
    side === ofSource ? cap[8 * other + 7 - way] > 0 : cap[8 * child + way] > 0;

  const adopt = (node: number) => {
    const side = tree[node];
    let [best, least] = [none, Infinity];
    for (let way = 0; way < 8; way++) {
      const other = neighbours[8 * node + way];
      if (other === none || tree[other] !== side || parent[other] === none) continue;
      if (!flows(node, way, other, side)) continue;
      let distance = wayUp(other);
      if (distance === Infinity) continue;
      if (distance < least) [best, least] = [way, distance];
      // What was walked is known to hang on its terminal.
      for (let walked = other; seen[walked] !== time; walked = neighbours[8 * walked + parent[walked]]) {
        seen[walked] = time;
        far[walked] = distance--;
      }
    }
    parent[node] = best;
    if (best !== none) {
      seen[node] = time;
      far[node] = least + 1;
      return;
    }
    for (let way = 0; way < 8; way++) {
      const other = neighbours[8 * node + way];
      if (other === none || tree[other] !== side || parent[other] === none) continue;
      if (flows(node, way, other, side)) activate(other);
      const by = parent[other];
      if (by !== terminal && by !== orphan && neighbours[8 * other + by] === node) makeOrphan(other);
    }
    tree[node] = free;
  };

  let current = none;
  while (true) {
    if (current === none || parent[current] === none) current = nextActive();
    if (current === none) break;
    const node = current;
    const side = tree[node];
    let [from, through] = [none, none];
    for (let way = 0; way < 8; way++) {
      const other = neighbours[8 * node + way];
      if (other === none) continue;
      const room = side === ofSource ? cap[8 * node + way] : cap[8 * other + 7 - way];
      if (room === 0) continue;
      if (tree[other] === free) {
        tree[other] = side;
        parent[other] = 7 - way;
        seen[other] = seen[node];
        far[other] = far[node] + 1;
        activate(other);
      } else if (tree[other] !== side) {
        [from, through] = side === ofSource ? [node, way] : [other, 7 - way];
        break;
      } else if (seen[other] <= seen[node] && far[other] > far[node] && parent[other] < terminal) {
        parent[other] = 7 - way;
        seen[other] = seen[node];
        far[other] = far[node] + 1;
      }
    }
    time++;
    if (from === none) {
      current = none;
      continue;
    }
    augment(from, through);
    for (let k = 0; k < orphans.length; k++) adopt(orphans[k]);
    orphans.length = 0;
  }
  return tree.map((side) => (side === ofSource ? 1 : 0));
}
