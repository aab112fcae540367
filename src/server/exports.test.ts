import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { ExportFormat, ExportSoundCodec } from '@/core/formats/export-formats';
import type { ExportBody } from './bodies';

process.env.KIV_DATA = mkdtempSync(path.join(tmpdir(), 'kiv-exports-'));

/* The modules read KIV_DATA when they are first used. */
import { createCanvas } from '@napi-rs/canvas';
import { createCrossing, deleteCrossing } from './crossings';
import { arrivingFolder, exportsFolder, underWayFolder } from './data-folder';
import { database } from './database';
import {
  beginExport,
  cancelWriting,
  deleteExport,
  exportFile,
  finishExport,
  listExports,
  resumeExports,
  writeExport,
} from './exports';
import { truePeakOf } from './ffmpeg';
import { takeIn } from './receive';

/** Every way out of an export leaves a listed file, one that is gone on with, or nothing. */

let crossingId = '';
beforeAll(async () => {
  database();
  const still = path.join(arrivingFolder(), 'leaf');
  writeFileSync(still, createCanvas(64, 48).toBuffer('image/png'));
  const { id } = (await takeIn(still, 'leaf.png', { num: 25, den: 1 }, null)) as { id: string };
  crossingId = createCrossing({ name: 'Out', plan: 'pass-by', outgoingShotId: id, incomingShotId: id });
});

const asked = (format: ExportFormat, sound: ExportSoundCodec = 'none') =>
  ({
    ...{ crossingId, revision: 0, format, sound, frameCount: 3, firstFrame: 0, shotName: null },
    ...{ width: 64, height: 48, rateNum: 25, rateDen: 1 },
  }) as ExportBody;
const piece = (bytes: Uint8Array) =>
  new Request('http://127.0.0.1/', { method: 'PATCH', body: new Uint8Array(bytes) });
const write = (id: string, bytes: Uint8Array, position = 0, part: 'file' | 'sound' = 'file') =>
  writeExport(id, { position, part }, piece(bytes));
const underWay = () => readdirSync(underWayFolder());
const shared = globalThis as { kivWriting?: unknown; kivSweeping?: NodeJS.Timeout };
/** As a new start of the server finds it. */
function startAgain() {
  clearInterval(shared.kivSweeping);
  delete shared.kivWriting;
  resumeExports();
}

test('an export goes on after the server was started again, and finishing it twice is finishing it once', async () => {
  const id = await beginExport(asked('webm'));
  await write(id, Buffer.from('kiv '));
  startAgain();
  await write(id, Buffer.from('goes on'), 4);
  expect(await Promise.all([finishExport(id, null), finishExport(id, null)])).toEqual([id, id]);
  // The answer was lost, and the page asks again; then it gives up, and cancels what is under way.
  expect(await finishExport(id, null)).toBe(id);
  expect(await cancelWriting(id)).toBe(false);
  expect(listExports().map((each) => [each.id, each.byteSize])).toEqual([[id, 11]]);
  expect(readFileSync(exportFile(id).file, 'utf8')).toBe('kiv goes on');
  expect(underWay()).toEqual([]);
  await deleteExport(id);
  expect([listExports(), readdirSync(exportsFolder())]).toEqual([[], []]);
});

test('a file that had its place when the server ended is listed at the next start', async () => {
  const id = await beginExport(asked('webm'));
  await write(id, Buffer.from('whole'));
  database().exec(
    "CREATE TRIGGER full BEFORE INSERT ON export BEGIN SELECT RAISE(ABORT, 'database or disk is full'); END",
  );
  const [described] = underWay().filter((name) => name.endsWith('.json'));
  const kept = readFileSync(path.join(underWayFolder(), described));
  // SQLite's errors may be another realm's than the test's, in which they are no errors.
  await expect(finishExport(id, null)).rejects.toMatchObject({ message: 'database or disk is full' });
  database().exec('DROP TRIGGER full');
  // As if the power had failed between the two.
  writeFileSync(path.join(underWayFolder(), described), kept);
  writeFileSync(path.join(exportsFolder(), `${id}.webm`), 'whole');
  startAgain();
  expect(listExports().map((each) => each.id)).toEqual([id]);
  await deleteExport(id);
});

test('on a full disk all stays, and finishing can be asked for again; a crossing that is gone takes its export along', async () => {
  const id = await beginExport(asked('webm'));
  await write(id, Buffer.from('whole'));
  const full = Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' });
  const real = database().prepare.bind(database());
  const failing = jest.spyOn(database(), 'prepare').mockImplementation((sql: string) => {
    if (sql.startsWith('INSERT INTO export')) throw full;
    return real(sql);
  });
  await expect(finishExport(id, null)).rejects.toBe(full);
  failing.mockRestore();
  expect([listExports(), readdirSync(exportsFolder())]).toEqual([[], []]);
  expect(await finishExport(id, null)).toBe(id);
  await deleteExport(id);

  const other = await beginExport(asked('webm'));
  await write(other, Buffer.from('whole'));
  const [{ id: shotId }] = database().prepare('SELECT id FROM shot').all() as { id: string }[];
  deleteCrossing(crossingId);
  await expect(finishExport(other, null)).rejects.toThrow('deleted while it was exported');
  expect([listExports(), readdirSync(exportsFolder()), underWay()]).toEqual([[], [], []]);
  crossingId = createCrossing({
    ...{ name: 'Out', plan: 'pass-by' },
    ...{ outgoingShotId: shotId, incomingShotId: shotId },
  });
});

