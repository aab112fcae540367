import { layersInOrder } from '@/core/document/document';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';

/** The layers that have a column, from the top down: those that are seen, and the one in hand. */
export function shownColumns(document: CrossingDocument, inHand: string | null): LayerRow[] {
  return layersInOrder(document)
    .reverse()
    .filter(({ id, visible }) => visible || id === inHand);
}
