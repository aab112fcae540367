import * as Comlink from 'comlink';
import { create } from 'zustand';
import type { ExportFormat } from '@/footage/video-writer';
import { exportFormats } from '@/footage/video-writer';
import { call, sentenceOf, send } from '@/interface/api';
import type { ExportService } from '@/render/export.worker';
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
  const { document, shots } = useDocument.getState();
  if (!document || cancel) return;
  const abort = new AbortController();
  const worker = new Worker(new URL('../render/export.worker.ts', import.meta.url), { type: 'module' });
  const service = Comlink.wrap<ExportService>(worker);
  const started = performance.now();
  const total = document.crossing.length + 2 * handles;
  let cancelled: () => void = () => {};
  const cancellation = new Promise<null>((resolve) => {
    cancelled = () => resolve(null);
  });
  cancel = () => {
    abort.abort();
    void service.cancel();
    cancelled();
  };
  set({ state: 'writing', share: 0, written: 0, of: total, secondsLeft: null });
  try {
    // What is exported must be what is saved: the revision is stored with it.
    const { revision } = await savedRevision(document.crossing.id);
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

async function savedRevision(crossingId: string): Promise<{ revision: number }> {
  for (let tries = 0; useDocument.getState().save.kind !== 'saved'; tries++) {
    if (tries > 100) throw new Error('The latest changes could not be saved first.');
    await new Promise((done) => setTimeout(done, 100));
  }
  return call<{ revision: number }>(`/api/crossings/${crossingId}/revision`);
}
