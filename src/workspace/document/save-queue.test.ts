import type { Commit, SetAside } from './commit-storage';
import { SaveQueue, type SaveState, type SetBack, sendLeftovers } from './save-queue';

/** Steps on their way to the server: none is lost, doubled or sent out of order, whatever the server answers. */

interface Entry {
  crossingId: string;
  step: Commit;
}
/** The browser's own storage, as far as the queue uses it. */
const mockStored = new Map<number, Entry>();
const mockAside: SetAside[] = [];
/** What of the browser's storage fails. */
const mockFails = new Set<'open' | 'add' | 'delete' | 'aside'>();
jest.mock('./commit-storage', () => {
  let next = 1;
  const storage = {
    add: (_: string, entry: Entry) => {
      if (mockFails.has('add')) return Promise.reject(new Error('QuotaExceededError'));
      mockStored.set(next, entry);
      return Promise.resolve(next++);
    },
    delete: (_: string, key: number) =>
      mockFails.has('delete')
        ? Promise.reject(new Error('InvalidStateError'))
        : Promise.resolve(mockStored.delete(key)),
    get: (_: string, key: number) => Promise.resolve(mockStored.get(key)),
    getAllKeysFromIndex: (_: string, __: string, crossingId: string) =>
      Promise.resolve(
        [...mockStored].filter(([, each]) => each.crossingId === crossingId).map(([key]) => key),
      ),
    close: () => undefined,
  };
  return {
    openCommitStorage: () =>
      mockFails.has('open') ? Promise.reject(new Error('SecurityError')) : Promise.resolve(storage),
    setCommitsAside: (_: object, crossingId: string, steps: { step: Commit; reason: string }[]) => {
      if (mockFails.has('aside')) return Promise.reject(new Error('QuotaExceededError'));
      mockAside.push(...steps.map((each) => ({ crossingId, ...each })));
      return Promise.resolve();
    },
  };
});

/** What the server answers, one after the other; then revisions. */
let answers: (number | 'away' | 'nonsense')[] = [];
const received: string[] = [];
let revision = 0;
Object.assign(globalThis, {
  fetch: (_: string, { body }: { body: string }) => {
    const { requestId } = JSON.parse(body) as Commit;
    const answer = answers.shift() ?? 200;
    received.push(`${requestId} ${answer}`);
    if (answer === 'away') return Promise.reject(new TypeError('fetch failed'));
    if (answer === 'nonsense') return Promise.resolve(new Response('<html>', { status: 502 }));
    if (answer !== 200)
      return Promise.resolve(Response.json({ error: `No, ${answer}.` }, { status: answer }));
    revision++;
    return Promise.resolve(Response.json({ revision }));
  },
});

const step = (requestId: string, baseRevision = 0): Commit => ({
  ...{ requestId, baseRevision, kind: 'do' },
  edit: { id: requestId, label: requestId, changes: [] },
});

beforeEach(() => {
  jest.useFakeTimers();
  mockStored.clear();
  mockFails.clear();
  mockAside.length = received.length = revision = 0;
  answers = [];
});
afterEach(() => jest.useRealTimers());

function queue(onSetBack: (why: SetBack, own: SaveQueue) => Promise<boolean> = () => Promise.resolve(true)) {
  const states: SaveState[] = [];
  const acknowledged: number[] = [];
  const heldHere: string[] = [];
  const own: SaveQueue = new SaveQueue(
    'c',
    (state) => states.push(state),
    (at) => acknowledged.push(at),
    (why) => onSetBack(why, own),
    (steps) => heldHere.push(...steps.map((each) => each.step.requestId)),
  );
  return { own, states, acknowledged, heldHere };
}

/** Lets what is under way go on for some seconds. */
const seconds = (count: number) => jest.advanceTimersByTimeAsync(count * 1000);

test('steps are sent in order, one at a time, and leave the browser’s storage once they are acknowledged', async () => {
  const { own, states, acknowledged } = queue();
  for (const id of ['a', 'b', 'c']) own.add(step(id));
  expect(own.waiting).toBe(3);
  await seconds(1);
  expect(received).toEqual(['a 200', 'b 200', 'c 200']);
  expect([acknowledged, states.at(-1), mockStored.size]).toEqual([[1, 2, 3], { kind: 'saved' }, 0]);
});

test('while the server is away, or answers nonsense, they wait in the browser and are sent again until it is back', async () => {
  answers = ['away', 'nonsense', 'away'];
  const { own, states } = queue();
  own.add(step('a'));
  await seconds(0.1);
  own.add(step('b'));
  await seconds(0.1);
  expect(states.at(-1)).toMatchObject({ waiting: 2 });
  expect(states).toContainEqual({ kind: 'waiting', waiting: 1, onlyHere: 0, why: null });
  expect(mockStored.size).toBe(2);
  // The pauses double: 0.25, 0.5 and 1 s.
  await seconds(1);
  expect(received).toHaveLength(3);
  await seconds(1);
  expect(received.slice(-2)).toEqual(['a 200', 'b 200']);
  expect([states.at(-1), mockStored.size]).toEqual([{ kind: 'saved' }, 0]);
});

