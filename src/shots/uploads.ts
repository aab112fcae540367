import { BlobSource } from 'mediabunny';
import { create } from 'zustand';
import type { Rate } from '@/core/model/time';
import { readFacts } from '@/footage/facts';
import { FootageRefusal, refusal } from '@/footage/refusal';
import { type Intake, intakesOf } from '@/footage/stills';
import { call, send, sentenceOf, ServerRefusal, ServerUnreachable } from '@/interface/api';
import type { JobListing, ShotMedia, TakenIn, UploadState } from '@/wire/answers';

export interface Upload {
  id: number;
  name: string;
  /** Bytes. */
  size: number;
  sent: number;
  state:
    | 'checking'
    | 'sending'
    | 'waiting'
    | 'indexing'
    | 'converting'
    | 'done'
    | 'cancelled'
    | 'refused'
    | 'not converted';
  /** Frames converted, of all; 0 of 0 before they are counted. */
  frames?: { done: number; of: number };
  message?: string;
}

export const useUploads = create<{ uploads: Upload[] }>(() => ({ uploads: [] }));

const pieceSize = 8 * 1024 * 1024;
/** Seconds between tries while the server is out of reach. */
const patience = [1, 2, 4, 8];
/** ms between two looks at how far a conversion has come. */
const lookAgain = 1000;

const nothingKept = 'Cancelled; nothing was kept.';

const cancels = new Map<number, AbortController>();
let count = 0;

function update(id: number, change: Partial<Upload>) {
  useUploads.setState(({ uploads }) => ({
    uploads: uploads.map((each) => (each.id === id ? { ...each, ...change } : each)),
  }));
}

export function cancelUpload(id: number) {
  cancels.get(id)?.abort();
}

export function cancelAll() {
  cancels.forEach((abort) => abort.abort());
}

export function dismissUpload(id: number) {
  useUploads.setState(({ uploads }) => ({ uploads: uploads.filter((each) => each.id !== id) }));
}

/** Videos in containers that the browser does not open; the server may convert them. */
const otherVideo = /\.(avi|mpe?g|m2v|m2ts?|mts|ts|mxf|wmv|flv|3gp|dv|ogv|vob|asf)$/i;

/**
 * Brings in files and sequences one after the other; each is looked at here before a byte is sent. A connection that
 * drops is waited for, and what has arrived is not sent again: neither then nor after a reload.
 *
 * @param rate of stills.
 * @param onArrived told whenever a shot, or a conversion of one, is new.
 * @param onEnd told of each, counted as `intakesOf` has them, what it became; null: it was refused, cancelled or not converted, of
 * which the last comes after it was told to be converted.
 */
export async function bringIn(
  files: readonly File[],
  rate: Rate,
  limit: number,
  onArrived: () => void,
  onEnd: (which: number, taken: TakenIn | null) => void = () => {},
) {
  const queued = intakesOf(files).map((intake) => ({ id: ++count, intake, abort: new AbortController() }));
  queued.forEach(({ id, abort }) => cancels.set(id, abort));
  useUploads.setState(({ uploads }) => ({
    uploads: [
      ...uploads,
      ...queued.map(({ id, intake }) => ({
        id,
        name: intake.files.length > 1 ? `${intake.name} (${intake.files.length} pictures)` : intake.name,
        size: sizeOf(intake),
        sent: 0,
        state: 'checking' as const,
      })),
    ],
  }));
  for (const [which, { id, intake, abort }] of queued.entries()) {
    try {
      abort.signal.throwIfAborted();
      await check(intake, limit);
      abort.signal.throwIfAborted();
      const taken = await sendWhole(id, intake, rate, abort.signal);
      const converting = 'jobId' in taken;
      update(id, { state: converting ? 'converting' : 'done', sent: sizeOf(intake) });
      onEnd(which, taken);
      onArrived();
      if (converting)
        void converted(id, taken.jobId).then((isIn) => (isIn ? onArrived() : onEnd(which, null)));
    } catch (error) {
      if (abort.signal.aborted) update(id, { state: 'cancelled', message: nothingKept });
      else update(id, { state: 'refused', message: sentenceOf(error) });
      onEnd(which, null);
    } finally {
      if (cancels.get(id) === abort) cancels.delete(id);
    }
  }
}

/** Looks at a conversion until it has ended; whether the shot is in the footage. It goes on without this page, too. */
async function converted(id: number, jobId: string): Promise<boolean> {
  const abort = new AbortController();
  cancels.set(id, abort);
  try {
    for (;;) {
      await new Promise((resolve) => setTimeout(resolve, lookAgain));
      try {
        if (abort.signal.aborted) await call(`/api/jobs/${jobId}`, 'DELETE').catch(unlessGone);
        const job = (await call<JobListing[]>('/api/jobs')).find((each) => each.id === jobId);
        if (job?.state === 'failed') {
          update(id, { state: 'not converted', message: job.message });
          return false;
        }
        if (!job) {
          const shot = await call<ShotMedia>(`/api/shots/${jobId}`).catch(unlessGone);
          update(id, shot ? { state: 'done' } : { state: 'cancelled', message: nothingKept });
          return shot !== null;
        }
        update(id, { frames: { done: job.done, of: job.of } });
      } catch {
        // Out of reach, or in trouble: what was known last stays on screen.
      }
    }
  } finally {
    cancels.delete(id);
  }
}

