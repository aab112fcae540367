import { createCanvas } from '@napi-rs/canvas';
import { zipSync } from 'fflate';
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import streams from 'node:stream/promises';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-footage-in-'));

import { FootageRefusal } from '@/footage/refusal';
import { arrivingFolder, dataFolder, footageFolder, uploadsFolder } from './data-folder';
import { database } from './database';
import { frameTimes, probe, treatmentOf } from './ffmpeg';
import { listJobs, queueConversion, requireSameFrames, resumeJobs } from './jobs';
import { takeIn } from './receive';
import { respond } from './respond';
import { run } from './run-ffmpeg';
import { takeSound } from './sounds';
import { changeShot, deleteShot, shotWithIndex, stillFile } from './shots';
import { beginUpload, continueUpload, finishUpload, forgetOldUploads } from './uploads';

database();
const rate = { num: 24, den: 1 };
const png = (width = 16, height = 12) => createCanvas(width, height).toBuffer('image/png');
let count = 0;
const arrived = (bytes: Uint8Array) => {
  const file = path.join(arrivingFolder(), `test-${count++}`);
  writeFileSync(file, bytes);
  return file;
};
const sequence = (pictures: [name: string, bytes: Uint8Array][]) =>
  takeIn(
    arrived(Buffer.concat(pictures.map(([, bytes]) => bytes))),
    'walk.png',
    rate,
    pictures.map(([name, { length }]) => ({ name, size: length })),
  );

test('numbered pictures become a shot in the order of their numbers; folders left behind: none', async () => {
  const wide = png(20, 12);
  const taken = await sequence([
    ['w_10.png', png()],
    ['w_9.png', png()],
    ['w_11.png', png()],
  ]);
  const { id } = taken as { id: string };
  const { shot, stills, timestamps } = shotWithIndex(id);
  expect(shot).toMatchObject({ width: 16, height: 12, frameCount: 3, rate });
  expect(stills).toBe(true);
  expect(timestamps[2]).toBeCloseTo(2 / 24, 9);
  expect(statSync(stillFile(id, 2)).size).toBe(png().length);
  expect(() => stillFile(id, 3)).toThrow('no such picture');
  changeShot(id, { rateNum: 25, rateDen: 1, notes: 'later' });
  expect(shotWithIndex(id).timestamps[2]).toBeCloseTo(2 / 25, 9);

  for (const [pictures, sentence] of [
    [
      [
        ['a1.png', png()],
        ['a3.png', png()],
      ],
      /Number 2 is missing: “a1.png” is followed by “a3.png”/,
    ],
    [
      [
        ['a1.png', png()],
        ['a01.png', png()],
      ],
      /the same number/,
    ],
    [
      [
        ['a1.png', png()],
        ['a2.png', wide],
      ],
      /“a2.png” is 20 × 12, the first picture 16 × 12/,
    ],
    [
      [
        ['a1.png', png()],
        ['a2.png', Buffer.from('no picture')],
      ],
      /not a whole PNG/,
    ],
    [
      [
        ['a1.png', png()],
        ['b.png', png()],
      ],
      /“b.png” has no number/,
    ],
  ] as [[string, Uint8Array][], RegExp][])
    await expect(sequence(pictures)).rejects.toThrow(sentence);
  await deleteShot(id);
  expect(readdirSync(footageFolder())).toEqual([]);
  expect(readdirSync(arrivingFolder()).filter((name) => name.includes('pictures'))).toEqual([]);
});

test('a ZIP gives its pictures and nothing else, wherever its names point', async () => {
  const zip = zipSync({
    'take/1.png': png(),
    'take/2.png': png(),
    'take/notes.txt': Buffer.from('later'),
    '__MACOSX/._1.png': Buffer.from('junk'),
  });
  const taken = (await takeIn(arrived(zip), 'take.zip', rate, null)) as { id: string };
  expect(shotWithIndex(taken.id).shot.frameCount).toBe(2);
  const outward = zipSync({ '../../outward1.png': png() });
  await expect(takeIn(arrived(outward), 'outward.zip', rate, null)).rejects.toThrow('ZIP is damaged');
  expect(readdirSync(path.dirname(dataFolder())).some((name) => name.startsWith('outward'))).toBe(false);
  await expect(takeIn(arrived(zipSync({ 'a.txt': png() })), 'a.zip', rate, null)).rejects.toThrow('no PNG');
  await expect(takeIn(arrived(zip.subarray(0, 60)), 'cut.zip', rate, null)).rejects.toThrow(
    'ZIP cannot be read',
  );
});

