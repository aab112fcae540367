import { MatteScratch, meanAlpha } from '../matte/matte';
import type { CrossingDocument } from '../document/document';
import { matteOf } from './picture';
import { cutAt, layerSourceFrame, type Shots, tracedLayer } from './scene';

/** Height in px of the mattes from which coverage is measured: enough for 0.1 %. */
const measuringHeight = 90;

/**
 * Share of the traced shot's frame that is cut away at a crossing frame, 0 to 1.
 *
 * @throws RangeError when the crossing has no layer with a shot.
 */
export function coverageAt(
  document: CrossingDocument,
  shots: Shots,
  frame: number,
  scratch: MatteScratch,
): number {
  const layer = tracedLayer(document);
  const shot = layer && shots[layer.shotId];
  if (!layer || !shot) throw new RangeError('Coverage needs a layer with a shot.');
  const cut = cutAt(document, layer.id, layerSourceFrame(document, layer, shot, frame));
  if (cut.extent !== 'outlined') return cut.extent === 'all' ? 1 : 0;
  return meanAlpha(matteOf(cut.posed, shot, Math.min(1, measuringHeight / shot.height), scratch).alpha);
}
