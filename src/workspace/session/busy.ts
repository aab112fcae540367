import { create } from 'zustand';

/** What the page is doing that other work makes way for. */
export const useBusy = create<{ exporting: boolean }>(() => ({ exporting: false }));
