import { carrierBegun } from './carry-store';
import { current } from './commands';

type Place = readonly [x: number, y: number];

/**
 * The line along the edges of the traced shot's picture on this frame, in its px, and where it ends: on the strongest edge
 * within `within` px of `to`. Null where there is no picture to follow.
 */
export async function alongEdge(from: Place | null, to: Place, within: number) {
  const { traced, source } = current();
  if (!traced) return null;
  const carrier = await carrierBegun();
  try {
    return carrier && (await carrier.alongEdge(traced.shot.id, source, from, to, within));
  } catch {
    // A picture that cannot be had has no edges; that it cannot be had is said where it is shown.
    return null;
  }
}
