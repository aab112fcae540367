import { tracedNow, sourceFrameOf } from './traced';
import { useView } from '../view/view-store';
import { startingCoordinates } from '@/core/outline';

/** The traced layer, the outline and the frame that a command acts on. */
export function current() {
  const traced = tracedNow();
  const view = useView.getState();
  const outline =
    traced && (traced.outlines.find(({ id }) => id === view.outlineId) ?? traced.outlines[0] ?? null);
  return { traced, view, outline, source: traced ? sourceFrameOf(traced, view.frame) : 0 };
}

/** Coordinates that the outline in hand is drawn with at the current frame, posed or not. */
export function currentCoordinates(): readonly number[] | null {
  const { traced, outline, source } = current();
  return traced && outline ? startingCoordinates(traced.document.poses[outline.id] ?? [], source) : null;
}

export function framePhrase(): string {
  return `frame ${useView.getState().frame}`;
}

/** Why the outline in hand is left alone, or null. */
export function lockedNow(): string | null {
  const { outline } = current();
  return outline?.locked ? `${outline.name} is locked. Unlock it in Trace.` : null;
}
