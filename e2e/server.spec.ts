import { expect } from '@playwright/test';
import { test } from './kiv';
import { randomUUID } from 'node:crypto';
import { request as rawRequest } from 'node:http';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { newCrossing, run, clipFile, storedCrossing, uploadFile } from './support';
import { readFileSync, writeFileSync } from 'node:fs';

const filesKept = (data: string) =>
  ['footage', 'arriving', 'uploads', 'waiting'].flatMap((name) => readdirSync(path.join(data, name)));

function raw(baseURL: string, headers: Record<string, string>, target = '/api/shots'): Promise<number> {
  const { port } = new URL(baseURL);
  return new Promise((resolve, reject) =>
    rawRequest({ host: '127.0.0.1', port, path: target, headers }, (response) => {
      response.resume();
      resolve(response.statusCode!);
    })
      .on('error', reject)
      .end(),
  );
}

test('foreign hosts and origins are refused; every answer carries the security headers', async ({
  request,
  baseURL,
}) => {
  expect(await raw(baseURL!, { host: 'kiv.example' })).toBe(403);
  expect(await raw(baseURL!, { origin: 'http://evil.example' })).toBe(403);
  expect(await raw(baseURL!, { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' })).toBe(403);
  expect(await raw(baseURL!, { origin: baseURL! })).toBe(200);
  const headers = (await request.get('/')).headers();
  expect(headers['content-security-policy']).toContain("default-src 'none'");
  expect(headers['content-security-policy']).not.toContain("script-src 'self' 'unsafe");
  expect(headers['cross-origin-opener-policy']).toBe('same-origin');
  expect(headers['cross-origin-embedder-policy']).toBe('require-corp');
  expect(headers['x-content-type-options']).toBe('nosniff');
});

test('bad input is refused with a sentence and never a 5xx', async ({ page, request }) => {
  const id = await newCrossing(page, 'Bad input');
  const { document, revision } = await storedCrossing(page, id);
  const layer = Object.values(document.layers)[0];
  const step = { requestId: randomUUID(), baseRevision: revision, kind: 'do' };
  const edit = (changes: unknown[]) => ({ ...step, edit: { id: randomUUID(), label: 'Test', changes } });
  const moved = { table: 'layer', id: layer.id, before: layer, after: { ...layer, offset: 3 } };
  const steps = `/api/crossings/${id}/commits`;
  const pose = {
    id: 'x@3',
    outlineId: randomUUID(),
    frame: 3,
    origin: 'by hand',
    onward: 'linear',
    coordinates: [0, 0, 0, 0, 0, 0],
  };
  const refused: [string, string, unknown, number][] = [
    ['POST', steps, { ...edit([moved]), extra: 1 }, 400],
    ['POST', steps, edit([{ ...moved, after: { ...moved.after, colour: 'red' } }]), 400],
    ['POST', steps, edit([{ ...moved, after: { ...moved.after, offset: 1.5 } }]), 400],
    ['POST', steps, edit([{ ...moved, id: randomUUID() }]), 400],
    ['POST', steps, edit([{ ...moved, before: { ...layer, offset: 99 } }]), 409],
    ['POST', steps, { ...edit([moved]), baseRevision: revision + 5 }, 409],
    ['POST', steps, edit([{ table: 'pose', id: pose.id, before: null, after: pose }]), 400],
    ['POST', steps, edit([{ table: 'layer', id: layer.id, before: layer, after: null }, moved]), 409],
    ['POST', steps, { ...step, kind: 'undo', editId: randomUUID() }, 409],
    ['POST', steps, [], 400],
    [
      'POST',
      '/api/crossings',
      { name: '', plan: 'pass-by', outgoingShotId: layer.shotId, incomingShotId: layer.shotId },
      400,
    ],
    [
      'POST',
      '/api/crossings',
      { name: 'x', plan: 'pass-by', outgoingShotId: randomUUID(), incomingShotId: layer.shotId },
      404,
    ],
    ['PATCH', `/api/shots/${layer.shotId}`, { name: 'x'.repeat(200) }, 400],
    ['DELETE', `/api/shots/${layer.shotId}`, undefined, 409],
    ['GET', '/api/shots/..%2f..%2fetc', undefined, 404],
    ['GET', `/api/crossings/${randomUUID()}`, undefined, 404],
    ['GET', `/api/crossings/${id}/history?before=x`, undefined, 400],
    ['POST', `/api/exports?crossingId=${id}&revision=0&format=avi&frameCount=3`, {}, 400],
    ['GET', '/api/exports/nothing/file', undefined, 404],
  ];
  for (const [method, url, body, status] of refused) {
    const response = await request.fetch(url, { method, data: body });
    expect(response.status(), `${method} ${url} ${JSON.stringify(body)?.slice(0, 160)}`).toBe(status);
    expect(((await response.json()) as { error: string }).error.length).toBeGreaterThan(10);
  }
  const text = await request.post(steps, {
    headers: { 'content-type': 'application/json' },
    data: Buffer.from('{broken'),
  });
  expect(text.status()).toBe(400);
  expect((await request.post(steps, { headers: { 'content-type': 'text/plain' }, data: 'x' })).status()).toBe(
    415,
  );
  expect((await storedCrossing(page, id)).revision).toBe(revision);
});

test('a step sent twice is done once', async ({ page, request }) => {
  const id = await newCrossing(page, 'Twice');
  const { document } = await storedCrossing(page, id);
  const layer = Object.values(document.layers)[0];
  const changes = [{ table: 'layer', id: layer.id, before: layer, after: { ...layer, offset: 7 } }];
  const body = {
    requestId: randomUUID(),
    baseRevision: 0,
    kind: 'do',
    edit: { id: randomUUID(), label: 'Slip', changes },
  };
  const answers = [];
  for (let k = 0; k < 2; k++)
    answers.push(await (await request.post(`/api/crossings/${id}/commits`, { data: body })).json());
  expect(answers).toEqual([{ revision: 1 }, { revision: 1 }]);
  expect((await storedCrossing(page, id)).history).toHaveLength(1);
});

test('files are served by range', async ({ page, request }) => {
  const { shots } = await storedCrossing(page);
  const whole = await (await request.get(shots[0].url)).body();
  const part = await request.get(shots[0].url, { headers: { range: 'bytes=100-199' } });
  expect(part.status()).toBe(206);
  expect(part.headers()['content-range']).toBe(`bytes 100-199/${whole.length}`);
  expect((await part.body()).equals(whole.subarray(100, 200))).toBe(true);
  expect(
    (await (await request.get(shots[0].url, { headers: { range: 'bytes=-50' } })).body()).equals(
      whole.subarray(-50),
    ),
  ).toBe(true);
  expect((await request.get(shots[0].url, { headers: { range: `bytes=${whole.length}-` } })).status()).toBe(
    416,
  );
});

test('what is no whole video is refused with a sentence and leaves no file', async ({ page, kiv }) => {
  const source = ['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=2'];
  const make = (name: string, args: string[]) => (
    run('ffmpeg', ['-y', ...args, clipFile(name)]),
    clipFile(name)
  );
  const good = make('good.mp4', [
    ...source,
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
    '-movflags',
    'faststart',
  ]);
  const webm = make('good.webm', [...source, '-c:v', 'libvpx-vp9', '-b:v', '1M']);
  const write = (name: string, bytes: Uint8Array) => (writeFileSync(clipFile(name), bytes), clipFile(name));
  const cut = (file: string, share: number) =>
    readFileSync(file).subarray(0, Math.floor(readFileSync(file).length * share));
  const before = filesKept(kiv.data);
  const refused: [string, string, RegExp, string?][] = [
    ['empty', write('empty.mp4', new Uint8Array(0)), /empty/],
    ['text', write('text.mp4', Buffer.from('not a video, just words '.repeat(40))), /not a video/],
    [
      'noise',
      write(
        'noise.webm',
        Uint8Array.from({ length: 5000 }, (_, i) => (i * 7919) % 251),
      ),
      /not a video/,
    ],
    ['cut near its end', write('cut.mp4', cut(good, 0.97)), /ends too early/],
    ['cut early', write('cut2.mp4', cut(good, 0.3)), /ends too early/],
    ['cut WebM', write('cut.webm', cut(webm, 0.6)), /ends too early/],
    ['only sound', make('sound.mp4', ['-f', 'lavfi', '-i', 'sine=d=1', '-c:a', 'aac']), /no pictures/],
    ['too large', write('large.mp4', new Uint8Array(20_000_001)), /limit of 20 MB/],
    ['path in its name', good, /path parts/, '../../good.mp4'],
    ['dots for a name', good, /path parts/, '..'],
  ];
  for (const [what, file, sentence, name] of refused) {
    const { status, error } = await uploadFile(page, file, name);
    expect(error, what).toMatch(sentence);
    expect([400, 413, 422], what).toContain(status);
  }
  expect(filesKept(kiv.data)).toEqual(before);
  expect((await uploadFile(page, good)).status).toBe(200);
});
