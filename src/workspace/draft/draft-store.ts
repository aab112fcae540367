import { create } from 'zustand';

/** What a draft does besides, where a person wants it. */
export interface DraftOptions {
  /** Whether it may lay the crossing out by another plan. */
  plan: boolean;
  sound: boolean;
  push: boolean;
}

interface DraftState {
  /** What is under way, in words; null: nothing is. */
  under: string | null;
  options: DraftOptions;
  /** What came of the last one, as far as the list does not say it. */
  says: string | null;
}

const usual: DraftOptions = { plan: false, sound: true, push: false };

export const useDraft = create<DraftState>(() => ({ under: null, options: usual, says: null }));

/** Forgets what another crossing's draft was asked for. */
export function resetDraft() {
  useDraft.setState({ under: null, options: usual, says: null });
}

export function setDraftOptions(options: Partial<DraftOptions>) {
  useDraft.setState({ options: { ...useDraft.getState().options, ...options } });
}
