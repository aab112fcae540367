import { MatteScratch, meanAlpha } from '../matte/matte';
import type { PicturePlanes } from '../picture/planes';
import type { CrossingDocument } from '../document/document';
import { matteOf } from './picture';
import { tracedLayer } from '../document/plans';
import { cutAt, outlinesCutting, type Shots } from './scene';

/** Height in px of the mattes from which coverage is measured: enough for 0.1 %. */
const measuringHeight = 90;

/**
 * Share of the traced shot's frame that the wipe has taken at a crossing frame, 0 to 1: cut away, or brought in
 * where the layer keeps what its outlines enclose.
 *
 * @param planes the traced shot's picture there, which a keyed colour is looked for in.
 * @throws RangeError when the crossing has no layer with a shot.
 */
export function coverageAt(
  document: CrossingDocument,
  shots: Shots,
  frame: number,
  scratch: MatteScratch,
  planes: PicturePlanes | null = null,
): number {
  const layer = tracedLayer(document);
  const shot = layer && shots[layer.shotId];
  if (!layer || !shot) throw new RangeError('Coverage needs a layer with a shot.');
  const cut = cutAt(document, shots, layer, frame);
  if (cut.extent !== 'outlined') {
    // A layer that keeps and has no outline yet is whole, and nothing has come in.
    const traced = outlinesCutting(document, layer.id).length > 0;
    return (cut.extent === 'all') !== (layer.keeps && traced) ? 1 : 0;
  }
  const taken = { posed: cut.posed, full: cut.full, key: cut.key, keeps: false };
  return meanAlpha(matteOf(taken, shot, Math.min(1, measuringHeight / shot.height), scratch, planes).alpha);
}