test('a full disk is said in the server’s words, and a nudge tries at once', async () => {
  answers = [507, 507, 507, 507];
  const { own, states } = queue();
  own.add(step('a'));
  await seconds(2);
  expect(states.at(-1)).toEqual({ kind: 'waiting', waiting: 1, onlyHere: 0, why: 'No, 507.' });
  const before = received.length;
  answers = [];
  own.nudge();
  await seconds(0.01);
  expect(received.slice(before)).toEqual(['a 200']);
});

test('what another window was before, or the server refuses, is handed back with the reason; the rest goes on', async () => {
  const reasons: SetBack[] = [];
  answers = [200, 409, 400];
  const { own, states } = queue(async (why, own) => {
    reasons.push(why);
    const { steps, settled } = own.drain();
    await own.setAside(steps.slice(0, 1).map((each) => ({ step: each, reason: why.kind })));
    await settled();
    for (const each of steps.slice(1)) own.add(each);
    return true;
  });
  for (const id of ['a', 'b', 'c', 'd']) own.add(step(id));
  await seconds(3);
  expect(reasons).toEqual([{ kind: 'overtaken' }, { kind: 'refused', reason: 'No, 400.' }]);
  expect(mockAside.map(({ step: { requestId } }) => requestId)).toEqual(['b', 'c']);
  expect(received).toEqual(['a 200', 'b 409', 'c 400', 'd 200']);
  expect([states.at(-1), mockStored.size]).toEqual([{ kind: 'saved' }, 0]);
});

test('an error of the server’s own is tried again some times before the step is taken for the reason', async () => {
  answers = Array<number>(6).fill(500);
  const reasons: SetBack[] = [];
  const { own } = queue(async (why, own) => {
    reasons.push(why);
    await own.drain().settled();
    return true;
  });
  own.add(step('a'));
  await seconds(30);
  expect(received).toHaveLength(6);
  expect(reasons).toEqual([{ kind: 'refused', reason: 'No, 500.' }]);
});

test('what an earlier visit left is sent before a crossing opens, of that crossing only; what is refused is kept apart', async () => {
  mockStored.set(101, { crossingId: 'c', step: step('x', 4) });
  mockStored.set(102, { crossingId: 'other', step: step('y', 4) });
  mockStored.set(103, { crossingId: 'c', step: step('z', 5) });
  mockStored.set(104, { crossingId: 'c', step: step('w', 6) });
  answers = [400];
  expect(await sendLeftovers('c')).toBe(1);
  expect(received).toEqual(['x 400', 'z 200', 'w 200']);
  expect([...mockStored.keys()]).toEqual([102]);
  expect(mockAside.map(({ step: { requestId }, reason }) => [requestId, reason])).toEqual([
    ['x', 'No, 400.'],
  ]);
  // Out of reach nothing is touched.
  mockStored.set(105, { crossingId: 'c', step: step('v', 7) });
  answers = ['away'];
  await expect(sendLeftovers('c')).rejects.toThrow('does not answer');
  expect(mockStored.size).toBe(2);
});

test('where the browser’s storage fails, edits are sent all the same, and it is said which are in this window only', async () => {
  for (const failing of ['open', 'add', 'delete'] as const) {
    mockFails.clear();
    mockFails.add(failing);
    received.length = 0;
    answers = ['away'];
    const { own, states, acknowledged } = queue(() =>
      Promise.reject(new Error('Nothing is to be set back.')),
    );
    own.add(step('a'));
    await seconds(0.1);
    const onlyHere = failing === 'delete' ? 0 : 1;
    expect(states.at(-1)).toEqual({ kind: 'waiting', waiting: 1, onlyHere, why: null });
    expect(own.unsent.map(({ requestId }) => requestId)).toEqual(['a']);
    own.add(step('b'));
    await seconds(2);
    expect(received).toEqual(['a away', 'a 200', 'b 200']);
    expect([acknowledged.length, states.at(-1)]).toEqual([2, { kind: 'saved' }]);
  }
});

test('joining that fails is tried again, and what cannot be set aside is handed to the window', async () => {
  answers = [400, 400];
  mockFails.add('aside');
  let tries = 0;
  const { own, states, heldHere } = queue(async (_, own) => {
    if (tries++ === 0) throw new Error('Joining failed.');
    const { steps, settled } = own.drain();
    await own.setAside(steps.map((each) => ({ step: each, reason: 'refused' })));
    await settled();
    return true;
  });
  own.add(step('a'));
  await seconds(5);
  own.add(step('b'));
  await seconds(1);
  expect(heldHere).toEqual(['a']);
  expect(received).toEqual(['a 400', 'a 400', 'b 200']);
  expect(states.at(-1)).toEqual({ kind: 'saved' });
});
