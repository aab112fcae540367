import type { Combine } from '../model/choices';
import type { Region } from '../outline/region';
import { type Alpha, fullOf } from './alpha';
import { coverage } from './coverage';
import { bandDistance } from './distance';
import { MatteSums } from './mean';
import { blockShift, blocksPerRow } from './runs';
import { far, MatteScratch, nearSteps } from './scratch';
import { insideSpans } from './spans';

/** How a region's edge is drawn; widths in the pixels of the matte. */
export interface Edge {
  /** Width of the soft edge to the inside and to the outside of the line, 0 or more. */
  featherInside: number;
  featherOutside: number;
  /** How far the region is grown (+) or shrunk (−). */
  spread: number;
}

/**
 * The matte of a region: alpha for each pixel, row by row.
 *
 * Without feather and spread it is the exact area coverage. Else it follows the signed distance d to the line
 * (px, positive inside): spread moves the edge to d = −spread, and feather makes it a smooth step, 3t² − 2t³,
 * from its width outside the edge to its width inside. An edge under one pixel wide is drawn as a ramp one pixel
 * wide about its middle, which is what the area of a straight edge comes to. Where the region has factors, both
 * widths are multiplied by the one at the nearest place of the line.
 *
 * With 16 bits a soft edge is told apart as finely as its distance is: some 4000 steps over its reach to either side.
 *
 * @param target width·height values, written whole; or sums that the matte is added to.
 */
export function drawMatte(
  region: Region,
  edge: Edge,
  width: number,
  height: number,
  target: Alpha | MatteSums,
  scratch: MatteScratch,
) {
  if (edge.featherInside + edge.featherOutside === 0 && edge.spread === 0) {
    coverage(region.polygon, width, height, target, scratch);
    return;
  }
  const { factors } = region;
  const largest = factors ? factors.reduce((most, factor) => Math.max(most, factor), 0) : 1;
  const { low, high } = edgeRange(edge, largest);
  const reach = Math.max(Math.abs(low), Math.abs(high)) + 1;
  // What the matte may be off by for it is under one code value.
  const deep = target instanceof Uint16Array;
  const tolerance = softTolerance(edge.featherInside + edge.featherOutside, deep);
  bandDistance(region.line, { closed: region.closed, reach, width, height, scratch }, factors, tolerance);
  const spans = insideSpans(region.polygon, width, height);
  if (deep)
    return shadeDeep(edge, spans, { reach, width, height, varying: factors !== null }, target, scratch);
  const profile = edgeProfile(edge, reach);
  const sums = target instanceof MatteSums ? target : null;
  const blocks = blocksPerRow(width);
  const { touched, row, rowWords } = scratch;
  const touchedWords = new Uint32Array(touched.buffer, 0, (blocks * height) >> 2);
  const drawn = row.subarray(0, width);
  for (let y = 0; y < height; y++) {
    row.fill(0);
    for (let k = spans.starts[y]; k < spans.starts[y + 1]; k += 2) {
      const [from, to] = [spans.columns[k], spans.columns[k + 1]];
      row.fill(255, from, to);
      // Full is every run that begins in the span; those that turn out soft are taken away again.
      sums?.addFull(y, runFrom(from), runFrom(to));
    }
    const firstWord = (y * blocks) >> 2;
    for (let word = firstWord; word < firstWord + (blocks >> 2); word++) {
      if (touchedWords[word] === 0) continue;
      for (let b = word << 2; b < (word << 2) + 4; b++) {
        if (touched[b] === 0) continue;
        touched[b] = 0;
        const block = b - y * blocks;
        if (sums && row[block << blockShift] !== 0) sums.addFull(y, block, block + 1, -1);
        if (factors) shadeByFactor(edge, reach / nearSteps, b, block, scratch);
        else shadeByProfile(profile, b, block, scratch);
        sums?.addRun(y, block, rowWords);
      }
    }
    if (!sums) (target as Uint8Array).set(drawn, y * width);
  }
}

/** The same with 16 bits, plainly pixel by pixel. */
function shadeDeep(
  edge: Edge,
  spans: ReturnType<typeof insideSpans>,
  { reach, width, height, varying }: { reach: number; width: number; height: number; varying: boolean },
  out: Uint16Array,
  { distance, factor, touched }: MatteScratch,
) {
  const most = fullOf(out);
  const stride = blocksPerRow(width) << blockShift;
  const perStep = reach / nearSteps;
  out.fill(0);
  touched.fill(0, 0, blocksPerRow(width) * height);
  for (let y = 0; y < height; y++) {
    for (let k = spans.starts[y]; k < spans.starts[y + 1]; k += 2)
      out.fill(most, y * width + spans.columns[k], y * width + spans.columns[k + 1]);
    for (let x = 0, i = y * stride, o = y * width; x < width; x++, i++, o++) {
      if (distance[i] === far) continue;
      const d = distance[i] * perStep;
      distance[i] = far;
      out[o] = Math.round(most * shareAt(out[o] === 0 ? -d : d, edge, varying ? factor[i] : 1));
    }
  }
}

