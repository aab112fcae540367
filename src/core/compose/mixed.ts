import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { rampSpeedAt } from '../time/ramp';
import { rateOf } from '../time/rate';
import { sourcePositionAt } from '../time/time-map';

/** Share of a frame, or of what is left to the next, that is not seen: half a code value. */
const unseen = 0.5 / 255;
/** Percent of its speed under which a ramped layer stands still: a mix would only blur it. */
const still = 0.5;

/**
 * The frame that a layer's source frame is mixed with at a crossing frame, and how much of that one is seen, 0 to 1: by
 * where the crossing frame lies between the two. Null where they meet, where nothing is to be mixed, or where there is
 * no further frame.
 *
 * @param first, last frames of its shot that the layer can show.
 */
export function mixedWith(
  { crossing }: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
  source: number,
  [first, last]: readonly [first: number, last: number],
): { next: number; share: number } | null {
  if (layer.betweens !== 'mixed' || source === layer.holdFrom) return null;
  if (layer.ramp.length > 0 && Math.abs(rampSpeedAt(layer, frame)) < still) return null;
  const past = sourcePositionAt(frame, layer, rateOf(crossing), shot) - source;
  const share = Math.abs(past);
  const next = source + (layer.reverse ? -1 : 1);
  if (share < unseen || share > 1 || next < first || next > last) return null;
  return { next, share };
}
