import { readyPreview } from './preview/preview-client';

/** What opening a crossing loads, in the order in which it is wanted. */
const parts = [
  () => import('./Workspace'),
  async () => readyPreview(),
  () => import('./hand/Overlay'),
  () => import('./sheet/Sheet'),
  () => import('./Steps'),
  () => import('./picture/LaneStrip'),
];

/** ms left to the page between two of them. */
const between = 60;

/** Reads what opening a crossing needs while nobody waits for it, one part after the other, until `wanted` says no. */
export async function readAhead(wanted: () => boolean) {
  for (const part of parts) {
    if (!wanted()) return;
    // A part that fails to load now is loaded again when it is needed; errors are shown then.
    await part().catch(() => {});
    await new Promise((done) => setTimeout(done, between));
  }
}
