import { expect } from '@playwright/test';
import { test } from './kiv';
import { decode as decodePng } from 'fast-png';
import { unzipSync } from 'fflate';
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { planeSamples, toDeepPlanes } from '@/core/colour/deep-planes';
import { setMove } from '@/core/actions/move-actions';
import { applyChanges } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import {
  clipFile,
  demoCrossingId,
  type HarnessWindow,
  mediaOf,
  openHarness,
  run,
  storedCrossing,
  uploadFile,
} from './support';

const [width, height] = [1280, 720];
const colour = { matrix: 'bt709', fullRange: false } as const;

/** Exports without a window. */
const written = (origin: string, ...args: string[]) =>
  spawnSync('node', ['scripts/export.mjs', ...args], { env: { ...process.env, PORT: new URL(origin).port } });

/** A grey that grows by a few code values of ten bits from left to right, as H.264 with ten bits. */
function slowGradient(): string {
  const file = clipFile('gradient.mp4');
  // Luma 400 to 432 of 1023 over the width.
  const source = `color=s=${width}x${height}:r=25:d=0.4,format=yuv420p10le,geq=lum=400+32*X/W:cb=512:cr=512`;
  const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'];
  const coding = ['-c:v', 'libx264', '-qp', '2', '-profile:v', 'high10', ...tags];
  run('ffmpeg', ['-y', '-f', 'lavfi', '-i', source, ...coding, file]);
  return file;
}

test('with all bits the compositor’s pixels are the CPU reference’s within one code value of 1023', async ({
  page,
}) => {
  const { document, shots } = await storedCrossing(page);
  await openHarness(page);
  const compareDeep = (doc: CrossingDocument, frame: number) =>
    page.evaluate(
      ([doc, media, frame]) => (globalThis as HarnessWindow).harness.compareDeep(doc, media, frame),
      [doc, shots, frame] as const,
    );
  const light = { ...document, crossing: { ...document.crossing, blend: 'linear sRGB' as const } };
  for (const doc of [document, light]) {
    const { off, largest, values } = await compareDeep(doc, 33);
    expect(off).toBeLessThan(0.001);
    expect(largest).toBeLessThanOrEqual(3);
    expect(values).toBeGreaterThan(5000);
  }
});

test('footage with ten bits is read as ten, and a slow gradient that is faded has no step that eight bits would make', async ({
  page,
}) => {
  test.setTimeout(120_000);
  const { id } = await uploadFile(page, slowGradient());
  const media = await mediaOf(page, id!);
  await openHarness(page);
  const luma = await page.evaluate(
    (media) => (globalThis as HarnessWindow).harness.deepLuma(media, 3),
    media,
  );
  const raw = run('ffmpeg', [
    '-i',
    clipFile('gradient.mp4'),
    '-f',
    'rawvideo',
    '-pix_fmt',
    'yuv420p10le',
    '-',
  ]);
  const own = new Uint16Array(
    new Uint8Array(raw.subarray(3 * width * height * 3, 3 * width * height * 3 + 2 * width * height)).buffer,
  );
  expect(luma.every((value, i) => value === own[i])).toBe(true);
  expect(new Set(luma).size).toBeGreaterThanOrEqual(32);
  // The gradient alone at half of its opacity, so over black.
  const { document } = await storedCrossing(page);
  const layer = Object.values(document.layers).find(({ role }) => role === 'outgoing')!;
  const alone: CrossingDocument = {
    ...document,
    ...{ outlines: {}, poses: {}, edges: {}, chromas: {}, moves: {} },
    layers: { [layer.id]: { ...layer, shotId: id!, offset: 0, trimIn: null, trimOut: null } },
  };
  const faded = applyChanges(alone, setMove(alone, layer.id, 'opacity', 0, 50));
  const { off, line } = await page.evaluate(
    ([doc, media]) => (globalThis as HarnessWindow).harness.compareDeep(doc, [media], 3),
    [faded, media] as const,
  );
  expect(off).toBe(0);
  // BT.709-6: (D − 64) / 876, and half of it; D grows by 32 over the line.
  line.forEach((value, x) => {
    const wanted = (400 + (32 * x) / width - 64) / 876 / 2;
    expect(Math.abs(1023 * (value - wanted))).toBeLessThan(1);
  });
  expect(new Set(line.map((value) => Math.round(65_535 * value))).size).toBeGreaterThanOrEqual(32);
});

