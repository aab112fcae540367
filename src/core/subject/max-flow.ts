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
export function cheapestCut(graph: CutGraph): Uint8Array {
  return new SearchTrees(graph).cut();
}

/** The two trees, one from each terminal, and what still flows between their nodes. */
class SearchTrees {
  private readonly neighbours: Int32Array;
  private readonly cap: Int32Array;
  private readonly lean: Int32Array;
  private readonly tree: Uint8Array;
  private readonly parent: Int8Array;
  /** When, and how far from its terminal, a node was last seen to be in its tree. */
  private readonly seen: Int32Array;
  private readonly far: Int32Array;
  private time = 0;
  // Active nodes in the order in which they grow; each at most once.
  private readonly next: Int32Array;
  private first = none;
  private last = none;
  private readonly orphans: number[] = [];
  /** The arc by which the trees met last: it leads from the source's tree to the sink's. */
  private meetingNode = none;
  private meetingWay = none;

  constructor({ count, neighbours, capacities, leanings }: CutGraph) {
    this.neighbours = neighbours;
    this.cap = capacities;
    this.lean = leanings;
    this.tree = new Uint8Array(count);
    this.parent = new Int8Array(count).fill(none);
    this.seen = new Int32Array(count);
    this.far = new Int32Array(count);
    this.next = new Int32Array(count).fill(none);
    for (let node = 0; node < count; node++) {
      if (leanings[node] === 0) continue;
      this.tree[node] = leanings[node] > 0 ? ofSource : ofSink;
      this.parent[node] = terminal;
      this.far[node] = 1;
      this.activate(node);
    }
  }

  /** Grows the trees until they meet, sends what flows along the way, and mends them, until they meet no more. */
  cut(): Uint8Array {
    let current = none;
    while (true) {
      if (current === none || this.parent[current] === none) current = this.nextActive();
      if (current === none) break;
      const met = this.grow(current);
      this.time++;
      if (!met) {
        current = none;
        continue;
      }
      this.augment(this.meetingNode, this.meetingWay);
      for (let k = 0; k < this.orphans.length; k++) this.adopt(this.orphans[k]);
      this.orphans.length = 0;
    }
    return this.tree.map((side) => (side === ofSource ? 1 : 0));
  }

  private activate(node: number) {
    if (this.next[node] !== none) return;
    if (this.last === none) this.first = node;
    else this.next[this.last] = node;
    this.last = node;
    // The last one leads to itself: it is in the row.
    this.next[node] = node;
  }

  private nextActive(): number {
    while (this.first !== none) {
      const node = this.first;
      if (this.next[node] === node) this.first = this.last = none;
      else this.first = this.next[node];
      this.next[node] = none;
      if (this.parent[node] !== none) return node;
    }
    return none;
  }

  private makeOrphan(node: number) {
    this.parent[node] = orphan;
    this.orphans.push(node);
  }

  /** Takes a node's free neighbours into its tree. @returns whether it met the other tree. */
  private grow(node: number): boolean {
    const { neighbours, cap, tree, parent, seen, far } = this;
    const side = tree[node];
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
        this.activate(other);
      } else if (tree[other] !== side) {
        this.meetingNode = side === ofSource ? node : other;
        this.meetingWay = side === ofSource ? way : 7 - way;
        return true;
      } else if (seen[other] <= seen[node] && far[other] > far[node] && parent[other] < terminal) {
        parent[other] = 7 - way;
        seen[other] = seen[node];
        far[other] = far[node] + 1;
      }
    }
    return false;
  }

  /** Sends as much as can go through an arc that leads from the source's tree to the sink's. */
  private augment(from: number, way: number) {
    const { neighbours, cap, lean, parent } = this;
    const to = neighbours[8 * from + way];
    const most = this.narrowest(from, way, to);
    cap[8 * from + way] -= most;
    cap[8 * to + 7 - way] += most;
    let node = from;
    while (parent[node] !== terminal) {
      const up = neighbours[8 * node + parent[node]];
      const arc = 8 * up + 7 - parent[node];
      cap[8 * node + parent[node]] += most;
      cap[arc] -= most;
      if (cap[arc] === 0) this.makeOrphan(node);
      node = up;
    }
    lean[node] -= most;
    if (lean[node] === 0) this.makeOrphan(node);
    node = to;
    while (parent[node] !== terminal) {
      const up = neighbours[8 * node + parent[node]];
      const arc = 8 * node + parent[node];
      cap[8 * up + 7 - parent[node]] += most;
      cap[arc] -= most;
      if (cap[arc] === 0) this.makeOrphan(node);
      node = up;
    }
    lean[node] += most;
    if (lean[node] === 0) this.makeOrphan(node);
  }

  /** What can flow at most from terminal to terminal through an arc. */
  private narrowest(from: number, way: number, to: number): number {
    const { neighbours, cap, lean, parent } = this;
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
    return -lean[node] < most ? -lean[node] : most;
  }

  /** How far a node is from its terminal, if it hangs on one; else Infinity. */
  private wayUp(start: number): number {
    const { neighbours, parent, seen, far, time } = this;
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
  }

  /** Whether something can still flow from the parent to the child, or in the sink's tree from the child on. */
  private flows(child: number, way: number, other: number, side: number): boolean {
    return side === ofSource ? this.cap[8 * other + 7 - way] > 0 : this.cap[8 * child + way] > 0;
  }

  /** Hangs an orphan on the nearest neighbour of its tree, or lets it and what hangs on it go. */
  private adopt(node: number) {
    const { neighbours, tree, parent, seen, far, time } = this;
    const side = tree[node];
    let [best, least] = [none, Infinity];
    for (let way = 0; way < 8; way++) {
      const other = neighbours[8 * node + way];
      if (other === none || tree[other] !== side || parent[other] === none) continue;
      if (!this.flows(node, way, other, side)) continue;
      let distance = this.wayUp(other);
      if (distance === Infinity) continue;
      if (distance < least) [best, least] = [way, distance];
      // Every node on the path now has a known distance to its terminal.
      for (let walked = other; seen[walked] !== time; walked = neighbours[8 * walked + parent[walked]]) {
        seen[walked] = time;
        far[walked] = distance--;
      }
    }
    parent[node] = best;
    if (best !== none) {
      seen[node] = time;
      far[node] = least + 1;
    } else this.letGo(node, side);
  }

  private letGo(node: number, side: number) {
    const { neighbours, tree, parent } = this;
    for (let way = 0; way < 8; way++) {
      const other = neighbours[8 * node + way];
      if (other === none || tree[other] !== side || parent[other] === none) continue;
      if (this.flows(node, way, other, side)) this.activate(other);
      const by = parent[other];
      if (by !== terminal && by !== orphan && neighbours[8 * other + by] === node) this.makeOrphan(other);
    }
    tree[node] = free;
  }
}
