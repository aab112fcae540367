import type { CrossingDocument } from '../document/tables';
import type { RowChange } from '../document/edit';
import { replaceMoves, setMove } from '../actions/move-actions';

/** Frames over which a blur rises, and falls again (common practice, no source). */
const rise = 6;
/** How strong it gets: px along, percent towards a point (common practice, no source). */
const peak = { 'blur-along': 60, 'blur-towards': 14 };

/** Keys of a blur that rises to a frame and falls after it, in place of those it had. */
export function riseAndFall(
  before: CrossingDocument,
  ownerId: string,
  channel: 'blur-along' | 'blur-towards',
  frame: number,
): RowChange[] {
  const last = before.crossing.length - 1;
  const at = Math.min(last - 1, Math.max(1, frame));
  const eased = { onward: 'eased' as const, ease: [] };
  return replaceMoves(before, [ownerId], [channel], (document) =>
    [
      [Math.max(0, at - rise), 0],
      [at, peak[channel]],
      [Math.min(last, at + rise), 0],
    ].flatMap(([moment, value]) => setMove(document, ownerId, channel, moment, value, 0, eased)),
  );
}