test('an upload goes on from where it broke off, takes no more than was said, and is whole or nothing', async () => {
  const bytes = png(64, 64);
  const body = {
    fingerprint: 'poster.png 1 1',
    name: 'poster.png',
    size: bytes.length,
    rateNum: 24,
    rateDen: 1,
  };
  const piece = (from: number, to: number) =>
    new Request('http://127.0.0.1/', { method: 'PATCH', body: new Uint8Array(bytes.subarray(from, to)) });
  const { id, received } = await beginUpload(body);
  expect(received).toBe(0);
  expect(await continueUpload(id, 0, piece(0, 40))).toEqual({ id, received: 40 });
  await expect(continueUpload(id, 60, piece(60, 70))).rejects.toMatchObject({
    status: 409,
    details: { received: 40 },
  });
  await expect(finishUpload(id, null)).rejects.toMatchObject({ status: 409 });
  // Chosen again after a reload; a piece whose answer was lost comes twice.
  await forgetOldUploads();
  expect(await beginUpload(body)).toEqual({ id, received: 40 });
  expect(await continueUpload(id, 20, piece(20, 80))).toEqual({ id, received: 80 });
  const tooMany = new Request('http://127.0.0.1/', { method: 'PATCH', body: new Uint8Array(bytes.length) });
  await expect(continueUpload(id, 80, tooMany)).rejects.toMatchObject({ status: 413 });
  await continueUpload(id, 80, piece(80, bytes.length));
  const taken = (await finishUpload(id, null)) as { id: string };
  expect(shotWithIndex(taken.id).shot).toMatchObject({ width: 64, height: 64, frameCount: 1 });
  expect(readdirSync(uploadsFolder())).toEqual([]);
  await expect(continueUpload(id, 0, piece(0, 9))).rejects.toThrow('no such upload');
  await expect(beginUpload({ ...body, size: 9e12 })).rejects.toMatchObject({ status: 413 });
});

test('two windows that send one file do not write into each other; both are told what became of it', async () => {
  const bytes = png(64, 64);
  const body = { fingerprint: 'leaf.png 5', name: 'leaf.png', size: bytes.length, rateNum: 24, rateDen: 1 };
  const whole = () => new Request('http://127.0.0.1/', { method: 'PATCH', body: new Uint8Array(bytes) });
  let give: ReadableStreamDefaultController<Uint8Array>;
  const slow = new ReadableStream<Uint8Array>({ start: (controller) => void (give = controller) });
  const { id } = await beginUpload(body);
  expect((await beginUpload(body)).id).toBe(id);
  const first = continueUpload(id, 0, { body: slow } as unknown as Request);
  give!.enqueue(new Uint8Array(bytes.subarray(0, 30)));
  await expect(continueUpload(id, 0, whole())).rejects.toMatchObject({
    status: 409,
    details: { reason: 'busy' },
  });
  await expect(finishUpload(id, null)).rejects.toMatchObject({ status: 409 });
  give!.enqueue(new Uint8Array(bytes.subarray(30)));
  give!.close();
  expect(await first).toEqual({ id, received: bytes.length });
  // One finishes twice at once, as two windows do, and once more after its answer was lost.
  const [one, two] = await Promise.all([finishUpload(id, null), finishUpload(id, null)]);
  expect([two, await finishUpload(id, null)]).toEqual([one, one]);
  expect(readFileSync(stillFile((one as { id: string }).id, 0))).toEqual(bytes);

  // A writer that has sent nothing for long is taken over from; more bytes than the file has begin again.
  const other = { ...body, fingerprint: 'leaf.png 6' };
  const stalled = await beginUpload(other);
  const stuck = continueUpload(stalled.id, 0, { body: new ReadableStream() } as unknown as Request);
  stuck.catch(() => {});
  const now = jest.spyOn(Date, 'now').mockReturnValue(Date.now() + 60_000);
  expect(await continueUpload(stalled.id, 0, whole())).toEqual({ id: stalled.id, received: bytes.length });
  now.mockRestore();
  await expect(stuck).rejects.toMatchObject({ status: 400 });
  writeFileSync(path.join(uploadsFolder(), stalled.id), Buffer.alloc(bytes.length + 5));
  expect(await beginUpload(other)).toEqual({ id: stalled.id, received: 0 });
  // An upload begun long ago and gone on with today is kept.
  database().prepare("UPDATE upload SET created_at = '2020-01-01' WHERE id = ?").run(stalled.id);
  await forgetOldUploads();
  expect((await beginUpload(other)).id).toBe(stalled.id);
  database().prepare("UPDATE upload SET continued_at = '2020-01-01' WHERE id = ?").run(stalled.id);
  await forgetOldUploads();
  expect(readdirSync(uploadsFolder())).toEqual([]);
});

