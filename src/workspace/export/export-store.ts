import { create } from 'zustand';
import { sentenceOf } from '@/interface/api';
import { startWorker, told } from '@/interface/start-worker';
import type { ExportOrder } from '@/render/export';
import type { ExportService } from '@/render/export.worker';
import type { Spent } from '@/footage/spent';
import { exportFormats } from '@/core/formats/export-formats';
import { type ExportRange, stretchOf } from '@/core/formats/export-range';
import { exportTimecode } from '@/core/formats/export-timecode';
import { rateOf } from '@/core/time/rate';
import { sourceTimecodeFrom } from '@/core/time/source-timecode';
import { useDocument } from '../document/document-store';
import { useBusy } from '../session/busy';

export type ExportJob =
  | { state: 'idle' | 'cancelled' }
  | {
      state: 'writing' | 'storing';
      share: number;
      written: number;
      of: number;
      secondsLeft: number | null;
      waits?: string | null;
    }
  | { state: 'done'; id: string; spent: Spent }
  | { state: 'failed'; message: string };

export const useExport = create<ExportJob>(() => ({ state: 'idle' }));
function set(job: ExportJob) {
  useExport.setState(job, true);
  const exporting = job.state === 'writing' || job.state === 'storing';
  if (useBusy.getState().exporting !== exporting) useBusy.setState({ exporting });
}

/** What a person has chosen for an export. */
export type ExportChoice = Pick<ExportOrder, 'format' | 'quality' | 'part' | 'sound' | 'loudness'> & {
  range: ExportRange;
  /** Of the first frame, as it was typed; empty: none; null: as the outgoing shot has it. */
  timecode: string | null;
};

/** An export that waits until those before it are done. */
export interface WaitingExport {
  id: string;
  choice: ExportChoice;
  handles: number;
}

interface Queue {
  /** Exports of the open crossing that wait, in their order. */
  waiting: readonly WaitingExport[];
  /** What became of those that failed while others waited. */
  failed: readonly string[];
}

export const useExportQueue = create<Queue>(() => ({ waiting: [], failed: [] }));
export const mostWaiting = 20;

let cancel: (() => void) | null = null;

export function cancelExport() {
  cancel?.();
}

/** Gives up on what is being written, as when the page is left. */
export function resetExport() {
  useExportQueue.setState({ waiting: [], failed: [] });
  cancel?.();
  set({ state: 'idle' });
}

/** ms that a cancelled worker has to clear up before it is ended. */
const clearingUp = 1500;

/** Takes an export that waits out of the queue. */
export function leaveQueue(id: string) {
  useExportQueue.setState(({ waiting }) => ({ waiting: waiting.filter((each) => each.id !== id) }));
}

/** Writes the open crossing, as it is when its turn comes: at once, or after what is being written. */
export async function startExport(choice: ExportChoice, handles: number) {
  if (cancel) {
    const own = { id: crypto.randomUUID(), choice, handles };
    useExportQueue.setState(({ waiting }) =>
      waiting.length < mostWaiting ? { waiting: [...waiting, own] } : {},
    );
    return;
  }
  useExportQueue.setState({ failed: [] });
  for (let next: Omit<WaitingExport, 'id'> | undefined = { choice, handles }; next;) {
    await write(next.choice, next.handles);
    const [first] = useExportQueue.getState().waiting;
    const job = useExport.getState();
    // What comes next would hide it.
    if (first && job.state === 'failed') {
      const says = `${exportFormats[next.choice.format].label}: ${job.message}`;
      useExportQueue.setState(({ failed }) => ({ failed: [...failed, says] }));
    }
    if (first) leaveQueue(first.id);
    next = first;
  }
}

/** Draws and encodes the open crossing in a worker, which stores the file under Exports as it grows. */
async function write(choice: ExportChoice, handles: number) {
  const opened = useDocument.getState().document;
  if (!opened) return;
  const abort = new AbortController();
  const { service, failed, end } = startWorker<ExportService>(
    new Worker(new URL('../../render/export.worker.ts', import.meta.url), { type: 'module' }),
  );
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
  let begunId: string | null = null;
  // A page that is left takes its half file along.
  const onLeave = () =>
    begunId && void fetch(`/api/exports/${begunId}?of=under-way`, { method: 'DELETE', keepalive: true });
  window.addEventListener('pagehide', onLeave);
  set({ state: 'writing', share: 0, written: 0, of: 0, secondsLeft: null });
  try {
    // What is exported must be what is saved: the revision is stored with it.
    const saved = await savedDocument(opened.crossing.id, abort.signal);
    const { shots: media, revision } = saved;
    const shots = Object.fromEntries(media.map(({ shot }) => [shot.id, shot]));
    const { range, timecode: typed, ...chosen } = choice;
    const { document, from, to, shotName } = stretchOf(saved.document, shots, range, handles);
    const timecode =
      typed === null
        ? exportTimecode({ document, from }, shots)
        : typed === ''
          ? null
          : sourceTimecodeFrom(typed, rateOf(document.crossing));
    set({ state: 'writing', share: 0, written: 0, of: to - from + 1, secondsLeft: null });
    const onBegun = told((id: string) => {
      begunId = id;
    });
    const onProgress = told((written: number, total: number) => {
      if (abort.signal.aborted) return;
      const perFrame = (performance.now() - started) / 1000 / written;
      const last = written === total;
      set({
        state: last ? 'storing' : 'writing',
        share: (written / total) * 0.98,
        written,
        of: total,
        secondsLeft: written < 5 || last ? null : Math.ceil(perFrame * (total - written)),
      });
    });
    const onWaiting = told((waits: string | null) => {
      const job = useExport.getState();
      if (job.state === 'writing' || job.state === 'storing') set({ ...job, waits });
    });
    const running = service.run(
      { document, media, revision, ...chosen, shotName, from, to, heardTo: to, timecode },
      onBegun,
      onProgress,
      onWaiting,
    );
    const done = await Promise.race([running, cancellation, failed]);
    if (!done || abort.signal.aborted) {
      await Promise.race([running.catch(() => {}), new Promise((done) => setTimeout(done, clearingUp))]);
      return set({ state: 'cancelled' });
    }
    set({ state: 'done', ...done });
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
    window.removeEventListener('pagehide', onLeave);
    end();
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
