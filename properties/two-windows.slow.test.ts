import fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-windows-'));

/* The modules read KIV_DATA when they are first used. */
import { validatedCommit } from '../src/server/bodies';
import { changesSince, takeCommit } from '../src/server/commits';
import { createCrossing, openCrossing, readHistory } from '../src/server/crossings';
import { respond } from '../src/server/respond';
import { shotWithIndex } from '../src/server/shots';
import type { useDocument as Store } from '../src/workspace/document/document-store';
import type { Commit, SetAside } from '../src/workspace/document/commit-storage';
import { randomEdit } from './random-edits';
import { rowsById } from './rows-by-id';
import { bringInStill } from './still';

/**
 * Two windows on one crossing, each with the page's own store, before the server's own functions: whatever they do at once,
 * cut off or not, closed and opened again, in the end both show what the server holds, and nothing that was done is lost.
 */

/** The browser's storage, which both windows share. */
const mockStorage = {
  steps: new Map<number, { crossingId: string; step: Commit }>(),
  aside: [] as SetAside[],
  last: 0,
};
jest.mock('../src/workspace/document/commit-storage', () => {
  const storage = {
    add: async (_: string, entry: { crossingId: string; step: Commit }) => {
      mockStorage.steps.set(++mockStorage.last, entry);
      return mockStorage.last;
    },
    delete: async (_: string, key: number) => mockStorage.steps.delete(key),
    get: async (_: string, key: number) => mockStorage.steps.get(key),
    getAllKeysFromIndex: async (table: string, _: string, crossingId: string) =>
      table === 'aside'
        ? []
        : [...mockStorage.steps].filter(([, each]) => each.crossingId === crossingId).map(([key]) => key),
    close: () => undefined,
  };
  return {
    openCommitStorage: async () => storage,
    setCommitsAside: async (_: object, crossingId: string, steps: { step: Commit; reason: string }[]) => {
      mockStorage.aside.push(...steps.map((each) => ({ crossingId, ...each })));
    },
  };
});

/** Whether each window reaches the server; and whether an answer on its way is lost. */
const reach = [true, true];
let losing = 0;
/** The window whose code runs: told apart by the fetch that it was given. */
const serverFor = (window: number) => async (address: string, init?: { body?: string }) => {
  await new Promise((done) => setImmediate(done));
  if (!reach[window]) throw new TypeError('fetch failed');
  const url = new URL(address, 'http://127.0.0.1');
  const [, , kind, id, what] = url.pathname.split('/');
  const answer = await respond(() => {
    if (kind === 'shots') return shotWithIndex(id);
    if (what === 'commits') return { revision: takeCommit(id, validatedCommit(JSON.parse(init!.body!))) };
    if (what === 'changes') return changesSince(id, Number(url.searchParams.get('since')));
    if (what === 'history') return readHistory(id, Number(url.searchParams.get('before')));
    return openCrossing(id);
  });
  if (losing > 0 && losing-- === 1) throw new TypeError('the answer was lost');
  return answer;
};

/** A channel that tells nobody: windows look for each other's changes when the test lets them. */
Object.assign(globalThis, {
  BroadcastChannel: class {
    postMessage() {}
    close() {}
  },
});

function openWindow(window: number): typeof Store {
  let store: typeof Store | null = null;
  jest.isolateModules(() => {
    store = (jest.requireActual('../src/workspace/document/document-store') as { useDocument: typeof Store })
      .useDocument;
  });
  (store as unknown as { window: number }).window = window;
  return store!;
}

let shotId = '';
beforeAll(async () => {
  shotId = await bringInStill();
});

const step = fc.record({
  window: fc.nat(1),
  what: fc.integer({ min: 0, max: 19 }),
  numbers: fc.array(fc.nat(1e6), { minLength: 50, maxLength: 50 }),
});

