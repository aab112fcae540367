import { type Alpha, fullOf } from './alpha';
import { MatteSums } from './mean';
import { blockShift, blocksPerRow } from './runs';
import { type MatteScratch } from './scratch';
import { crossedPixels } from './self-crossing';

/**
 * Exact area coverage of a polygon, as alpha.
 *
 * Each edge adds, to the pixels it passes, the signed area between it and the right border; a running sum along
 * the row then gives every pixel's winding-weighted area (the accumulation-buffer method of font rasterisers,
 * after Catmull 1978 and Levien 2016). Where the polygon winds more than once the sum is cut at one; where it crosses
 * itself, the pixels that several edges pass are measured apart, by the non-zero rule. Runs of pixels that no edge
 * passes are filled.
 *
 * @param polygon x, y … in pixels, closed by itself; may lie outside.
 * @param target width·height values, written whole; or sums that the matte is added to.
 */
export function coverage(
  polygon: ArrayLike<number>,
  width: number,
  height: number,
  target: Alpha | MatteSums,
  scratch: MatteScratch,
) {
  scratch.fit(width, height);
  const { area, touched } = scratch;
  for (let i = 0, n = polygon.length; i < n; i += 2) {
    const j = i + 2 === n ? 0 : i + 2;
    addEdge(polygon[i], polygon[i + 1], polygon[j], polygon[j + 1], width, height, scratch);
  }
  const sums = target instanceof MatteSums ? target : null;
  const out = target instanceof MatteSums ? scratch.row : target;
  const most = fullOf(out);
  const stride = width + 2;
  const blocks = blocksPerRow(stride);
  const crossed = crossedPixels(polygon, width, height);
  for (let y = 0; y < height; y++) {
    const at = sums ? 0 : y * width;
    let sum = 0;
    for (let block = 0; block < blocks; block++) {
      const x0 = block << blockShift;
      const b = y * blocks + block;
      if (touched[b] === 0) {
        const first = block;
        while (block + 1 < blocks && touched[y * blocks + block + 1] === 0) block++;
        const end = Math.min(width, (block + 1) << blockShift);
        if (end <= x0) continue;
        const alpha = alphaOf(sum, most);
        if (!sums) out.fill(alpha, at + x0, at + end);
        else if (alpha > 0) addEven(sums, alpha, y, first, x0, end, scratch);
        continue;
      }
      touched[b] = 0;
      const row = y * stride;
      const end = Math.min(stride, x0 + (1 << blockShift));
      for (let x = x0; x < end; x++) {
        sum += area[row + x];
        area[row + x] = 0;
        if (x < width) out[at + x] = alphaOf(crossed?.get(y * width + x) ?? sum, most);
      }
      if (x0 < width) sums?.addRun(y, block, scratch.rowWords);
    }
  }
}

/** Adds the runs from `first` on to the sums, pixels x0 to end, all of one alpha. */
function addEven(
  sums: MatteSums,
  alpha: number,
  y: number,
  first: number,
  x0: number,
  end: number,
  { row, rowWords }: MatteScratch,
) {
  const after = (end + (1 << blockShift) - 1) >> blockShift;
  if (alpha === 255) {
    sums.addFull(y, first, after);
    return;
  }
  row.fill(alpha, x0, end);
  for (let block = first; block < after; block++) sums.addRun(y, block, rowWords);
}

function alphaOf(sum: number, most: number): number {
  const covered = sum < 0 ? -sum : sum;
  return covered >= 1 ? most : (covered * most + 0.5) | 0;
}

/** Adds an edge, cut at the frame's left and right border: what lies left counts in full, what lies right not. */
function addEdge(
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  width: number,
  height: number,
  scratch: MatteScratch,
) {
  if (y0 === y1) return;
  const direction = y0 < y1 ? 1 : -1;
  if (direction < 0) [x0, y0, x1, y1] = [x1, y1, x0, y0];
  if (y1 <= 0 || y0 >= height) return;
  const slope = (x1 - x0) / (y1 - y0);
  if (y0 < 0) [x0, y0] = [x0 - y0 * slope, 0];
  if (y1 > height) [x1, y1] = [x0 + (height - y0) * slope, height];
  const cuts = [y0];
  if (slope !== 0) {
    for (const border of slope > 0 ? [0, width] : [width, 0]) {
      const at = y0 + (border - x0) / slope;
      if (at > cuts[cuts.length - 1] && at < y1) cuts.push(at);
    }
  }
  cuts.push(y1);
  for (let k = 0; k + 1 < cuts.length; k++) {
    const xa = x0 + (cuts[k] - y0) * slope;
    const xb = x0 + (cuts[k + 1] - y0) * slope;
    const middle = (xa + xb) / 2;
    if (middle >= width) continue;
    if (middle <= 0) addPiece(0, cuts[k], 0, cuts[k + 1], direction, width + 2, scratch);
    else addPiece(clamp(xa, width), cuts[k], clamp(xb, width), cuts[k + 1], direction, width + 2, scratch);
  }
}

function clamp(x: number, width: number): number {
  return x < 0 ? 0 : x > width ? width : x;
}

/** Adds an edge that runs downward inside the frame. */
function addPiece(
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  direction: number,
  stride: number,
  scratch: MatteScratch,
) {
  const { area, touched } = scratch;
  const blocks = blocksPerRow(stride);
  const slope = (x1 - x0) / (y1 - y0);
  let x = x0;
  for (let row = Math.floor(y0); row < y1; row++) {
    const from = row < y0 ? y0 : row;
    const to = row + 1 < y1 ? row + 1 : y1;
    const tall = to - from;
    if (tall <= 0) continue;
    const next = row + 1 < y1 ? x + slope * tall : x1;
    const signed = direction * tall;
    const left = x < next ? x : next;
    const right = x < next ? next : x;
    const first = Math.floor(left);
    const last = Math.ceil(right);
    const base = row * stride + first;
    const lastWritten = last <= first + 1 ? first + 1 : last;
    for (let block = first >> blockShift; block <= lastWritten >> blockShift; block++)
      touched[row * blocks + block] = 1;
    if (last <= first + 1) {
      // The whole piece lies in one column: a trapezoid.
      const leftOver = 1 - ((left + right) / 2 - first);
      area[base] += signed * leftOver;
      area[base + 1] += signed * (1 - leftOver);
    } else {
      const perColumn = 1 / (right - left);
      const start = 1 - (left - first);
      const firstArea = 0.5 * perColumn * start * start;
      area[base] += signed * firstArea;
      const end = right - last + 1;
      const lastArea = 0.5 * perColumn * end * end;
      if (last === first + 2) {
        area[base + 1] += signed * (1 - firstArea - lastArea);
      } else {
        const second = perColumn * (1.5 - (left - first));
        area[base + 1] += signed * (second - firstArea);
        for (let column = first + 2; column < last - 1; column++)
          area[row * stride + column] += signed * perColumn;
        const before = second + (last - first - 3) * perColumn;
        area[row * stride + last - 1] += signed * (1 - before - lastArea);
      }
      area[row * stride + last] += signed * lastArea;
    }
    x = next;
  }
}
