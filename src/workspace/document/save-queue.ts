import { call, ServerRefusal, ServerUnreachable } from '@/interface/api';
import { openCommitStorage, setCommitsAside, type Commit, type CommitStorage } from './commit-storage';

export type SaveState =
  | { kind: 'saved' }
  /** @param onlyHere of those that wait, how many the browser's storage does not hold: closing the window loses them. */
  | { kind: 'saving'; waiting: number; onlyHere: number }
  /** The server does not answer, or cannot write now and says why; the changes wait in the browser. */
  | { kind: 'waiting'; waiting: number; onlyHere: number; why: string | null };

/** A step to be kept apart, and why. */
export interface SetAsideStep {
  step: Commit;
  reason: string;
}

/** Why steps come back: another window was first, or the server refuses the first of them for a reason. */
export type SetBack = { kind: 'overtaken' } | { kind: 'refused'; reason: string };

/** A step in the queue; its key in the browser's storage is null until it is stored, and where that failed. */
interface Waiting {
  key: number | null;
  failed: boolean;
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
  private storage: Promise<CommitStorage> | null = null;
  private sending = false;
  private closed = false;
  private wake: (() => void) | null = null;

  /**
   * @param onSetBack takes the queue's steps ({@link drain}) and joins them to what the server holds; resolves to
   *   false when the server could not be asked, or fails, and is then called again later.
   * @param onAsideFailed given what was to be set aside and the browser's storage could not take.
   */
  constructor(
    private readonly crossingId: string,
    private readonly onState: (state: SaveState) => void,
    private readonly onAcknowledged: (revision: number) => void,
    private readonly onSetBack: (why: SetBack) => Promise<boolean>,
    private readonly onAsideFailed: (steps: readonly SetAsideStep[]) => void,
  ) {}

  /** Works on the browser's storage, once more on a new connection where that fails; null where it fails again. */
  private async stored<T>(work: (storage: CommitStorage) => Promise<T>): Promise<T | null> {
    for (let tries = 0; tries < 2; tries++) {
      try {
        this.storage ??= openCommitStorage();
        return await work(await this.storage);
      } catch {
        // A connection ends when a newer Kiv opens the storage; a full disk or a private window refuse for good.
        this.storage = null;
      }
    }
    return null;
  }

  /** The steps that wait, oldest first. */
  get unsent(): readonly Commit[] {
    return this.steps.map(({ step }) => step);
  }

  get waiting(): number {
    return this.steps.length;
  }

  /** Keeps the step and sends it after those before it. */
  add(step: Commit) {
    const entry: Waiting = { key: null, failed: false, step };
    this.steps.push(entry);
    this.tell();
    void this.store(entry);
    void this.send();
  }

  private async store(entry: Waiting) {
    const { crossingId } = this;
    const key = await this.stored((storage) => storage.add('steps', { crossingId, step: entry.step }));
    entry.key = key;
    entry.failed = key === null;
    if (this.steps.includes(entry)) {
      if (entry.failed) this.tellAgain();
    } else if (key !== null) {
      // Acknowledged before it was stored: take it out again.
      await this.stored((storage) => storage.delete('steps', key));
    }
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
  async setAside(steps: readonly SetAsideStep[]) {
    const done = await this.stored(async (storage) => {
      await setCommitsAside(storage, this.crossingId, steps);
      return true;
    });
    if (!done) this.onAsideFailed(steps);
  }

  close() {
    this.closed = true;
    this.wake?.();
  }

  private said: [unreachable: boolean, why: string | null] = [false, null];

  private tell(unreachable = false, why: string | null = null) {
    this.said = [unreachable, why];
    this.tellAgain();
  }

  private tellAgain() {
    const [unreachable, why] = this.said;
    const waiting = this.steps.length;
    const onlyHere = this.steps.filter(({ failed }) => failed).length;
    if (waiting === 0) this.onState({ kind: 'saved' });
    else
      this.onState(
        unreachable ? { kind: 'waiting', waiting, onlyHere, why } : { kind: 'saving', waiting, onlyHere },
      );
  }

  private async send() {
    if (this.sending) return;
    this.sending = true;
    try {
      await this.sendAll();
    } finally {
      this.sending = false;
    }
  }

  private async sendAll() {
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
        // What the browser's storage still holds is known to the server when it comes again.
        void this.forget(entry);
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
        const why: SetBack = status === 409 ? { kind: 'overtaken' } : { kind: 'refused', reason };
        const joined = await this.onSetBack(why).catch(() => false);
        if (!joined) {
          await wait(null);
          continue;
        }
      }
      pause = 250;
      failures = 0;
      this.tell();
    }
  }

  private async forget(entry: Waiting) {
    this.steps = this.steps.filter((other) => other !== entry);
    const { key } = entry;
    if (key !== null) await this.stored((storage) => storage.delete('steps', key));
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
