import fc from 'fast-check';
import { mkdtempSync, readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-routes-'));
process.env.KIV_MAX_UPLOAD = '200000';

/* The modules read KIV_DATA when they are first used. */
import { randomUUID } from 'node:crypto';
import { createCrossing, openCrossing } from '../src/server/crossings';
import { listShots } from '../src/server/shots';
import { bringInStill } from './still';

/** Anything sent to any route is answered, and never by an error of the server's own. */

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

const api = path.join(process.cwd(), 'src/app/api');
const files = readdirSync(api, { recursive: true, encoding: 'utf8' })
  .filter((name) => path.basename(name) === 'route.ts')
  .sort();
const methods = ['GET', 'POST', 'PATCH', 'PUT', 'DELETE'] as const;

const routes = files.flatMap((file) => {
  const handlers = jest.requireActual(path.join(api, file)) as Partial<Record<string, Handler>>;
  return methods.flatMap((method) => {
    const handle = handlers[method];
    return handle ? [{ address: `/api/${path.dirname(file)}`, method, handle }] : [];
  });
});

let known: string[] = [];
beforeAll(async () => {
  const shot = await bringInStill();
  const pair = { outgoingShotId: shot, incomingShotId: shot };
  known = [shot, createCrossing({ name: 'Sent to', plan: 'pass-by', ...pair })];
});

/** Bodies that are nearly right, to be spoilt. */
function examples(): unknown[] {
  const [shot, crossing] = known;
  const { document, revision } = openCrossing(crossing);
  const [layer] = Object.values(document.layers);
  const change = { table: 'layer', id: layer.id, before: layer, after: { ...layer, offset: 3 } };
  const edit = { id: randomUUID(), label: 'Slip', changes: [change] };
  const facts = { frameCount: 2, sound: 'none', width: 64, height: 48, rateNum: 25, rateDen: 1 };
  const timing = { offset: 0, speed: 100, reverse: false, holdFrom: null };
  return [
    { requestId: randomUUID(), baseRevision: revision, kind: 'do', edit },
    { requestId: randomUUID(), baseRevision: revision, kind: 'undo', editId: edit.id },
    {
      ...{ name: 'New', plan: 'pass-by', outgoingShotId: shot, incomingShotId: shot },
      timing: { outgoing: timing, incoming: timing, length: 9, cut: 3 },
      ...{ rate: { num: 25, den: 1 }, size: { width: 64, height: 48 } },
    },
    { name: 'Leaf', notes: '', keepSound: true, rateNum: 24, rateDen: 1 },
    { fingerprint: 'leaf.png 3 4', name: 'leaf.png', size: 40, rateNum: 25, rateDen: 1 },
    {
      parts: [
        { name: 'a1.png', size: 20 },
        { name: 'a2.png', size: 20 },
      ],
    },
    { parts: null },
    { crossingId: crossing, revision, format: 'webm', firstFrame: 0, shotName: null, ...facts },
    { picture: null },
    { frames: [0, 0, 1, 0, 1, 0], crosser: null, looks: [1, 2, 3] },
  ];
}

/** A value somewhere in another replaced by anything; or a field more. */
function spoilt(value: unknown, pick: number[], junk: unknown): unknown {
  if (typeof value !== 'object' || value === null || pick.length === 0) return junk;
  const names = Object.keys(value);
  const [first, ...rest] = pick;
  if (names.length === 0 || first % 7 === 0)
    return Array.isArray(value)
      ? [...(value as unknown[]), junk]
      : { ...value, [strangeNames[first % strangeNames.length]]: junk };
  const name = names[first % names.length];
  const inner = spoilt((value as Record<string, unknown>)[name], rest, junk);
  if (Array.isArray(value)) return (value as unknown[]).map((each, k) => (String(k) === name ? inner : each));
  return { ...value, [name]: inner };
}
const strangeNames = ['constructor', 'toString', '', 'length', '__proto__', 'more', 'hasOwnProperty'];

const anything = fc.oneof(
  fc.constantFrom<unknown>(
    null,
    0,
    -1,
    1e99,
    NaN,
    '',
    'x'.repeat(300),
    [],
    {},
    [[]],
    true,
    '\u0000',
    2 ** 53,
  ),
  fc.anything({ maxDepth: 3, withNullPrototype: false }),
  fc.jsonValue({ maxDepth: 4 }),
);
const query = fc.dictionary(
  fc.constantFrom(
    'name',
    'offset',
    'position',
    'part',
    'since',
    'before',
    'footage',
    'handles',
    'history',
    'of',
    'x',
  ),
  fc.oneof(
    fc.constantFrom(
      '0',
      '-1',
      '1e9',
      'used',
      'whole',
      'all',
      'file',
      'sound',
      'let go',
      'under-way',
      'a.png',
    ),
    fc.string(),
  ),
);

const asked = fc.record({
  route: fc.nat(1000),
  id: fc.oneof(fc.nat(2), fc.string({ maxLength: 50 })),
  query,
  example: fc.nat(30),
  pick: fc.array(fc.nat(1000), { maxLength: 6 }),
  junk: anything,
  kind: fc.integer({ min: 0, max: 9 }),
  type: fc.constantFrom('application/json', 'application/json', 'application/json', 'text/plain', ''),
});

function bodyOf({
  kind,
  junk,
  example,
  pick,
}: {
  kind: number;
  junk: unknown;
  example: number;
  pick: number[];
}) {
  if (kind === 0) return '{"half';
  if (kind === 1) return new Uint8Array([0x50, 0x4b, 3, 4, ...pick.map((each) => each & 255)]);
  if (kind === 2) return JSON.stringify(junk) ?? 'null';
  const all = examples();
  return JSON.stringify(spoilt(all[example % all.length], kind < 5 ? [] : pick, junk)) ?? 'null';
}

test('no request is answered by an error of the server’s own, and what is there stays', async () => {
  const said = jest.spyOn(console, 'error').mockImplementation(() => {});
  await fc.assert(
    fc.asyncProperty(asked, async (ask) => {
      const { address, method, handle } = routes[ask.route % routes.length];
      const id = typeof ask.id === 'number' ? (known[ask.id] ?? randomUUID()) : ask.id;
      const search = new URLSearchParams(ask.query).toString();
      const body = method === 'GET' || method === 'DELETE' ? undefined : bodyOf(ask);
      const request = new Request(`http://127.0.0.1:4680${address.replace(/\[\w+\]/g, 'x')}?${search}`, {
        ...{ method, headers: ask.type ? { 'content-type': ask.type } : {} },
        ...(body === undefined ? {} : { body }),
      });
      // What the test itself goes on with is not deleted.
      if (method === 'DELETE' && known.includes(id)) return;
      const answer = await handle(request, {
        params: Promise.resolve({ id, frame: String(ask.pick[0] ?? 'x') }),
      });
      const what = [method, address, answer.status, answer.status >= 500 ? await answer.clone().text() : ''];
      expect([...what.slice(0, 2), answer.status < 500 || answer.status === 507, ...what.slice(3)]).toEqual([
        method,
        address,
        true,
        '',
      ]);
      await answer.body?.cancel();
    }),
    { numRuns: Number(process.env.KIV_RUNS ?? 800) },
  );
  said.mockRestore();
  expect(openCrossing(known[1]).document.crossing.id).toBe(known[1]);
  expect(listShots().map(({ id }) => id)).toContain(known[0]);
});
