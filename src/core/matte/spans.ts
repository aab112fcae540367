/**
 * Where a polygon's inside begins and ends along each row of pixel centres, by the non-zero rule.
 *
 * Row y's spans are `columns[starts[y]]` up to `columns[starts[y + 1]]`, in pairs: inside from the first pixel of
 * the pair up to, not including, the second; ascending, within the frame, never empty.
 */
export interface Spans {
  starts: Uint32Array;
  columns: Int32Array;
}

export function insideSpans(polygon: ArrayLike<number>, width: number, height: number): Spans {
  const n = polygon.length;
  const perRow = new Uint32Array(height + 1);
  forEachCrossing(polygon, n, height, (row) => perRow[row + 1]++);
  for (let y = 0; y < height; y++) perRow[y + 1] += perRow[y];
  const crossings = new Float64Array(perRow[height]);
  const windings = new Int8Array(perRow[height]);
  const filled = perRow.slice();
  forEachCrossing(polygon, n, height, (row, x, winding) => {
    let k = filled[row]++;
    // Insertion keeps each row's few crossings in order.
    for (; k > perRow[row] && crossings[k - 1] > x; k--) {
      crossings[k] = crossings[k - 1];
      windings[k] = windings[k - 1];
    }
    crossings[k] = x;
    windings[k] = winding;
  });
  const starts = new Uint32Array(height + 1);
  const columns = new Int32Array(perRow[height]);
  let length = 0;
  for (let y = 0; y < height; y++) {
    starts[y] = length;
    let winding = 0;
    for (let k = perRow[y]; k < perRow[y + 1]; k++) {
      const before = winding;
      winding += windings[k];
      // A pixel is inside when its centre is: column + 0.5 ≥ crossing.
      const column = Math.min(width, Math.max(0, Math.ceil(crossings[k] - 0.5)));
      if (before === 0) columns[length++] = column;
      else if (winding === 0 && columns[length - 1] === column) length--;
      else if (winding === 0) columns[length++] = column;
    }
  }
  starts[height] = length;
  return { starts, columns };
}

function forEachCrossing(
  polygon: ArrayLike<number>,
  n: number,
  height: number,
  visit: (row: number, x: number, winding: number) => void,
) {
  for (let i = 0; i < n; i += 2) {
    const j = i + 2 === n ? 0 : i + 2;
    const downward = polygon[i + 1] < polygon[j + 1];
    const [a, b] = downward ? [i, j] : [j, i];
    const [y0, y1] = [polygon[a + 1], polygon[b + 1]];
    const first = Math.max(0, Math.ceil(y0 - 0.5));
    const end = Math.min(height, Math.ceil(y1 - 0.5));
    if (first >= end) continue;
    const slope = (polygon[b] - polygon[a]) / (y1 - y0);
    for (let row = first; row < end; row++)
      visit(row, polygon[a] + (row + 0.5 - y0) * slope, downward ? 1 : -1);
  }
}
