import { type Passage, passes } from '../begin/passage';
import type { Plan, Sureness } from '../model/choices';
import type { Shot } from '../model/shot';

/** The plan that two shots ask for, what that rests on, and how sure it is. */
export interface PlanJudgement {
  plan: Plan;
  says: string;
  sure: Sureness;
}

/** Frames within which something crosses or opens; what moves for longer does neither (common practice, no source). */
export const longestPass = 250;

/** Looks on which an edge has to be seen for its passage to be sure. */
const sureLooks = 6;

/** How sure a passage is. */
export function surenessOf(passage: Passage): Sureness {
  return passes(passage) && passage.seenOn.length >= sureLooks ? 'sure' : 'likely';
}

/** What was looked for in a shot, and found. */
export interface LookedAt {
  motion: Shot['motion'];
  /** The passage of the edge that a plan would trace in it; null where none was found, or it was not looked for. */
  passage: Passage | null;
}

/**
 * The plan that what moves in two shots asks for: what passes in the outgoing shot lays the incoming one bare; what passes in the
 * incoming one only brings it in; what moves without passing opens.
 *
 * @returns null where nothing crosses in either.
 */
export function planFor(outgoing: LookedAt, incoming: LookedAt): PlanJudgement | null {
  if (passes(outgoing.passage))
    return {
      plan: 'pass-by',
      says: `${passing(outgoing.passage)} in the outgoing shot.`,
      sure: surenessOf(outgoing.passage),
    };
  if (passes(incoming.passage))
    return {
      plan: 'arrival',
      says: `${passing(incoming.passage)} in the incoming shot, nothing in the outgoing one.`,
      sure: surenessOf(incoming.passage),
    };
  const crosser = outgoing.motion?.crosser;
  if (crosser?.kind === 'opens' && crosser.closes - crosser.opens <= longestPass)
    return {
      plan: 'opening',
      says: 'Something moves in the outgoing shot and comes to rest; nothing passes from side to side.',
      sure: 'likely',
    };
  if (outgoing.passage)
    return {
      plan: 'pass-by',
      says: `${passing(outgoing.passage)} in the outgoing shot; it was not seen to go all the way.`,
      sure: 'likely',
    };
  return null;
}

function passing({ direction, speed }: Passage): string {
  return `Something passes to the ${direction > 0 ? 'right' : 'left'}, ${Math.round(speed)} px a frame`;
}
