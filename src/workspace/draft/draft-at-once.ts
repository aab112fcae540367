import type { DraftOptions } from './draft-store';

/** What the address of a crossing ends with that is to be drafted as soon as it is open; with its plan, or as its plan is. */
export const toDraft = { withPlan: '#draft-with-plan', asPlanned: '#draft' } as const;

/** Whether this crossing is to be drafted; it may be asked again. */
export function isAskedToDraft(): boolean {
  const { hash } = window.location;
  return hash === toDraft.withPlan || hash === toDraft.asPlanned;
}

/** How this crossing is to be drafted; asked again it is not, nor after the page is loaded again. */
export function isToDraft(): Partial<DraftOptions> | null {
  const { hash } = window.location;
  if (!isAskedToDraft()) return null;
  window.history.replaceState(window.history.state, '', window.location.pathname);
  return { plan: hash === toDraft.withPlan };
}