test('masters are what ffprobe says they are, and hold the picture of 16 bits as their codecs can', async ({
  kiv,
}) => {
  test.setTimeout(240_000);
  const folder = path.join(path.dirname(clipFile('x')), 'masters');
  mkdirSync(folder);
  const formats = 'png16,prores,dnxhr,hevc10,av1-10,cutout-prores';
  const range = ['--from', '32', '--to', '32', '--size', 'half', '--timecode', '10:00:00:05'];
  const [half, halfHeight] = [width / 2, height / 2];
  const door = ['--crossing', 'Door to the pond', '--as', formats, '--out', folder, ...range];
  const ran = written(kiv.origin, ...door, '--name', '{as}');
  expect(ran.status, ran.stderr.toString()).toBe(0);
  const file = (name: string) => path.join(folder, name);
  const pngs = Object.values(unzipSync(readFileSync(file('png16.zip')))).map((png) => decodePng(png));
  expect(pngs.map(({ depth, channels }) => [depth, channels])).toEqual([[16, 3]]);
  for (const [name, pixels, chroma, least, facts] of [
    ['prores.mov', 'yuv422p10le', '4:2:2', 50, ['prores', 'HQ', 'pcm_s24le']],
    ['dnxhr.mov', 'yuv422p10le', '4:2:2', 50, ['dnxhd', 'DNXHR HQX', 'pcm_s24le']],
    ['hevc10.mp4', 'yuv420p10le', '4:2:0', 38, ['hevc', 'Main 10', 'aac']],
    ['av1-10.mp4', 'yuv420p10le', '4:2:0', 34, ['av1', 'Main', 'aac']],
  ] as const) {
    const said = run('ffprobe', [
      '-show_entries',
      'stream=codec_name,profile,color_space,color_range:stream_tags=timecode',
      '-of',
      'csv=p=0',
      file(name),
    ]).toString();
    for (const fact of facts) expect(said, name).toContain(fact);
    expect(said, name).toContain('10:00:00:05');
    expect(said, name).toContain('tv,bt709');
    const raw = run('ffmpeg', ['-i', file(name), '-f', 'rawvideo', '-pix_fmt', pixels, '-']);
    const samples = planeSamples(half, halfHeight, { chroma, alpha: false });
    const found = new Uint16Array(new Uint8Array(raw).buffer);
    expect(found.length, name).toBe(samples);
    pngs.forEach(({ data }, n) => {
      const floats = new Float32Array(half * halfHeight * 4);
      for (let i = 0, o = 0; i < floats.length; i += 4)
        for (let k = 0; k < 3; k++) floats[i + k] = data[o++] / 65_535;
      const planes = new Uint16Array(samples);
      toDeepPlanes(floats, half, halfHeight, colour, { chroma, alpha: false }, planes);
      let sum = 0;
      planes.forEach((value, i) => (sum += (value - found[n * samples + i]) ** 2));
      const psnr = 10 * Math.log10(1023 ** 2 / (sum / samples));
      expect(psnr, name).toBeGreaterThan(least);
    });
  }
  const alpha = run('ffmpeg', [
    '-i',
    file('cutout-prores.mov'),
    '-f',
    'rawvideo',
    '-pix_fmt',
    'yuva444p12le',
    '-',
  ]);
  const cut = new Uint16Array(new Uint8Array(alpha).buffer).subarray(
    3 * half * halfHeight,
    4 * half * halfHeight,
  );
  expect([Math.min(...new Set(cut)), Math.max(...new Set(cut))]).toEqual([0, 4095]);
  expect(new Set(cut).size).toBeGreaterThan(100);
});

