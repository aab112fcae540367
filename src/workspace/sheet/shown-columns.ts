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
  narrow: { number: 36, source: 25, picture: 0, gap: 3 },
} as const;
/** Width of an outline's thread, px. */
export const threadWidth = 16;
/** px to the right of all columns, where findings stand. */
export const gutter = 19;
/** px of the narrowest bar, and of what lies to both sides of all columns: with their scroll bar. */
const [bar, beside] = [21, gutter + 12];

/** px that a narrow sheet takes. */
export function narrowSheetWidth(layers: number, outlines: number): number {
  const { number, source, gap } = sheetColumns.narrow;
  return number + layers * (source + gap) + outlines * (threadWidth + gap) + gap + bar + beside;
}
