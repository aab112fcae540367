import { leafChannels } from '../model/channels';
import type { CrossingDocument, OutlineRow } from '../document/tables';
import type { RowChange } from '../document/edit';
import { replaceMoves, setMove } from '../actions/move-actions';

/** Frames within which leaves swing open, and how far, degrees (common practice, no source). */
const swingFrames = 12;
const openAt = 105;

/** Keys that let leaves swing open from a frame, fast at first and slow to a stop, in place of those they had; null where the crossing is too short. */
export function swingKeys(
  before: CrossingDocument,
  leaves: readonly OutlineRow[],
  from: number,
): RowChange[] | null {
  if (from + swingFrames > before.crossing.length - 1) return null;
  const ids = leaves.map(({ id }) => id);
  // `ease-out` of CSS Easing Functions Level 1.
  const out = { onward: 'eased' as const, ease: [0, 0, 0.58, 1] };
  return replaceMoves(before, ids, leafChannels, (document) =>
    ids.flatMap((id) => [
      ...setMove(document, id, 'swing', from, 0, 0, out),
      ...setMove(document, id, 'swing', from + swingFrames, openAt, 0, out),
    ]),
  );
}