test('a converted file is only taken with exactly the frames of the original', () => {
  const times = [0, 0.04, 0.08, 0.12];
  requireSameFrames(times, [5, 5.0405, 5.08, 5.1199]);
  expect(() => requireSameFrames(times, [0, 0.04, 0.08])).toThrow('3 frames instead of 4');
  expect(() => requireSameFrames(times, [0, 0.04, 0.085, 0.12])).toThrow(
    'Frame 2 of the converted file is 5.0 ms',
  );
});

test('ffprobe’s words become what is done and said; a frame without a time follows the one before', async () => {
  const folder = path.join(dataFolder(), 'clips');
  mkdirSync(folder);
  const file = path.join(folder, 'old.avi');
  const source = ['-f', 'lavfi', '-i', 'testsrc2=s=128x96:r=25:d=1'];
  const made = spawnSync('ffmpeg', ['-v', 'error', ...source, '-c:v', 'mpeg4', '-bf', '2', file]);
  expect(made.status).toBe(0);
  const times = await frameTimes(file, new AbortController().signal);
  expect(times).toHaveLength(25);
  times.forEach((time, n) => expect(time).toBeCloseTo(n / 25, 4));
  const found = (await probe(file))!;
  expect(found).toMatchObject({ codec: 'MPEG-4 part 2', width: 128, interlaced: false, depth: 8 });
  expect(treatmentOf(found).says).toBe('Converted from MPEG-4 part 2.');
  expect(treatmentOf({ ...found, interlaced: true }).filters[0]).toMatch(/^bwdif/);
  const deep = treatmentOf({ ...found, depth: 12, pixelFormat: 'yuv422p12le' });
  expect([deep.says, deep.filters.at(-1)]).toEqual([
    'Converted from MPEG-4 part 2; 12 bits a channel were reduced to 10.',
    'format=yuv420p10le',
  ]);
  expect(treatmentOf({ ...found, depth: 10, transfer: 'arib-std-b67' }).says).toContain('HDR (HLG)');
  expect(await probe(path.join(dataFolder(), 'kiv.sqlite'))).toBeNull();
});

