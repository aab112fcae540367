import type { Place } from '@/core/trail/edge-trail';
import { sentenceOf } from '@/interface/api';
import { carrierBegun, useCarry } from './carry-store';
import { current } from '../session/in-hand';

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
  } catch (error) {
    useCarry.setState({ says: `The edge could not be followed: ${sentenceOf(error)}` });
    return null;
  }
}
