import type { FeatherSide } from '../document/rows';
import type { Region } from '../outline/region';
import { coverage } from './coverage';
import { bandDistance } from './distance';
import { blockShift, blocksPerRow, MatteScratch } from './scratch';
import { insideSpans } from './spans';

/** How a region's edge is drawn; widths in the pixels of the matte. */
export interface Edge {
  featherSide: FeatherSide;
  /** Width of the soft edge, 0 or more. */
  feather: number;
  /** How far the region is grown (+) or shrunk (−). */
  spread: number;
}

/**
 * The matte of a region: alpha 0 to 255 for each pixel, row by row.
 *
 * Without feather and spread it is the exact area coverage. Else it follows the signed distance d to the line
 * (px, positive inside): spread moves the edge to d = −spread, and feather makes it a smooth step, 3t² − 2t³,
 * over its width: about the edge (*both*), all of it within (*inside*) or all beyond (*outside*). An edge under
 * one pixel wide is drawn as a ramp one pixel wide about its middle, which is what the area of a straight edge
 * comes to.
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
  if (edge.feather === 0 && edge.spread === 0) {
    coverage(region.polygon, width, height, out, scratch);
    return;
  }
  const { low, high } = edgeRange(edge);
  const reach = Math.max(Math.abs(low), Math.abs(high)) + 1;
  bandDistance(region.line, region.closed, reach, width, height, scratch);
  const spans = insideSpans(region.polygon, width, height);
  const { distance, touched } = scratch;
  const blocks = blocksPerRow(width);
  const profile = edgeProfile(low, high, edge.feather >= 1, reach);
  const perPixel = (profile.length - 1) / (2 * reach);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    out.fill(0, row, row + width);
    for (let k = spans.starts[y]; k < spans.starts[y + 1]; k += 2) {
      out.fill(255, row + spans.columns[k], row + spans.columns[k + 1]);
    }
    for (let block = 0; block < blocks; block++) {
      if (touched[y * blocks + block] === 0) continue;
      touched[y * blocks + block] = 0;
      const end = row + Math.min(width, (block + 1) << blockShift);
      for (let i = row + (block << blockShift); i < end; i++) {
        const d = distance[i];
        if (d < reach) out[i] = profile[((out[i] === 0 ? reach - d : reach + d) * perPixel + 0.5) | 0];
        distance[i] = Infinity;
      }
    }
  }
}

/** Signed distances (px, positive inside) between which the edge rises from empty to full. */
function edgeRange({ feather, featherSide, spread }: Edge): { low: number; high: number } {
  if (feather < 1) return { low: -spread - 0.5, high: -spread + 0.5 };
  const outward = featherSide === 'outside' ? feather : featherSide === 'both' ? feather / 2 : 0;
  return { low: -spread - outward, high: -spread - outward + feather };
}

const profileSteps = 4096;

/** Alpha by signed distance, from −reach to +reach in equal steps. */
function edgeProfile(low: number, high: number, smooth: boolean, reach: number): Uint8Array {
  const profile = new Uint8Array(profileSteps + 1);
  for (let k = 0; k <= profileSteps; k++) {
    const d = -reach + (2 * reach * k) / profileSteps;
    const t = Math.min(1, Math.max(0, (d - low) / (high - low)));
    profile[k] = Math.round(255 * (smooth ? t * t * (3 - 2 * t) : t));
  }
  return profile;
}

/** Joins a matte to those before it: each pixel takes the larger alpha. */
export function addMatte(onto: Uint8Array, matte: Uint8Array) {
  for (let i = 0; i < onto.length; i++) if (matte[i] > onto[i]) onto[i] = matte[i];
}

/** Share of the frame that the matte covers, 0 to 1. */
export function meanAlpha(matte: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < matte.length; i++) sum += matte[i];
  return matte.length === 0 ? 0 : sum / (matte.length * 255);
}

export { MatteScratch };