test('a crossing’s ZIP is written in parts by two jobs at once: killed ones are made again, and joined they are one run', async ({
  kiv,
  page,
}) => {
  test.setTimeout(240_000);
  const folder = path.join(path.dirname(clipFile('x')), 'farm');
  mkdirSync(folder);
  const zip = path.join(folder, 'pond.kiv.zip');
  const parcel = await page.request.get(`/api/crossings/${demoCrossingId}/parcel?footage=used&handles=2`);
  writeFileSync(zip, await parcel.body());
  const range = ['--from', '30', '--to', '36', '--size', 'quarter'];
  const out = path.join(folder, 'pond.zip');
  const asked = ['scripts/export.mjs', '--crossing', zip, '--as', 'png', '--out', out, ...range];
  const partFile = (k: number) => path.join(folder, `pond.part-${k}-of-2.zip`);
  // A worker that is killed leaves no part, and no Kiv behind.
  const killed = spawn('node', [...asked, '--part', '2/2']);
  await new Promise((done) => setTimeout(done, 4000));
  killed.kill('SIGKILL');
  expect(existsSync(partFile(2))).toBe(false);
  const early = written(kiv.origin, '--join', '--out', out);
  expect([early.status, early.stderr.toString()]).toEqual([
    1,
    expect.stringMatching(/There are no parts of/),
  ]);
  const inParts = () =>
    spawnSync('parallel', ['--retries', '2', '-j2', 'node', ...asked, '--part', '{}/2', ':::', '1', '2']);
  const first = inParts();
  expect(first.status, first.stderr.toString()).toBe(0);
  const made = statSync(partFile(1)).mtimeMs;
  rmSync(partFile(2));
  const missing = written(kiv.origin, '--join', '--out', out);
  expect([missing.status, missing.stderr.toString()]).toEqual([
    1,
    expect.stringMatching(/Of 2 parts one is missing: 2/),
  ]);
  expect(inParts().status).toBe(0);
  expect(statSync(partFile(1)).mtimeMs).toBe(made);
  const joined = written(kiv.origin, '--join', '--out', out);
  expect(joined.status, joined.stderr.toString()).toBe(0);
  // Drawn by the graphics processor, whose last bit may differ: not here, where nothing is divided by a small alpha.
  const whole = path.join(folder, 'whole.zip');
  const one = written(kiv.origin, '--crossing', demoCrossingId, '--as', 'png', '--out', whole, ...range);
  expect(one.status, one.stderr.toString()).toBe(0);
  const [parts, own] = [out, whole].map((file) => unzipSync(readFileSync(file)));
  expect(Object.keys(parts)).toEqual(Object.keys(own));
  for (const [name, png] of Object.entries(own))
    expect(Buffer.from(parts[name]).equals(Buffer.from(png)), name).toBe(true);
  // Videos: the frames of their parts at the times of one run, with the sound of one run.
  const film = path.join(folder, 'pond.webm');
  const video = ['--crossing', demoCrossingId, '--as', 'webm', ...range];
  for (const part of ['1/2', '2/2'])
    expect(written(kiv.origin, ...video, '--out', film, '--part', part).status).toBe(0);
  expect(written(kiv.origin, '--join', '--out', film).status).toBe(0);
  const again = path.join(folder, 'again.webm');
  expect(written(kiv.origin, ...video, '--out', again).status).toBe(0);
  const frames = (file: string) =>
    run('ffmpeg', ['-i', file, '-map', '0:v', '-f', 'framemd5', '-'])
      .toString()
      .split('\n')
      .filter((line) => /^\d/.test(line))
      .map((line) => line.split(',').map((cell) => cell.trim()));
  const partsOfFilm = [1, 2].flatMap((k) => frames(path.join(folder, `pond.part-${k}-of-2.webm`)));
  expect(frames(film).map((cells) => cells[5])).toEqual(partsOfFilm.map((cells) => cells[5]));
  expect(frames(film).map((cells) => cells[2])).toEqual(frames(again).map((cells) => cells[2]));
  const sound = (file: string) => run('ffmpeg', ['-i', file, '-map', '0:a', '-f', 'md5', '-']).toString();
  expect(sound(film)).toBe(sound(again));
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
});
