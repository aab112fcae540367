import type { OutlineRow } from '@/core/document/tables';
import { useDocument } from '../document/document-store';
import { setView, useView } from '../view/view-store';
import { lineOn } from './carried-by';
import { carryOn, type Gathered, keepGathered, timesStopped, useCarry } from './carry-store';
import { goTo } from '../session/go-to';
import { current } from '../session/in-hand';

/** The traced layer's outlines that can be carried from this frame: with a line here, not locked, no parts of a subject. */
export function carriedTogether(): OutlineRow[] {
  const { traced, source } = current();
  if (!traced) return [];
  return traced.outlines.filter(({ id, locked, subjectId }) => {
    if (locked || (subjectId !== null && subjectId !== id)) return false;
    return lineOn(traced.document.poses[id] ?? [], source) !== null;
  });
}

/**
 * Carries all outlines of the traced layer on from this frame, one after the other, as one edit; then this frame is shown
 * again, with the outline that was in hand. Returns what came of each, or why nothing was done.
 */
export async function carryAllOn(direction: 1 | -1): Promise<string | null> {
  const together = carriedTogether();
  // While something is being carried it is said so, and nothing else is done.
  if (together.length < 2 || useCarry.getState().under) return carryOn(direction);
  const crossingId = () => useDocument.getState().document?.crossing.id;
  const begunOn = crossingId();
  const { frame, outlineId } = useView.getState();
  const stopped = timesStopped();
  const said: string[] = [];
  const gathered: Gathered = [];
  for (const { id, name } of together) {
    goTo(frame);
    setView({ outlineId: id, points: new Set() });
    const came = await carryOn(direction, gathered);
    if (came) said.push(`${name}: ${came}`);
    if (crossingId() !== begunOn) return null;
    if (timesStopped() !== stopped) break;
  }
  keepGathered(gathered);
  goTo(frame);
  setView({ outlineId, points: new Set() });
  return said.length > 0 ? said.join(' ') : null;
}
