import { useVirtualizer } from '@tanstack/react-virtual';
import { type RefObject, useEffect } from 'react';
import { rowHeight } from './slipping';

/** px of the sheet's width, and of what lies above its rows in the window, before it is measured. */
const [sheetWidth, aboveRows] = [288, 74];
/** More rows than are in view at once on most screens. */
const rowsKept = 100;

/**
 * The rows that are in view, and the frame among them.
 *
 * @param count how many rows there are.
 * @param playing while it plays the sheet stays still: a loop's jump back would make all its rows anew at once.
 */
export function useRows(
  scroller: RefObject<HTMLDivElement | null>,
  { count, frame, playing }: { count: number; frame: number; playing: boolean },
) {
  const likelyHeight = window.innerHeight - aboveRows;
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 2,
    // Its rows are made with it, about where they will be: else all of them are made in one go once it is measured.
    initialRect: { width: sheetWidth, height: likelyHeight },
    initialOffset: () => Math.max(0, Math.min(frame + 4, count) * rowHeight - likelyHeight),
    // Scrolling goes on while the rows are made.
    useFlushSync: false,
  });
  const items = rows.getVirtualItems();
  // A row that leaves at one end comes in at the other, with new numbers: scrolling builds and moves nothing.
  const kept = Math.max(rowsKept, items.length);
  const slots = items
    .map(({ index, start }) => ({ slot: index % kept, index, start }))
    .sort((a, b) => a.slot - b.slot);

  useEffect(() => {
    if (playing) return;
    // From what the list already knows: asking the element for its size would lay the page out at every frame.
    const [from, height] = [rows.scrollOffset ?? 0, rows.scrollRect?.height ?? 0];
    const top = frame * rowHeight;
    if (!scroller.current || height === 0) return;
    if (top < from + 2 * rowHeight) scroller.current.scrollTop = top - 2 * rowHeight;
    else if (top + 4 * rowHeight > from + height) scroller.current.scrollTop = top + 4 * rowHeight - height;
  }, [scroller, frame, playing, rows, rows.scrollRect?.height]);

  return {
    slots,
    height: rows.getTotalSize(),
    first: items[0]?.index ?? 0,
    last: items[items.length - 1]?.index ?? 0,
  };
}
