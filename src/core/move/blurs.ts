import type { CrossingDocument } from '../document/document';
import type { RowChange } from '../document/edit';
import { inPlaceOf, removeMoves, setMove } from '../document/move-actions';
import { applyChanges } from '../document/document';

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
  const old = Object.values(before.moves).filter((row) => row.ownerId === ownerId && row.channel === channel);
  const last = before.crossing.length - 1;
  const at = Math.min(last - 1, Math.max(1, frame));
  const moments = [
    [Math.max(0, at - rise), 0],
    [at, peak[channel]],
    [Math.min(last, at + rise), 0],
  ];
  const eased = { onward: 'eased' as const, ease: [] };
  const document = applyChanges(before, removeMoves(old));
  const put = moments.flatMap(([moment, value]) =>
    setMove(document, ownerId, channel, moment, value, 0, eased),
  );
  return inPlaceOf(before, old, put);
}
