/**
 * Where a line crosses itself, the running sum of signed areas is not the area by the non-zero rule: areas of opposite
 * sign cancel, and those covered twice count twice. For those polygons the pixels that more than one edge passes are
 * measured by themselves: cut into slabs between all corners and meetings of edges, in which the edges lie side by
 * side, the non-zero spans are trapezoids (the slab decomposition of Bentley and Ottmann's sweep, 1979).
 */

/** Rows that share a bucket in the search for edges that cross. */
const bucketShift = 4;

interface Edges {
  /** Upper end, lower end, slope dx/dy, and 1 where it runs downward, −1 where upward; horizontal ones are left out. */
  x0: Float64Array;
  y0: Float64Array;
  x1: Float64Array;
  y1: Float64Array;
  slope: Float64Array;
  direction: Int8Array;
  /** Place along the polygon, to know neighbours. */
  place: Int32Array;
  count: number;
}

function edgesOf(polygon: ArrayLike<number>): Edges {
  const corners = polygon.length >> 1;
  const edges: Edges = {
    x0: new Float64Array(corners),
    y0: new Float64Array(corners),
    x1: new Float64Array(corners),
    y1: new Float64Array(corners),
    slope: new Float64Array(corners),
    direction: new Int8Array(corners),
    place: new Int32Array(corners),
    count: 0,
  };
  for (let k = 0; k < corners; k++) {
    const [i, j] = [2 * k, 2 * ((k + 1) % corners)];
    const down = polygon[i + 1] < polygon[j + 1];
    if (polygon[i + 1] === polygon[j + 1]) continue;
    const [a, b] = down ? [i, j] : [j, i];
    const n = edges.count++;
    edges.x0[n] = polygon[a];
    edges.y0[n] = polygon[a + 1];
    edges.x1[n] = polygon[b];
    edges.y1[n] = polygon[b + 1];
    edges.slope[n] = (polygon[b] - polygon[a]) / (polygon[b + 1] - polygon[a + 1]);
    edges.direction[n] = down ? 1 : -1;
    edges.place[n] = k;
  }
  return edges;
}

/** The height at which two edges meet strictly within both; NaN where they do not. */
function meeting({ x0, y0, y1, slope }: Edges, a: number, b: number): number {
  const top = Math.max(y0[a], y0[b]);
  const bottom = Math.min(y1[a], y1[b]);
  if (top >= bottom) return NaN;
  const before = x0[a] + (top - y0[a]) * slope[a] - (x0[b] + (top - y0[b]) * slope[b]);
  const after = x0[a] + (bottom - y0[a]) * slope[a] - (x0[b] + (bottom - y0[b]) * slope[b]);
  if (before * after >= 0) return NaN;
  return top + ((bottom - top) * before) / (before - after);
}

/** Edges by the stretch of rows that they pass within the frame. */
function bucketsOf({ y0, y1, count }: Edges, height: number, shift: number): number[][] {
  const buckets: number[][] = Array.from({ length: ((height - 1) >> shift) + 1 }, () => []);
  for (let n = 0; n < count; n++) {
    if (y1[n] <= 0 || y0[n] >= height) continue;
    const last = Math.min(buckets.length - 1, Math.floor(y1[n]) >> shift);
    for (let k = Math.max(0, Math.floor(y0[n])) >> shift; k <= last; k++) buckets[k].push(n);
  }
  return buckets;
}

function crossesItself(edges: Edges, width: number, height: number, corners: number): boolean {
  const { x0, x1, place } = edges;
  for (const bucket of bucketsOf(edges, height, bucketShift)) {
    for (let i = 0; i < bucket.length; i++) {
      const a = bucket[i];
      const [left, right] = [Math.min(x0[a], x1[a]), Math.max(x0[a], x1[a])];
      if (left > width || right < 0) continue;
      for (let j = 0; j < i; j++) {
        const b = bucket[j];
        if (Math.max(x0[b], x1[b]) < left || Math.min(x0[b], x1[b]) > right) continue;
        const apart = Math.abs(place[a] - place[b]);
        if (apart === 1 || apart === corners - 1) continue;
        const y = meeting(edges, a, b);
        if (y >= 0 && y <= height) return true;
      }
    }
  }
  return false;
}

/**
 * The covered share of the pixels that more than one edge passes, by y · width + x; null for a polygon that does
 * not cross itself within the frame, whose signed areas are right as they are.
 *
 * @param polygon x, y … in pixels, closed by itself.
 */
export function crossedPixels(
  polygon: ArrayLike<number>,
  width: number,
  height: number,
): ReadonlyMap<number, number> | null {
  const edges = edgesOf(polygon);
  if (!crossesItself(edges, width, height, polygon.length >> 1)) return null;
  const shares = new Map<number, number>();
  const { x0, y0, y1, slope } = edges;
  const seen = new Int32Array(width).fill(-1);
  bucketsOf(edges, height, 0).forEach((row, y) => {
    const several = new Set<number>();
    for (const n of row) {
      const [from, to] = [Math.max(y, y0[n]), Math.min(y + 1, y1[n])];
      const [a, b] = [x0[n] + (from - y0[n]) * slope[n], x0[n] + (to - y0[n]) * slope[n]];
      const last = Math.min(width - 1, Math.floor(Math.max(a, b)));
      for (let x = Math.max(0, Math.floor(Math.min(a, b))); x <= last; x++) {
        // The second edge to pass makes it worth measuring.
        if (seen[x] === y) several.add(x);
        seen[x] = y;
      }
    }
    for (const x of several) shares.set(y * width + x, coveredArea(edges, row, x, y));
  });
  return shares;
}

/** The part of the pixel at x, y that lies within by the non-zero rule. @param row the edges that pass its row. */
function coveredArea(edges: Edges, row: readonly number[], x: number, y: number): number {
  const { x0, y0, x1, y1, slope, direction } = edges;
  const inside = row.filter((n) => {
    const [from, to] = [Math.max(y, y0[n]), Math.min(y + 1, y1[n])];
    const [a, b] = [x0[n] + (from - y0[n]) * slope[n], x0[n] + (to - y0[n]) * slope[n]];
    return Math.max(a, b) >= x && Math.min(a, b) <= x + 1;
  });
  const heights = [y, y + 1];
  const cut = (at: number) => {
    if (at > y && at < y + 1) heights.push(at);
  };
  for (const n of row) {
    cut(y0[n]);
    cut(y1[n]);
  }
  inside.forEach((n, i) => {
    if (x0[n] !== x1[n]) for (const border of [x, x + 1]) cut(y0[n] + (border - x0[n]) / slope[n]);
    for (let j = 0; j < i; j++) cut(meeting(edges, n, inside[j]));
  });
  heights.sort((a, b) => a - b);
  let area = 0;
  for (let k = 0; k + 1 < heights.length; k++) {
    const tall = heights[k + 1] - heights[k];
    if (tall < 1e-12) continue;
    const middle = (heights[k] + heights[k + 1]) / 2;
    let winding = 0;
    const events: { at: number; by: number }[] = [];
    for (const n of row) {
      if (y0[n] > middle || y1[n] <= middle) continue;
      const at = x0[n] + (middle - y0[n]) * slope[n];
      if (at <= x) winding += direction[n];
      else if (at < x + 1) events.push({ at, by: direction[n] });
    }
    events.sort((a, b) => a.at - b.at);
    let from = x;
    for (const { at, by } of events) {
      if (winding !== 0) area += tall * (at - from);
      from = at;
      winding += by;
    }
    if (winding !== 0) area += tall * (x + 1 - from);
  }
  return area;
}
