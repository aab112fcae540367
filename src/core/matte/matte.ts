import type { Combine } from '../document/rows';
import type { Region } from '../outline/region';
import { coverage } from './coverage';
import { bandDistance } from './distance';
import { blockShift, blocksPerRow, MatteScratch } from './scratch';
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
 * The matte of a region: alpha 0 to 255 for each pixel, row by row.
 *
 * Without feather and spread it is the exact area coverage. Else it follows the signed distance d to the line
 * (px, positive inside): spread moves the edge to d = −spread, and feather makes it a smooth step, 3t² − 2t³,
 * from its width outside the edge to its width inside. An edge under one pixel wide is drawn as a ramp one pixel
 * wide about its middle, which is what the area of a straight edge comes to. Where the region has factors, both
 * widths are multiplied by the one at the nearest place of the line.
 *
 * @param out width·height bytes, written whole.
 */
export function drawMatte(
  region: Region,
  edge: Edge,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  if (edge.featherInside + edge.featherOutside === 0 && edge.spread === 0) {
    coverage(region.polygon, width, height, out, scratch);
    return;
  }
  const { factors } = region;
  const largest = factors ? factors.reduce((most, factor) => Math.max(most, factor), 0) : 1;
  const { low, high } = edgeRange(edge, largest);
  const reach = Math.max(Math.abs(low), Math.abs(high)) + 1;
  bandDistance(region.line, region.closed, reach, width, height, scratch, factors);
  const spans = insideSpans(region.polygon, width, height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    out.fill(0, row, row + width);
    for (let k = spans.starts[y]; k < spans.starts[y + 1]; k += 2)
      out.fill(255, row + spans.columns[k], row + spans.columns[k + 1]);
  }
  const shade = factors ? shadeByFactor : shadeByProfile;
  shade(edge, edgeProfile(low, high, reach), reach, width, height, out, scratch);
}

/**
 * Takes full and empty within reach of the line over into its softness, and leaves `scratch` as it is to be found:
 * no distances, nothing touched.
 */
function shadeByProfile(
  _edge: Edge,
  profile: Uint8Array,
  reach: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  const { distance, touched } = scratch;
  const blocks = blocksPerRow(width);
  const perPixel = (profile.length - 1) / (2 * reach);
  const middle = reach * perPixel + 0.5;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let block = 0; block < blocks; block++) {
      if (touched[y * blocks + block] === 0) continue;
      touched[y * blocks + block] = 0;
      const start = row + (block << blockShift);
      const end = Math.min(row + width, start + (1 << blockShift));
      for (let i = start; i < end; i++) {
        const d = distance[i];
        if (d >= reach) continue;
        // 1 inside, −1 outside, without a fork in the way of every pixel.
        out[i] = profile[(middle + ((out[i] >> 7) * 2 - 1) * d * perPixel) | 0];
      }
      distance.fill(Infinity, start, end);
    }
  }
}

function shadeByFactor(
  edge: Edge,
  _profile: Uint8Array,
  reach: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  const { distance, factor, touched } = scratch;
  const blocks = blocksPerRow(width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let block = 0; block < blocks; block++) {
      if (touched[y * blocks + block] === 0) continue;
      touched[y * blocks + block] = 0;
      const start = row + (block << blockShift);
      const end = Math.min(row + width, start + (1 << blockShift));
      for (let i = start; i < end; i++) {
        const d = distance[i];
        if (d < reach) out[i] = alphaAt(out[i] === 0 ? -d : d, edge, factor[i]);
      }
      distance.fill(Infinity, start, end);
    }
  }
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
  const low = -edge.spread - edge.featherOutside * factor;
  const width = (edge.featherInside + edge.featherOutside) * factor;
  const t = width >= 1 ? (d - low) / width : d - low - width / 2 + 0.5;
  if (t <= 0) return 0;
  if (t >= 1) return 255;
  return (255 * (width >= 1 ? t * t * (3 - 2 * t) : t) + 0.5) | 0;
}

const profileSteps = 4096;

/** Alpha by signed distance, from −reach to +reach in equal steps. */
function edgeProfile(low: number, high: number, reach: number): Uint8Array {
  const profile = new Uint8Array(profileSteps + 1);
  for (let k = 0; k <= profileSteps; k++) {
    const d = -reach + (2 * reach * k) / profileSteps;
    const t = Math.min(1, Math.max(0, (d - low) / (high - low)));
    profile[k] = Math.round(255 * (high - low > 1 ? t * t * (3 - 2 * t) : t));
  }
  return profile;
}

/** Joins a matte to those before it, pixel by pixel: the larger, what it leaves of them, or what lies in both. */
export function combineMatte(onto: Uint8Array, matte: Uint8Array, combine: Combine) {
  const n = onto.length;
  if (combine === 'add') {
    for (let i = 0; i < n; i++) if (matte[i] > onto[i]) onto[i] = matte[i];
  } else if (combine === 'keep only') {
    for (let i = 0; i < n; i++) if (matte[i] < onto[i]) onto[i] = matte[i];
  } else {
    for (let i = 0; i < n; i++) if (255 - matte[i] < onto[i]) onto[i] = 255 - matte[i];
  }
}

/** Share of the frame that the matte covers, 0 to 1. */
export function meanAlpha(matte: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < matte.length; i++) sum += matte[i];
  return matte.length === 0 ? 0 : sum / (matte.length * 255);
}

export { MatteScratch };