test('two windows end with what the server holds, and every edit is there or set aside', async () => {
  jest.useFakeTimers({ doNotFake: ['setImmediate', 'nextTick', 'performance', 'queueMicrotask'] });
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 30 }), async (steps) => {
      mockStorage.steps.clear();
      mockStorage.aside.length = 0;
      reach.fill(true);
      losing = 0;
      const id = createCrossing({
        ...{ name: 'Windows', plan: 'pass-by' },
        ...{ outgoingShotId: shotId, incomingShotId: shotId },
      });
      const windows = [openWindow(0), openWindow(1)];
      // Both call the one `fetch`: whose turn it is says which window asks.
      const inWindow = async <T>(
        window: number,
        work: (store: typeof Store) => T | Promise<T>,
      ): Promise<T> => {
        globalThis.fetch = serverFor(window) as unknown as typeof fetch;
        const result = await work(windows[window]);
        await settle();
        return result;
      };
      const settle = async () => {
        for (let k = 0; k < 12; k++) {
          await jest.advanceTimersByTimeAsync(1);
          await new Promise((done) => setImmediate(done));
        }
      };
      for (const window of [0, 1]) await inWindow(window, (store) => store.getState().open(id));
      /** Labels of the edits that were done, each its own. */
      const done: string[] = [];
      for (const { window, what, numbers } of steps) {
        let at = 0;
        const chance = (below: number) => (below > 0 ? numbers[at++ % numbers.length] % below : 0);
        await inWindow(window, async (store) => {
          const state = store.getState();
          if (!state.document) return;
          if (what < 11) {
            const { label, changes } = randomEdit(state.document, chance);
            const named = `${label} ${done.length}`;
            if (changes.length > 0 && state.edit(named, changes)) done.push(named);
          } else if (what === 11) await state.undo();
          else if (what === 12) await state.redo();
          else if (what === 13) {
            // Held down.
            void state.undo();
            void state.undo();
            await state.undo();
          } else if (what === 14) reach[window] = false;
          else if (what === 15) reach[window] = true;
          else if (what === 16) losing = 1;
          else if (what === 17) await state.checkOtherWindows();
          else if (what === 18) {
            reach[window] = true;
            state.close();
            await state.open(id).catch(() => {});
          } else await jest.advanceTimersByTimeAsync(numbers[0] % 3000);
        });
      }
      reach.fill(true);
      losing = 0;
      for (let round = 0; round < 6; round++)
        for (const window of [0, 1])
          await inWindow(window, async (store) => {
            store.getState().nudgeSaving();
            await jest.advanceTimersByTimeAsync(5000);
            await store.getState().checkOtherWindows();
            if (!store.getState().document) await store.getState().open(id);
          });
      const held = rowsById(openCrossing(id).document);
      for (const store of windows) {
        const { document, save, unsentEdits } = store.getState();
        expect(unsentEdits()).toEqual([]);
        expect(save.kind).toBe('saved');
        expect(rowsById(document!)).toEqual(held);
      }
      expect(mockStorage.steps.size).toBe(0);
      // Every edit is in the history, was set aside, or was undone and replaced by a newer one.
      const { history } = readHistory(id);
      const labels = new Set(history.map(({ label }) => label));
      const aside = new Set(mockStorage.aside.map(({ step }) => (step.kind === 'do' ? step.edit.label : '')));
      const undid = steps.some(({ what }) => what === 11 || what === 13);
      for (const label of done)
        expect([label, undid || labels.has(label) || aside.has(label)]).toEqual([label, true]);
      windows.forEach((store) => store.getState().close());
    }),
    { numRuns: Number(process.env.KIV_RUNS ?? 40) },
  );
  jest.useRealTimers();
});

test('undo held down past what is loaded of a long history goes to its beginning, page by page; the crossing asked for last is shown', async () => {
  const [id, other] = ['Long', 'Other'].map((name) =>
    createCrossing({ name, plan: 'pass-by', outgoingShotId: shotId, incomingShotId: shotId }),
  );
  const first = rowsById(openCrossing(id).document);
  let { document, revision } = openCrossing(id);
  for (let k = 0; k < 450; k++) {
    const [layer] = Object.values(document.layers);
    const after = { ...layer, offset: k + 1 };
    const changes = [{ table: 'layer' as const, id: layer.id, before: layer, after }];
    const edit = { id: randomUUID(), label: `Slip ${k}`, changes };
    const commit = { requestId: randomUUID(), baseRevision: revision, kind: 'do', edit };
    revision = takeCommit(id, validatedCommit(commit));
    document = { ...document, layers: { ...document.layers, [layer.id]: after } };
  }
  reach.fill(true);
  const store = openWindow(0);
  let asked = 0;
  const serve = serverFor(0);
  globalThis.fetch = ((address: string, init?: { body?: string }) => {
    if (address.includes('/history')) asked++;
    return serve(address, init);
  }) as unknown as typeof fetch;
  await store.getState().open(id);
  // Nobody waits for one press before the next.
  await Promise.all(Array.from({ length: 460 }, () => store.getState().undo()));
  expect(asked).toBe(2);
  expect(rowsById(store.getState().document!)).toEqual(first);
  for (let tries = 0; store.getState().save.kind !== 'saved' && tries < 2000; tries++)
    await new Promise((done) => setTimeout(done, 5));
  expect(rowsById(openCrossing(id).document)).toEqual(first);

  const late = store.getState().open(id);
  const wanted = store.getState().open(other);
  await Promise.all([late, wanted]);
  expect(store.getState().document!.crossing.id).toBe(other);
  store.getState().close();
});
