import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { sourceAt } from '../time/frame-table';

export type Shots = Readonly<Record<string, Shot>>;

/** The source frame a layer's time map gives at a crossing frame; it may lie outside the shot. */
export function layerSourceFrame(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): number {
  return sourceAt(layer, document.crossing, shot, frame);
}

/** First and last source frame that a layer can show. */
export function shownRange(layer: LayerRow, shot: Shot): [first: number, last: number] {
  const end = shot.frameCount - 1;
  return [Math.max(0, layer.trimIn ?? 0), Math.min(end, layer.trimOut ?? end)];
}

/** The source frame that a layer shows at a crossing frame, or null where it has no picture. */
export function shownSourceFrame(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): number | null {
  const source = layerSourceFrame(document, layer, shot, frame);
  const [first, last] = shownRange(layer, shot);
  return source >= first && source <= last ? source : null;
}

/** A shot's frames that a layer has to spare: before the first that it shows in the crossing, and after the last. */
export function handlesOf(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
): [before: number, after: number] | null {
  let [first, last] = [Infinity, -Infinity];
  for (let frame = 0; frame < document.crossing.length; frame++) {
    const source = shownSourceFrame(document, layer, shot, frame);
    if (source === null) continue;
    [first, last] = [Math.min(first, source), Math.max(last, source)];
  }
  return first > last ? null : [first, shot.frameCount - 1 - last];
}
