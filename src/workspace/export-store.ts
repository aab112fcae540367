import * as Comlink from 'comlink';
import { create } from 'zustand';
import type { ExportFormat } from '@/footage/video-writer';
import { exportFormats } from '@/footage/video-writer';
import { sentenceOf, send } from '@/interface/api';
import type { ExportService } from '@/render/export.worker';
import { playedLength } from '@/core/document/document';
import { useDocument } from './document-store';

type ExportJob =
  | { state: 'idle' | 'cancelled' }
  | { state: 'writing' | 'storing'; share: number; written: number; of: number; secondsLeft: number | null }
  | { state: 'done'; id: string }
  | { state: 'failed'; message: string };

export const useExport = create<ExportJob>(() => ({ state: 'idle' }));
const set = (job: ExportJob) => useExport.setState(job, true);

let cancel: (() => void) | null = null;

export function cancelExport() {
  cancel?.();
}

/** Gives up on what is being written, as when the page is left. */
export function resetExport() {
  cancel?.();
  set({ state: 'idle' });
}

/** Draws and encodes the open crossing in a worker, then stores the file under Exports. */
export async function startExport(format: ExportFormat, handles: number) {
  const opened = useDocument.getState().document;
  if (!opened || cancel) return;
  const abort = new AbortController();
  const worker = new Worker(new URL('../render/export.worker.ts', import.meta.url), { type: 'module' });
  const service = Comlink.wrap<ExportService>(worker);
  const started = performance.now();
  let cancelled: () => void = () => {};
  const cancellation = new Promise<null>((resolve) => {
    cancelled = () => resolve(null);
  });
  cancel = () => {
    abort.abort();
    void service.cancel();
    cancelled();
  };
  const of = playedLength(opened) + 2 * handles;
  set({ state: 'writing', share: 0, written: 0, of, secondsLeft: null });
  try {
    // What is exported must be what is saved: the revision is stored with it.
    const { document, shots, revision } = await savedDocument(opened.crossing.id, abort.signal);
    const total = playedLength(document) + 2 * handles;
    const onProgress = Comlink.proxy((written: number, of: number) => {
      if (abort.signal.aborted) return;
      const perFrame = (performance.now() - started) / 1000 / written;
      set({
        state: 'writing',
        share: (written / of) * 0.97,
        written,
        of,
        secondsLeft: written < 5 ? null : Math.ceil(perFrame * (of - written)),
      });
    });
    const failed = new Promise<never>((_, reject) => {
      worker.onerror = (event) => reject(new Error(event.message || 'The export worker stopped.'));
    });
    const file = await Promise.race([
      service.run({ document, media: shots, format, handles }, onProgress),
      cancellation,
      failed,
    ]);
    if (!file || abort.signal.aborted) return set({ state: 'cancelled' });
    const query = new URLSearchParams({
      crossingId: document.crossing.id,
      revision: String(revision),
      format,
      frameCount: String(total),
    });
    set({ state: 'storing', share: 0.98, written: total, of: total, secondsLeft: null });
    const { id } = await send<{ id: string }>(
      'POST',
      `/api/exports?${query}`,
      new Blob([file], { type: exportFormats[format].mimeType }),
      () => {},
      abort.signal,
    );
    set({ state: 'done', id });
  } catch (error) {
    set(
      abort.signal.aborted
        ? { state: 'cancelled' }
        : {
            state: 'failed',
            message: `The export failed: ${sentenceOf(error)} Nothing was kept; the crossing is as it was.`,
          },
    );
  } finally {
    worker.terminate();
    cancel = null;
  }
}

/** The open crossing at a moment when all of it is on the server, and its revision there. */
async function savedDocument(crossingId: string, signal: AbortSignal) {
  for (let tries = 0; tries < 100; tries++) {
    signal.throwIfAborted();
    const { document, shots, savedRevision } = useDocument.getState();
    const revision = savedRevision();
    if (revision !== null && document?.crossing.id === crossingId) return { document, shots, revision };
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('The latest changes could not be saved first.');
}