/** The first run that begins at a pixel or after it. */
function runFrom(x: number): number {
  return (x + (1 << blockShift) - 1) >> blockShift;
}

/**
 * Takes full and empty within reach of the line over into its softness, in run `b` of the picture, which is run
 * `block` of its row; the distances are set back. Four pixels at a time.
 */
function shadeByProfile(
  profile: Uint8Array,
  b: number,
  block: number,
  { distancePairs, rowWords }: MatteScratch,
) {
  let pair = b << (blockShift - 1);
  const first = block << (blockShift - 2);
  for (let word = first; word < first + (1 << (blockShift - 2)); word++, pair += 2) {
    const [p, q] = [distancePairs[pair], distancePairs[pair + 1]];
    distancePairs[pair] = farPair;
    distancePairs[pair + 1] = farPair;
    // Each pixel's byte, 0 or 255, chooses the half of the profile.
    const four = rowWords[word];
    rowWords[word] =
      profile[(p & far) | ((four << 5) & inside)] |
      (profile[(p >>> 16) | ((four >>> 3) & inside)] << 8) |
      (profile[(q & far) | ((four >>> 11) & inside)] << 16) |
      (profile[(q >>> 16) | ((four >>> 19) & inside)] << 24);
  }
}

const inside = far + 1;
const farPair = far | (far << 16);

function shadeByFactor(
  edge: Edge,
  perStep: number,
  b: number,
  block: number,
  { distance, factor, row }: MatteScratch,
) {
  const first = b << blockShift;
  for (let i = first, x = block << blockShift; i < first + (1 << blockShift); i++, x++) {
    if (distance[i] === far) continue;
    const d = distance[i] * perStep;
    distance[i] = far;
    row[x] = alphaAt(row[x] === 0 ? -d : d, edge, factor[i]);
  }
}

/**
 * px by which the line of a soft edge may be off: the edge rises by at most 1.5·255/feather code values a px.
 *
 * @param feather the width of the edge in the matte's px.
 * @param deep for 16 bits.
 */
export function softTolerance(feather: number, deep = false): number {
  return deep ? 0.001 : Math.min(0.1, Math.max(0.005, feather / 400));
}

/** Signed distances (px, positive inside) between which the edge rises from empty to full. */
function edgeRange({ featherInside, featherOutside, spread }: Edge, factor: number) {
  const low = -spread - featherOutside * factor;
  const high = -spread + featherInside * factor;
  if (high - low >= 1) return { low, high };
  const middle = (low + high) / 2;
  return { low: middle - 0.5, high: middle + 0.5 };
}

/** Alpha at a signed distance where the softness is multiplied by `factor`. */
function alphaAt(d: number, edge: Edge, factor: number): number {
  return (255 * shareAt(d, edge, factor) + 0.5) | 0;
}

/** The same as a share, 0 to 1. */
function shareAt(d: number, edge: Edge, factor: number): number {
  const low = -edge.spread - edge.featherOutside * factor;
  const width = (edge.featherInside + edge.featherOutside) * factor;
  const t = width >= 1 ? (d - low) / width : d - low - width / 2 + 0.5;
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  return width >= 1 ? t * t * (3 - 2 * t) : t;
}

/** Alpha by steps of distance: the first half for what is outside the line, the second for what is inside. */
function edgeProfile(edge: Edge, reach: number): Uint8Array {
  const profile = new Uint8Array(2 * inside).fill(255, inside);
  for (let steps = 0; steps <= nearSteps; steps++) {
    const d = (steps * reach) / nearSteps;
    profile[steps] = alphaAt(-d, edge, 1);
    profile[inside + steps] = alphaAt(d, edge, 1);
  }
  return profile;
}

/** Joins a matte to those before it, pixel by pixel: the larger, what it leaves of them, what lies in both, or (`join`) the sum. */
export function combineMatte(onto: Alpha, matte: Alpha, combine: Combine | 'join') {
  const n = onto.length;
  const most = fullOf(onto);
  if (combine === 'join') {
    for (let i = 0; i < n; i++) onto[i] = onto[i] + matte[i] > most ? most : onto[i] + matte[i];
  } else if (combine === 'add') {
    for (let i = 0; i < n; i++) if (matte[i] > onto[i]) onto[i] = matte[i];
  } else if (combine === 'keep only') {
    for (let i = 0; i < n; i++) if (matte[i] < onto[i]) onto[i] = matte[i];
  } else {
    for (let i = 0; i < n; i++) if (most - matte[i] < onto[i]) onto[i] = most - matte[i];
  }
}

/** Share of the frame that the matte covers, 0 to 1. */
export function meanAlpha(matte: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < matte.length; i++) sum += matte[i];
  return matte.length === 0 ? 0 : sum / (matte.length * 255);
}

export { MatteScratch };
