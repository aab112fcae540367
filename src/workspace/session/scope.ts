import { current } from './in-hand';
import { sourceFrameOf } from './traced';

/** Which poses besides the one on this frame a change goes for, by their source frame; null: none. */
export function posesInScope(): ((source: number) => boolean) | null {
  const { view } = current();
  if (view.scope === 'all') return () => true;
  return view.scope === 'selected' ? selectedSources() : null;
}

/** Whether the traced shot shows a source frame on the frames selected in the sheet. */
export function selectedSources(): (source: number) => boolean {
  const { traced, view } = current();
  const [first, last] = view.range ?? [view.frame, view.frame];
  const sources = new Set<number>();
  for (let frame = first; traced && frame <= last; frame++) sources.add(sourceFrameOf(traced, frame));
  return (source) => sources.has(source);
}
