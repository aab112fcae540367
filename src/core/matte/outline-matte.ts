import type { OutlineRow } from '../document/rows';
import { flattenOutline, regionOf } from '../outline';
import { addMatte, drawMatte, type MatteScratch } from './matte';

/** An outline together with where its points are at one frame. */
export interface PosedOutline {
  outline: OutlineRow;
  coordinates: readonly number[];
}

/**
 * The matte of a layer's outlines: what they cut away, alpha 0 to 255, at `scale` of the shot's size.
 *
 * @param width, height of the matte in its own pixels: the shot's size times `scale`, rounded.
 * @param out width·height bytes, written whole.
 */
export function drawOutlines(
  posed: readonly PosedOutline[],
  scale: number,
  width: number,
  height: number,
  out: Uint8Array,
  scratch: MatteScratch,
) {
  out.fill(0);
  posed.forEach(({ outline, coordinates }, i) => {
    const edge = {
      featherSide: outline.featherSide,
      feather: outline.feather * scale,
      spread: outline.spread * scale,
    };
    const line = flattenOutline(
      coordinates,
      outline.kind === 'loop',
      scale,
      flatteningTolerance(edge.feather),
    );
    if (line.length < 4 || (outline.kind === 'loop' && line.length < 6)) return;
    const region = regionOf(line, outline.kind, outline.sweptSide, width, height);
    const target = i === 0 ? out : new Uint8Array(out.length);
    drawMatte(region, edge, width, height, target, scratch);
    if (target !== out) addMatte(out, target);
  });
}

/** A soft edge rises by at most 1.5·255/feather code values a px: its polyline may be off by what is under one. */
function flatteningTolerance(feather: number): number {
  return Math.min(0.1, Math.max(0.02, feather / 400));
}
