import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { NewCrossingBody, validatedCommit, validatedFileName } from './bodies';
import { validatedRow } from './row-bodies';
import { Problem } from './problem';
import { readJson, respond, serveFile } from './respond';
import { validated } from './validate';

const bytes = Uint8Array.from({ length: 1000 }, (_, i) => (i * 31) % 256);
const file = path.join(mkdtempSync(path.join(tmpdir(), 'kiv-respond-')), 'film.mp4');
writeFileSync(file, bytes);

test('ranges are answered as RFC 9110 has them', async () => {
  const ask = async (range?: string) => {
    const request = new Request('http://kiv/', { headers: range ? { range } : {} });
    const response = await serveFile(request, file, 'video/mp4');
    return {
      status: response.status,
      range: response.headers.get('content-range'),
      body: new Uint8Array(await response.arrayBuffer()),
    };
  };
  expect(await ask()).toEqual({ status: 200, range: null, body: bytes });
  expect(await ask('bytes=0-0')).toEqual({ status: 206, range: 'bytes 0-0/1000', body: bytes.slice(0, 1) });
  expect(await ask('bytes=990-2000')).toEqual({
    status: 206,
    range: 'bytes 990-999/1000',
    body: bytes.slice(990),
  });
  expect(await ask('bytes=-7')).toEqual({ status: 206, range: 'bytes 993-999/1000', body: bytes.slice(993) });
  expect(await ask('bytes=1000-')).toEqual({ status: 416, range: 'bytes */1000', body: new Uint8Array(0) });
  // Other units are ignored, and so may be several ranges; one that is not well formed may be refused (§14.2).
  for (const other of ['bytes=1-2,5-6', 'lines=1-2']) expect((await ask(other)).status).toBe(200);
  for (const malformed of ['bytes=-', 'bytes=a-b']) expect((await ask(malformed)).status).toBe(416);
});

test('a download’s name survives any script and closes no header', async () => {
  const response = await serveFile(new Request('http://kiv/'), file, 'video/mp4', 'Теплица (1)’"; x.mp4');
  const header = response.headers.get('content-disposition')!;
  expect(header).toMatch(/^attachment; filename\*=UTF-8''[\w%.~!-]+$/);
  expect(decodeURIComponent(header.split("''")[1])).toBe('Теплица (1)’"; x.mp4');
});

test('problems become their status, anything else a 500 that tells nothing of the inside', async () => {
  const told = await respond(() => {
    throw new Problem(409, 'Changed elsewhere.', { revision: 4 });
  });
  expect([told.status, await told.json()]).toEqual([409, { error: 'Changed elsewhere.', revision: 4 }]);
  const log = jest.spyOn(console, 'error').mockImplementation(() => {});
  const broken = await respond(() => {
    throw new Error('secret path');
  });
  expect(broken.status).toBe(500);
  expect(JSON.stringify(await broken.json())).not.toContain('secret');
  expect(log).toHaveBeenCalled();
  log.mockRestore();
  const post = (body: string, type = 'application/json') =>
    readJson(new Request('http://kiv/', { method: 'POST', body, headers: { 'content-type': type } }));
  expect(await post('{"a":1}')).toEqual({ a: 1 });
  await expect(post('{')).rejects.toMatchObject({ status: 400 });
  await expect(post('{}', 'text/plain')).rejects.toMatchObject({ status: 415 });
});

test('bodies are taken only as they must be, to the last field', () => {
  const id = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
  const crossing = { name: '  Ponds ', plan: 'pass-by', outgoingShotId: id, incomingShotId: id };
  expect(validated(NewCrossingBody, crossing).name).toBe('Ponds');
  const pose = {
    id: 'o@3',
    outlineId: id,
    frame: 3,
    origin: 'by hand',
    onward: 'linear',
    coordinates: [1, 2, 0, 0, 0, 0],
    unsure: null,
    doubt: 0,
    offBy: [],
  };
  expect(validatedRow('pose', pose)).toEqual(pose);
  const refused: [string, () => unknown][] = [
    ['unknown field', () => validated(NewCrossingBody, { ...crossing, admin: true })],
    ['blank name', () => validated(NewCrossingBody, { ...crossing, name: '   ' })],
    ['no object', () => validated(NewCrossingBody, 'x')],
    ['half a point', () => validatedRow('pose', { ...pose, coordinates: [1, 2, 3] })],
    ['not a number', () => validatedRow('pose', { ...pose, coordinates: [1, 2, 0, 0, 0, Number.NaN] })],
    ['far away', () => validatedRow('pose', { ...pose, coordinates: [2e6, 2, 0, 0, 0, 0] })],
    ['sure and not', () => validatedRow('pose', { ...pose, doubt: 1.5 })],
    ['a reason of its own', () => validatedRow('pose', { ...pose, unsure: 'tired' })],
    ['before the film', () => validatedRow('pose', { ...pose, frame: -1 })],
    ['no edit in a do', () => validatedCommit({ requestId: id, baseRevision: 0, kind: 'do' })],
    ['no edit id in an undo', () => validatedCommit({ requestId: id, baseRevision: 0, kind: 'undo' })],
    [
      'negative revision',
      () => validatedCommit({ requestId: id, baseRevision: -1, kind: 'undo', editId: id }),
    ],
  ];
  const statuses = refused.map(([what, take]) => {
    try {
      take();
      return [what, 'taken'];
    } catch (error) {
      return [what, (error as Problem).status];
    }
  });
  expect(statuses).toEqual(refused.map(([what]) => [what, 400]));
  for (const name of ['', '..', 'a/b.mp4', 'a\\b.mp4', 'a\u0000.mp4', 'x'.repeat(201)]) {
    expect(() => validatedFileName(name)).toThrow(Problem);
  }
  expect(validatedFileName('Überblendung 01.mov')).toBe('Überblendung 01.mov');
});

test('a body is read no further than it may be long, whatever it declares; no field may be taken for what it is not', async () => {
  let given = 0;
  const endless = new ReadableStream<Uint8Array>({
    pull(stream) {
      given++;
      stream.enqueue(new Uint8Array(1 << 20).fill(0x20));
    },
  });
  const headers = { 'content-type': 'application/json' };
  const request = new Request('http://127.0.0.1/', {
    ...{ method: 'POST', body: endless, headers },
    duplex: 'half',
  } as RequestInit);
  await expect(readJson(request)).rejects.toMatchObject({ status: 413 });
  expect(given).toBeLessThan(60);
  const post = (body: string) =>
    readJson(new Request('http://127.0.0.1/', { method: 'POST', body, headers }));
  const deep = '['.repeat(50_000) + ']'.repeat(50_000);
  for (const body of [
    '{"constructor":null}',
    '{"timing":{"constructor":null}}',
    '{"edit":{"changes":[{"before":{"__proto__":3}}]}}',
    '{"a":[{"\\u0063onstructor":{}}]}',
    deep,
  ])
    await expect(post(body)).rejects.toMatchObject({ status: 400 });
  expect(await post('{"name":"\\"constructor\\":null"}')).toEqual({ name: '"constructor":null' });
});
