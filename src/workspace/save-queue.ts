import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { Edit } from '@/core/document/edit';
import { call, ServerRefusal, ServerUnreachable } from '@/interface/api';

/** A step as it waits in the browser and as it is sent. */
export type Step = { requestId: string; baseRevision: number } & (
  { kind: 'do'; edit: Edit } | { kind: 'undo' | 'redo'; editId: string }
);

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving'; waiting: number }
  /** The server does not answer; the changes wait in the browser. */
  | { kind: 'waiting'; waiting: number }
  /** Another window changed the crossing; the steps that came too late are handed over. */
  | { kind: 'overtaken' };

interface QueueSchema extends DBSchema {
  steps: { key: number; value: { crossingId: string; step: Step }; indexes: { crossing: string } };
  aside: { key: number; value: { crossingId: string; step: Step } };
}

const longestWait = 4000;

/**
 * Steps of one crossing on their way to the server: kept in the browser's own storage until they are acknowledged,
 * sent in order, and sent again until the server answers.
 */
export class SaveQueue {
  private steps: { key: number | null; step: Step }[] = [];
  private readonly storage: Promise<IDBPDatabase<QueueSchema>>;
  private sending = false;
  private closed = false;
  private wake: (() => void) | null = null;

  constructor(
    private readonly crossingId: string,
    private readonly onState: (state: SaveState) => void,
    private readonly onAcknowledged: (revision: number) => void,
    private readonly onOvertaken: (late: Step[]) => void,
  ) {
    this.storage = openQueue();
  }

  get waiting(): number {
    return this.steps.length;
  }

  /** Keeps the step and sends it after those before it. */
  add(step: Step) {
    const entry = { key: null as number | null, step };
    this.steps.push(entry);
    this.tell();
    void this.storage
      .then((storage) => storage.add('steps', { crossingId: this.crossingId, step }))
      .then(async (key) => {
        entry.key = key;
        // Acknowledged before it was stored: take it out again.
        if (!this.steps.includes(entry)) await (await this.storage).delete('steps', key);
      });
    void this.send();
  }

  /** Tries at once instead of waiting for the next try. */
  nudge() {
    this.wake?.();
  }

  /** Puts steps that could not be joined into the browser's storage, apart. */
  async setAside(steps: readonly Step[]) {
    const storage = await this.storage;
    for (const step of steps) await storage.add('aside', { crossingId: this.crossingId, step });
  }

  close() {
    this.closed = true;
    this.wake?.();
  }

  private tell(unreachable = false) {
    const waiting = this.steps.length;
    this.onState(waiting === 0 ? { kind: 'saved' } : { kind: unreachable ? 'waiting' : 'saving', waiting });
  }

  private async send() {
    if (this.sending) return;
    this.sending = true;
    let pause = 250;
    while (this.steps.length > 0 && !this.closed) {
      const entry = this.steps[0];
      try {
        const { revision } = await call<{ revision: number }>(
          `/api/crossings/${this.crossingId}/steps`,
          'POST',
          entry.step,
        );
        await this.forget(entry);
        pause = 250;
        this.onAcknowledged(revision);
        this.tell();
      } catch (error) {
        if (error instanceof ServerUnreachable || (error instanceof ServerRefusal && error.status >= 500)) {
          this.tell(true);
          await new Promise<void>((done) => {
            this.wake = done;
            setTimeout(done, pause);
          });
          pause = Math.min(longestWait, pause * 2);
          continue;
        }
        const late = this.steps.map(({ step }) => step);
        for (const each of [...this.steps]) await this.forget(each);
        this.onState({ kind: 'overtaken' });
        this.onOvertaken(late);
      }
    }
    this.sending = false;
  }

  private async forget(entry: { key: number | null; step: Step }) {
    this.steps = this.steps.filter((other) => other !== entry);
    if (entry.key !== null) await (await this.storage).delete('steps', entry.key);
  }
}

function openQueue(): Promise<IDBPDatabase<QueueSchema>> {
  return openDB<QueueSchema>('kiv', 1, {
    upgrade(database) {
      database.createObjectStore('steps', { autoIncrement: true }).createIndex('crossing', 'crossingId');
      database.createObjectStore('aside', { autoIncrement: true });
    },
  });
}

/**
 * Sends what an earlier visit left behind, oldest first, before the crossing is opened.
 *
 * @returns how many steps could not be joined, because another window had gone on; they are kept apart.
 * @throws ServerUnreachable when the server does not answer; all is kept.
 */
export async function sendLeftovers(crossingId: string): Promise<number> {
  const storage = await openQueue();
  let aside = 0;
  const keys = await storage.getAllKeysFromIndex('steps', 'crossing', crossingId);
  for (const key of keys) {
    const entry = await storage.get('steps', key);
    if (!entry) continue;
    try {
      await call(`/api/crossings/${crossingId}/steps`, 'POST', entry.step);
    } catch (error) {
      if (!(error instanceof ServerRefusal) || error.status >= 500) throw error;
      await storage.add('aside', entry);
      aside++;
    }
    await storage.delete('steps', key);
  }
  storage.close();
  return aside;
}