test('a list that points to other files is no video, whatever it is called', async () => {
  const secret = path.join(dataFolder(), 'secret.mp4');
  const source = ['-f', 'lavfi', '-i', 'testsrc2=s=64x64:r=25:d=1', '-pix_fmt', 'yuv420p'];
  expect(spawnSync('ffmpeg', ['-v', 'error', ...source, secret]).status).toBe(0);
  // RFC 8216 (HLS), ISO/IEC 23009-1 (DASH), ffmpeg's own list of files.
  const lists = {
    hls: `#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nfile://${secret}\n#EXT-X-ENDLIST\n`,
    concat: `ffconcat version 1.0\nfile ${secret}\n`,
    dash: `<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011" type="static" mediaPresentationDuration="PT1S" profiles="urn:mpeg:dash:profile:isoff-on-demand:2011"><Period><AdaptationSet mimeType="video/mp4"><Representation id="1" bandwidth="1"><BaseURL>file://${secret}</BaseURL></Representation></AdaptationSet></Period></MPD>`,
  };
  for (const text of Object.values(lists)) {
    const file = arrived(Buffer.from(text));
    expect(await probe(file)).toBeNull();
    await expect(takeIn(file, 'clip.avi', rate, null)).rejects.toMatchObject({ status: 422 });
    await expect(takeSound(file, 'clip.wav')).rejects.toThrow(FootageRefusal);
  }
  // What is asked of ffmpeg ends in time.
  const encoding = run('ffmpeg', ['-f', 'lavfi', '-i', 'testsrc2', '-f', 'null', '-'], { limit: 0.2 });
  await expect(encoding).rejects.toThrow('ffmpeg took longer than 0.2 s and was stopped.');
});

test('a full disk is said as such, whatever was being done, and what arrived is kept', async () => {
  const zip = zipSync({ 'a1.png': png(), 'a2.png': png() });
  const full = () => Promise.reject(Object.assign(new Error('write'), { code: 'ENOSPC' }));
  for (const bytes of [zip, png(40, 40)]) {
    const name = bytes === zip ? 'walk.zip' : 'leaf.png';
    const body = { fingerprint: `${name} full`, name, size: bytes.length, rateNum: 24, rateDen: 1 };
    const { id } = await beginUpload(body);
    const request = new Request('http://127.0.0.1/', { method: 'PATCH', body: new Uint8Array(bytes) });
    await continueUpload(id, 0, request);
    const writing = jest.spyOn(streams, 'pipeline').mockImplementation(full);
    const answer = await respond(() => finishUpload(id, null));
    writing.mockRestore();
    expect(answer.status).toBe(507);
    expect((await beginUpload(body)).received).toBe(bytes.length);
    expect((await respond(() => finishUpload(id, null))).status).toBe(200);
  }
});

test('conversions go on when the database could not be written for a while', async () => {
  jest.useFakeTimers({ doNotFake: ['nextTick', 'setImmediate', 'performance'] });
  const failing = jest.spyOn(console, 'error').mockImplementation(() => {});
  // Nothing can be updated, as on a full disk.
  database().exec(
    "CREATE TRIGGER stuck BEFORE UPDATE ON job BEGIN SELECT RAISE(ABORT, 'database or disk is full'); END",
  );
  const id = await queueConversion(arrived(Buffer.from('no video')), 'old.avi', 'Its pictures are old.');
  await jest.advanceTimersByTimeAsync(100);
  expect(listJobs()).toMatchObject([{ id, state: 'waiting' }]);
  expect(failing).toHaveBeenCalled();
  database().exec('DROP TRIGGER stuck');
  await jest.advanceTimersByTimeAsync(31_000);
  jest.useRealTimers();
  failing.mockRestore();
  for (let tries = 0; listJobs()[0]?.state !== 'failed' && tries < 100; tries++)
    await new Promise((done) => setTimeout(done, 50));
  expect(listJobs()).toMatchObject([{ id, state: 'failed' }]);
  expect(listJobs()[0].message).toContain('ffmpeg finds no pictures');
});

test('a conversion whose shot was kept just before the server ended is not done twice', async () => {
  const taken = await sequence([['walk_1.png', png()]]);
  if (!('id' in taken)) throw new Error('It was to be converted.');
  database().exec('DELETE FROM job');
  database()
    .prepare(
      `INSERT INTO job (id, kind, name, file_name, state, reason, created_at)
       VALUES (?, 'convert', 'old.avi', 'old', 'running', 'Its pictures are old.', '2026-12-02')`,
    )
    .run(taken.id);
  resumeJobs();
  expect(listJobs()).toEqual([]);
});