/** @returns null where the server no longer has what was asked for. */
function unlessGone(error: unknown): null {
  if (error instanceof ServerRefusal && error.status === 404) return null;
  throw error;
}

function sizeOf({ files }: Intake<File>): number {
  return files.reduce((sum, { size }) => sum + size, 0);
}

async function sendWhole(
  id: number,
  intake: Intake<File>,
  rate: Rate,
  signal: AbortSignal,
): Promise<TakenIn> {
  const whole = new Blob(intake.files);
  const [first] = intake.files;
  const fingerprint = `${first.name} ${first.lastModified} ${intake.files.length} ${whole.size}`.slice(-400);
  const body = { fingerprint, name: intake.name, size: whole.size, rateNum: rate.num, rateDen: rate.den };
  const begin = await persistently(id, signal, () => call<UploadState>('/api/uploads', 'POST', body));
  let { received } = begin;
  const path = `/api/uploads/${begin.id}`;
  try {
    update(id, { state: 'sending', sent: received });
    while (received < whole.size) {
      const from = received;
      ({ received } = await persistently(id, signal, async () => {
        try {
          return await send<UploadState>(
            'PATCH',
            `${path}?offset=${from}`,
            whole.slice(from, from + pieceSize),
            (bytes) => update(id, { state: 'sending', sent: from + bytes }),
            signal,
          );
        } catch (error) {
          // Another window has sent the rest and finished, or cancelled: what became of it is asked below.
          if (error instanceof ServerRefusal && error.status === 404)
            return { id: begin.id, received: whole.size };
          // A piece that arrived in part is gone on with from where it ends.
          if (
            error instanceof ServerRefusal &&
            !isDiskFull(error) &&
            typeof error.details.received === 'number'
          )
            return { id: begin.id, received: error.details.received };
          throw error;
        }
      }));
      update(id, { state: 'sending', sent: received });
    }
    update(id, { state: 'indexing' });
    const parts = intake.kind === 'stills' ? intake.files.map(({ name, size }) => ({ name, size })) : null;
    return await persistently(id, signal, () => call<TakenIn>(path, 'POST', { parts }));
  } catch (error) {
    if (signal.aborted) await call(path, 'DELETE').catch(() => {});
    throw error;
  }
}

/** Another window sends the same file: what it has sent is not sent again. */
const isBusy = (error: unknown) => error instanceof ServerRefusal && error.details.reason === 'busy';

const isDiskFull = (error: unknown) => error instanceof ServerRefusal && error.status === 507;

/** Tries again for as long as the server is out of reach or has no room. */
async function persistently<T>(id: number, signal: AbortSignal, work: () => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await work();
    } catch (error) {
      const waits = error instanceof ServerUnreachable || isDiskFull(error) || isBusy(error);
      if (!waits || signal.aborted) throw error;
      update(id, {
        state: 'waiting',
        message:
          error instanceof ServerUnreachable
            ? 'The server is out of reach; going on when it is back…'
            : sentenceOf(error),
      });
      const seconds = patience[Math.min(tries, patience.length - 1)];
      await new Promise((resolve, reject) => {
        const timer = setTimeout(resolve, seconds * 1000);
        signal.addEventListener('abort', () => {
          clearTimeout(timer);
          reject(new DOMException('Cancelled', 'AbortError'));
        });
      });
    }
  }
}

async function check(intake: Intake<File>, limit: number) {
  if (intake.files.some(({ size }) => size === 0)) throw refusal.empty();
  if (sizeOf(intake) > limit) throw refusal.tooLarge(limit);
  const [file] = intake.files;
  if (intake.kind === 'stills') {
    const bitmap = await createImageBitmap(file).catch(() => {
      throw new FootageRefusal('stills', `“${file.name}” is not a whole picture. Save it again.`);
    });
    bitmap.close();
    return;
  }
  if (/\.zip$/i.test(file.name)) return;
  const read = async (offset: number, length: number) =>
    new Uint8Array(await file.slice(offset, offset + length).arrayBuffer());
  try {
    await readFacts(new BlobSource(file), read, file.size);
  } catch (error) {
    if (!(error instanceof FootageRefusal)) throw refusal.notVideo();
    const convertible =
      error.reason === 'codec' || (error.reason === 'not a video' && otherVideo.test(file.name));
    if (!convertible) throw error;
  }
}
