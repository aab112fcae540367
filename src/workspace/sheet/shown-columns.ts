import { layersInOrder } from '@/core/document/document';
import type { CrossingDocument, LayerRow } from '@/core/document/tables';

/** The layers that have a column, from the top down: those that are seen, and the one in hand. */
export function shownColumns(document: CrossingDocument, inHand: string | null): LayerRow[] {
  return layersInOrder(document)
    .reverse()
    .filter(({ id, visible }) => visible || id === inHand);
}

/** px of the columns of a sheet, and between them: as it is with pictures, and narrow. */
export const sheetColumns = {
  wide: { number: 44, source: 32, picture: 58, gap: 6 },
  narrow: { number: 38, source: 27, picture: 0, gap: 4 },
} as const;
/** Width of an outline's thread, px. */
export const threadWidth = 16;
/** px of the narrowest bar, and of what lies to both sides of all columns. */
const [bar, beside] = [34, 22];

/** px that a narrow sheet takes. */
export function narrowSheetWidth(layers: number, outlines: number): number {
  const { number, source, gap } = sheetColumns.narrow;
  return number + layers * (source + gap) + outlines * (threadWidth + gap) + gap + bar + beside;
}