test('a laptop that slept has lost nothing; what nobody goes on with is thrown away after ten waking minutes', async () => {
  jest.useFakeTimers({ doNotFake: ['nextTick', 'setImmediate', 'performance'] });
  startAgain();
  const id = await beginExport(asked('webm'));
  await write(id, Buffer.from('asleep'));
  // Hours pass by the clock, but no timer runs.
  jest.setSystemTime(Date.now() + 10 * 3600e3);
  await jest.advanceTimersByTimeAsync(590_000);
  await write(id, Buffer.from('!'), 6);
  await jest.advanceTimersByTimeAsync(590_000);
  expect(underWay()).not.toEqual([]);
  await jest.advanceTimersByTimeAsync(30_000);
  jest.useRealTimers();
  expect(underWay()).toEqual([]);
  await expect(finishExport(id, null)).rejects.toThrow('no such export under way');
});

test('sound that is joined as AAC stays below −1 dBTP once it is decoded, and what ffmpeg refuses is not kept', async () => {
  const folder = mkdtempSync(path.join(tmpdir(), 'kiv-joined-'));
  const [pictures, sound] = [path.join(folder, 'p.mp4'), path.join(folder, 's.wav')];
  const run = (args: string[]) => expect(spawnSync('ffmpeg', ['-v', 'error', '-y', ...args]).status).toBe(0);
  run(['-f', 'lavfi', '-i', 'testsrc2=s=64x48:r=25:d=2', '-pix_fmt', 'yuv420p', pictures]);
  // Steep and loud: what is lost in encoding lifts its peaks.
  const loud = 'aevalsrc=0.885*sgn(sin(2*PI*(200+900*t)*t)):s=48000:d=2,aresample=osf=flt,lowpass=f=16000';
  run(['-f', 'lavfi', '-i', loud, '-af', 'volume=-0.8dB', '-ac', '2', '-c:a', 'pcm_s24le', sound]);
  const plain = path.join(folder, 'plain.m4a');
  run(['-i', sound, '-c:a', 'aac', '-b:a', '256k', plain]);
  const id = await beginExport(asked('mp4', 'aac'));
  await write(id, readFileSync(pictures));
  await write(id, readFileSync(sound), 0, 'sound');
  await finishExport(id, null);
  const [before, after] = [await truePeakOf(plain), await truePeakOf(exportFile(id).file)];
  expect(before).toBeGreaterThan(-1);
  expect(after).toBeLessThanOrEqual(-1);
  expect(after).toBeGreaterThan(-1.6);

  const broken = await beginExport(asked('cut-out-ffv1'));
  await write(broken, Buffer.from('no pictures'));
  const said = jest.spyOn(console, 'error').mockImplementation(() => {});
  await expect(finishExport(broken, null)).rejects.toMatchObject({ status: 422 });
  said.mockRestore();
  expect(underWay()).toEqual([]);
  expect(existsSync(path.join(exportsFolder(), `${broken}.mkv`))).toBe(false);
});

test('a master is made of the planes that were sent, over a restart too, and asks for the room it needs before', async () => {
  const id = await beginExport({ ...asked('dnxhr'), width: 256, height: 120, timecode: '10:00:00:00' });
  // Three frames of 4:2:2 with ten bits: a grey that gets lighter.
  const frame = 256 * 120 * 2;
  const planes = new Uint16Array(3 * frame).map((_, i) =>
    i % frame < frame / 2 ? 300 + 100 * Math.floor(i / frame) : 512,
  );
  const bytes = new Uint8Array(planes.buffer);
  await write(id, bytes.subarray(0, 100_000));
  startAgain();
  await write(id, bytes.subarray(100_000), 100_000);
  await finishExport(id, null);
  const { file } = exportFile(id);
  const { stdout } = spawnSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    file,
    '-f',
    'rawvideo',
    '-pix_fmt',
    'yuv422p10le',
    '-',
  ]);
  const found = new Uint16Array(new Uint8Array(stdout).buffer);
  expect(found.length).toBe(planes.length);
  const farthest = planes.reduce((most, value, i) => Math.max(most, Math.abs(found[i] - value)), 0);
  expect(farthest).toBeLessThanOrEqual(1);
  expect(underWay()).toEqual([]);
  await deleteExport(id);
  const vast = { ...asked('cut-out-prores'), width: 8192, height: 8192, frameCount: 1_000_000 };
  await expect(beginExport(vast)).rejects.toMatchObject({
    status: 507,
    message: expect.stringMatching(/needs .* of room while it is made, and .* are free/),
  });
  expect(underWay()).toEqual([]);
});
