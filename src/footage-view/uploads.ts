import { BlobSource } from 'mediabunny';
import { create } from 'zustand';
import { FootageRefusal, refusal } from '@/footage/refusal';
import { readFacts } from '@/footage/facts';
import { sentenceOf, upload } from '@/interface/api';

export interface Upload {
  id: number;
  name: string;
  share: number;
  state: 'checking' | 'sending' | 'indexing' | 'done' | 'cancelled' | 'refused';
  message?: string;
}

export const useUploads = create<{ uploads: Upload[] }>(() => ({ uploads: [] }));

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

export function dismissUpload(id: number) {
  useUploads.setState(({ uploads }) => ({ uploads: uploads.filter((each) => each.id !== id) }));
}

/** Brings in files one after the other; each is looked at here before a byte is sent. */
export async function bringIn(files: readonly File[], limit: number, onArrived: () => void) {
  const queued = files.map((file) => ({ id: ++count, file, abort: new AbortController() }));
  queued.forEach(({ id, abort }) => cancels.set(id, abort));
  useUploads.setState(({ uploads }) => ({
    uploads: [
      ...uploads,
      ...queued.map(({ id, file }) => ({ id, name: file.name, share: 0, state: 'checking' as const })),
    ],
  }));
  for (const { id, file, abort } of queued) {
    try {
      await check(file, limit);
      abort.signal.throwIfAborted();
      update(id, { state: 'sending' });
      const onProgress = (share: number) => update(id, share < 1 ? { share } : { share, state: 'indexing' });
      await upload(`/api/shots?name=${encodeURIComponent(file.name)}`, file, onProgress, abort.signal);
      update(id, { state: 'done', share: 1 });
      onArrived();
    } catch (error) {
      if (abort.signal.aborted) update(id, { state: 'cancelled', message: 'Cancelled; nothing was kept.' });
      else update(id, { state: 'refused', message: sentenceOf(error) });
    } finally {
      cancels.delete(id);
    }
  }
}

async function check(file: File, limit: number) {
  if (file.size === 0) throw refusal.empty();
  if (file.size > limit) throw refusal.tooLarge(limit);
  const read = async (offset: number, length: number) =>
    new Uint8Array(await file.slice(offset, offset + length).arrayBuffer());
  try {
    await readFacts(new BlobSource(file), read, file.size);
  } catch (error) {
    if (error instanceof FootageRefusal) throw error;
    throw refusal.notVideo();
  }
}
