import { call, ServerRefusal, ServerUnreachable } from '@/interface/api';
import { openCommitStorage, setCommitsAside, type Commit, type CommitStorage } from './commit-storage';

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving'; waiting: number }
  /** The server does not answer, or cannot write now and says why; the changes wait in the browser. */
  | { kind: 'waiting'; waiting: number; why: string | null };

/** Why steps come back: another window was first, or the server refuses the first of them for a reason. */
export type SetBack = { kind: 'overtaken' } | { kind: 'refused'; reason: string };

/** A step in the queue; its key in the browser's storage is null until it is stored. */
interface Waiting {
  key: number | null;
  step: Commit;
}

const longestWait = 4000;
/** How often the server may fail at one step by an error of its own before the step is taken for the reason. */
const triesAtFailure = 6;

/**
 * Steps of one crossing on their way to the server: kept in the browser's own storage until they are acknowledged,
 * sent in order, and sent again until the server answers.
 */
export class SaveQueue {
  private steps: Waiting[] = [];
  private readonly storage: Promise<CommitStorage>;
  private sending = false;
  private closed = false;
  private wake: (() => void) | null = null;

  /**
   * @param onSetBack takes the queue's steps ({@link drain}) and joins them to what the server holds; resolves to
   *   false when the server could not be asked, and is then called again later.
   */
  constructor(
    private readonly crossingId: string,
    private readonly onState: (state: SaveState) => void,
    private readonly onAcknowledged: (revision: number) => void,
    private readonly onSetBack: (why: SetBack) => Promise<boolean>,
  ) {
    this.storage = openCommitStorage();
  }

  get waiting(): number {
    return this.steps.length;
  }

  /** Keeps the step and sends it after those before it. */
  add(step: Commit) {
    const entry: Waiting = { key: null, step };
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

  /** Hands over all steps; they stay in the browser's storage until `settled` is called. */
  drain(): { steps: Commit[]; settled: () => Promise<void> } {
    const drained = this.steps;
    this.steps = [];
    return {
      steps: drained.map(({ step }) => step),
      settled: async () => {
        for (const entry of drained) await this.forget(entry);
      },
    };
  }

  /** Puts steps that could not be joined into the browser's storage, apart. */
  async setAside(steps: readonly { step: Commit; reason: string }[]) {
    await setCommitsAside(await this.storage, this.crossingId, steps);
  }

  close() {
    this.closed = true;
    this.wake?.();
  }

  private tell(unreachable = false, why: string | null = null) {
    const waiting = this.steps.length;
    if (waiting === 0) this.onState({ kind: 'saved' });
    else this.onState(unreachable ? { kind: 'waiting', waiting, why } : { kind: 'saving', waiting });
  }

  private async send() {
    if (this.sending) return;
    this.sending = true;
    let pause = 250;
    let failures = 0;
    const wait = async (why: string | null) => {
      this.tell(true, why);
      await new Promise<void>((done) => {
        this.wake = done;
        setTimeout(done, pause);
      });
      pause = Math.min(longestWait, pause * 2);
    };
    while (this.steps.length > 0 && !this.closed) {
      const entry = this.steps[0];
      try {
        const { revision } = await call<{ revision: number }>(
          `/api/crossings/${this.crossingId}/commits`,
          'POST',
          entry.step,
        );
        await this.forget(entry);
        this.onAcknowledged(revision);
      } catch (error) {
        if (error instanceof ServerUnreachable) {
          await wait(null);
          continue;
        }
        const status = error instanceof ServerRefusal ? error.status : 0;
        const reason = error instanceof Error ? error.message : String(error);
        if (status > 500 || (status === 500 && ++failures < triesAtFailure)) {
          await wait(status === 507 ? reason : null);
          continue;
        }
        const joined = await this.onSetBack(
          status === 409 ? { kind: 'overtaken' } : { kind: 'refused', reason },
        );
        if (!joined) {
          await wait(null);
          continue;
        }
      }
      pause = 250;
      failures = 0;
      this.tell();
    }
    this.sending = false;
  }

  private async forget(entry: Waiting) {
    this.steps = this.steps.filter((other) => other !== entry);
    if (entry.key !== null) await (await this.storage).delete('steps', entry.key);
  }
}

/**
 * Sends what an earlier visit left behind, oldest first, before the crossing is opened.
 *
 * @returns how many steps could not be joined: refused, or made before another window went on; they are kept apart.
 * @throws ServerUnreachable when the server does not answer, ServerRefusal when it cannot write now; all is kept.
 */
export async function sendLeftovers(crossingId: string): Promise<number> {
  const storage = await openCommitStorage();
  let aside = 0;
  const keys = await storage.getAllKeysFromIndex('steps', 'crossing', crossingId);
  for (const key of keys) {
    const entry = await storage.get('steps', key);
    if (!entry) continue;
    // Each step set aside leaves the server one revision short of what the later ones expect.
    const step = { ...entry.step, baseRevision: entry.step.baseRevision - aside };
    try {
      await call(`/api/crossings/${crossingId}/commits`, 'POST', step);
    } catch (error) {
      if (!(error instanceof ServerRefusal) || error.status > 500) throw error;
      await setCommitsAside(storage, crossingId, [{ step: entry.step, reason: error.message }]);
      aside++;
    }
    await storage.delete('steps', key);
  }
  storage.close();
  return aside;
}
