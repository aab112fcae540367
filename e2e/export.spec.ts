import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { decode as decodePng } from 'fast-png';
import { unzipSync } from 'fflate';
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import { deepMatteOf, matteOf, noPictures } from '@/core/compose/layer-matte';
import { drawPicture } from '@/core/compose/picture';
import type { PicturePlanes } from '@/core/picture/planes';
import { cutAt } from '@/core/compose/cut';
import { sceneAt } from '@/core/compose/scene';
import { MatteScratch } from '@/core/matte/matte';
import type { ExportListing } from '@/wire/answers';
import { clipFile, newCrossing, openCrossing, run, saved, shownFrame, storedCrossing } from './support';

const [width, height] = [1280, 720];

/** All frames of a video as planes, decoded by ffmpeg. */
function decodePlanes(file: string): PicturePlanes[] {
  const raw = run('ffmpeg', ['-i', file, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-']);
  const luma = width * height;
  const size = (luma * 3) / 2;
  return Array.from({ length: raw.length / size }, (_, n) => {
    const frame = raw.subarray(n * size, (n + 1) * size);
    return {
      width,
      height,
      chromaWidth: width / 2,
      chromaHeight: height / 2,
      y: frame.subarray(0, luma),
      u: frame.subarray(luma, luma * 1.25),
      v: frame.subarray(luma * 1.25),
      colour: { matrix: 'bt709', fullRange: false },
    };
  });
}

function psnr(rgba: Uint8Array, rgb: Uint8Array): number {
  let sum = 0;
  for (let i = 0, o = 0; i < rgba.length; i += 4, o += 3) {
    for (let k = 0; k < 3; k++) sum += (rgba[i + k] - rgb[o + k]) ** 2;
  }
  return 10 * Math.log10(255 ** 2 / (sum / ((rgba.length / 4) * 3)));
}

let references: (Uint8Array | null)[] | null = null;
/** Every so many frames are held against the reference, which takes long to draw. */
const each = 6;

/** The demo's result on the CPU, from pictures decoded by ffmpeg, with three handle frames at both ends; RGBA. */
async function referenceFrames(page: Page): Promise<(Uint8Array | null)[]> {
  if (references) return references;
  const { document, shots } = await storedCrossing(page);
  const shotTable = Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
  const decoded: Record<string, PicturePlanes[]> = {};
  for (const { shot, url } of shots) {
    const source = clipFile(`${shot.id}.mp4`);
    writeFileSync(source, await (await page.request.get(url)).body());
    decoded[shot.id] = decodePlanes(source);
  }
  references = Array.from({ length: document.crossing.length + 6 }, (_, n) => {
    if (n % each !== 0) return null;
    const out = new Uint8Array(width * height * 4);
    const scene = sceneAt(document, shotTable, n - 3, { view: 'result', traced: null });
    const planesOf = (draw: { shotId: string; sourceFrame: number }) =>
      decoded[draw.shotId][draw.sourceFrame];
    drawPicture(scene, { shots: shotTable, crossing: document.crossing, planesOf, width, height }, out);
    return out;
  });
  return references;
}

for (const [label, extension, codec, heard, longer] of [
  // The last packet of Opus is filled up with silence.
  ['WebM (VP9)', 'webm', 'vp9', 'opus', 0.021],
  ['MP4 (H.264)', 'mp4', 'h264', 'aac', 0.001],
] as const) {
  test(`the demo exported as ${label}: ffprobe and ffmpeg find what the CPU reference drew`, async ({
    page,
  }) => {
    await openCrossing(page);
    await page.getByRole('button', { name: /8 Export/ }).click();
    await page.getByLabel('Format').click();
    await page.getByRole('option', { name: label, exact: true }).click();
    await page.getByLabel('Handles', { exact: true }).fill('3');
    await page.getByLabel('Handles', { exact: true }).press('Enter');
    await page.getByRole('button', { name: 'Export', exact: true }).click();
    await expect(page.getByText('Exported.')).toBeVisible({ timeout: 60_000 });
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Download' }).click(),
    ]);
    expect(download.suggestedFilename()).toBe(`Glasshouse to lily pond r0.${extension}`);
    const file = clipFile(`export.${extension}`);
    await download.saveAs(file);

    const probe = JSON.parse(
      run('ffprobe', ['-count_frames', '-show_streams', '-show_format', '-of', 'json', file]).toString(),
    ) as { streams: Record<string, string>[]; format: { duration: string } };
    expect(probe.streams.map(({ codec_name: name }) => name)).toEqual([codec, heard]);
    expect(probe.streams[0]).toMatchObject({
      codec_name: codec,
      width,
      height,
      avg_frame_rate: '25/1',
      nb_read_frames: '72',
      color_space: 'bt709',
      color_range: 'tv',
      color_transfer: 'bt709',
      color_primaries: 'bt709',
    });
    expect(Number(probe.format.duration)).toBeGreaterThanOrEqual(72 / 25 - 0.001);
    expect(Number(probe.format.duration)).toBeLessThanOrEqual(72 / 25 + longer);

    const references = await referenceFrames(page);
    const rgb = run('ffmpeg', [
      '-i',
      file,
      '-sws_flags',
      'accurate_rnd+full_chroma_int+full_chroma_inp',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ]);
    const perFrame: number[] = [];
    for (let n = 0; n < 72; n++) {
      const reference = references[n];
      if (!reference) continue;
      perFrame.push(psnr(reference, rgb.subarray(n * width * height * 3, (n + 1) * width * height * 3)));
    }
    console.warn(
      `${label}: PSNR ${Math.min(...perFrame).toFixed(1)} dB at least, ${(perFrame.reduce((a, b) => a + b) / perFrame.length).toFixed(1)} dB on average`,
    );
    expect(Math.min(...perFrame)).toBeGreaterThanOrEqual(40);
  });
}

test('in and out bound what is exported, counted and stored, at the revision that was saved', async ({
  page,
}) => {
  const id = await newCrossing(page, 'In and out');
  await openCrossing(page, id);
  for (const [frame, key] of [
    ['10', '['],
    ['19', ']'],
  ]) {
    await page.keyboard.type(frame);
    await page.keyboard.press('Enter');
    await page.keyboard.press(key);
  }
  await page.getByRole('button', { name: /8 Export/ }).click();
  await expect(page.getByText('1280 × 720, 10 frames, 0.40 s')).toBeVisible();
  // The last edit is held up on its way: the export waits for it.
  let release = () => {};
  const held = new Promise<void>((done) => (release = done));
  await page.route('**/commits', async (route) => {
    await held;
    await route.continue();
  });
  await page.keyboard.press('t');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByText('Beginning…')).toBeVisible();
  // What is asked for meanwhile waits for its turn; it can be taken out again.
  const after = page.getByRole('button', { name: 'Add to queue' });
  for (const [field, choice] of [
    ['Size', /^Quarter/],
    ['Quality', /^Small/],
    ['From, to', /alone, all its frames/],
  ] as const) {
    await page.getByRole('combobox', { name: field, exact: true }).click();
    await page.getByRole('option', { name: choice }).click();
  }
  await after.click();
  await after.click();
  const waiting = page.getByRole('list', { name: 'Queued exports' }).getByRole('listitem');
  await expect(waiting).toHaveCount(2);
  await waiting.last().getByRole('button', { name: 'Remove from queue' }).click();
  await expect(waiting).toHaveCount(1);
  release();
  await expect(waiting).toHaveCount(0, { timeout: 30_000 });
  await expect(page.getByText('Exported.')).toBeVisible({ timeout: 60_000 });
  const exports = (await (await page.request.get('/api/exports')).json()) as ExportListing[];
  expect(exports.filter(({ crossingId }) => crossingId === id)).toHaveLength(2);
  const of = (alone: boolean) =>
    exports.find(({ crossingId, shotName }) => crossingId === id && (shotName !== null) === alone)!;
  const made = of(false);
  const { revision, document, shots } = await storedCrossing(page, id);
  expect([made.firstFrame, made.frameCount, made.revision, made.width]).toEqual([10, 10, revision, 1280]);
  const outgoing = Object.values(document.layers).find(({ role }) => role === 'outgoing')!;
  const { shot } = shots.find((media) => media.shot.id === outgoing.shotId)!;
  const alone = of(true);
  expect([alone.firstFrame, alone.frameCount, alone.width, alone.height, alone.shotName]).toEqual([
    ...[0, shot.frameCount, shot.width / 4, shot.height / 4, shot.name],
  ]);
  const picture = await (await page.request.get(`/api/exports/${alone.id}/picture`)).body();
  expect(picture.subarray(8, 12).toString()).toBe('WEBP');
  expect(revision).toBe(3);
  const file = clipFile('in-and-out.webm');
  writeFileSync(file, await (await page.request.get(`/api/exports/${made.id}/file`)).body());
  const counted = run('ffprobe', [
    '-count_frames',
    '-show_entries',
    'stream=nb_read_frames',
    '-of',
    'csv=p=0',
    file,
  ]);
  expect(counted.toString().trim()).toBe('10');
});

test('a cancelled export, a closed tab and a broken store leave no half file in the list', async ({
  page,
  context,
  kiv,
}) => {
  const kept = () => ['exports', 'arriving'].map((name) => readdirSync(path.join(kiv.data, name)).length);
  const listed = async () => ((await (await page.request.get('/api/exports')).json()) as unknown[]).length;
  const before = [await listed(), kept()];
  await openCrossing(page);
  await page.getByRole('button', { name: /8 Export/ }).click();
  const start = page.getByRole('button', { name: 'Export', exact: true });
  await start.click();
  await expect(page.getByText(/Frame \d+ of 66/).last()).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText('Cancelled. Nothing was kept.')).toBeVisible();

  await page.route('**/api/exports/*?position=*', (route) =>
    route.fulfill({ status: 422, json: { error: 'The disk is full.' } }),
  );
  await start.click();
  await expect(page.getByText('The export failed: The disk is full.')).toBeVisible({ timeout: 60_000 });

  const tab = await context.newPage();
  await openCrossing(tab);
  await tab.getByRole('button', { name: /8 Export/ }).click();
  await tab.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(tab.getByText(/Frame \d+ of 66/).last()).toBeVisible();
  await tab.close({ runBeforeUnload: true });
  // At the latest when nobody has said for a while that more will come.
  await expect.poll(async () => [await listed(), kept()], { timeout: 45_000 }).toEqual(before);
});

test('cut-outs and mattes: the cut-out over the incoming shot is the result, the matte its alpha turned round', async ({
  page,
}) => {
  await openCrossing(page);
  // A stretch of it: some frames tell as much as all.
  for (const [frame, key] of [
    [31, '['],
    [36, ']'],
  ] as const) {
    await page.keyboard.type(String(frame));
    await page.keyboard.press('Enter');
    await shownFrame(page, frame);
    await page.keyboard.press(key);
  }
  await saved(page);
  await page.getByRole('button', { name: /8 Export/ }).click();
  const exported = async (label: string) => {
    await page.getByLabel('Format').click();
    await page.getByRole('option', { name: label, exact: true }).click();
    await page.getByRole('button', { name: 'Export', exact: true }).click();
    await expect(page.getByText('Exported.')).toBeVisible({ timeout: 60_000 });
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Download' }).click(),
    ]);
    const file = clipFile(download.suggestedFilename());
    await download.saveAs(file);
    return file;
  };
  const pictures = async (label: string) => {
    const entries = unzipSync(readFileSync(await exported(label)));
    expect(Object.keys(entries)).toHaveLength(6);
    return (name: string) => {
      const file = clipFile(name);
      writeFileSync(file, entries[name]);
      return file;
    };
  };
  // Read by ffmpeg, not by what wrote them.
  const raw = (file: string, format: string) =>
    run('ffmpeg', ['-i', file, '-f', 'rawvideo', '-pix_fmt', format, '-']);
  const cutOut = await pictures('Cut-out, numbered pictures (PNG)');
  const matte = await pictures('Matte, numbered pictures (PNG)');
  const { document, shots } = await storedCrossing(page);
  const [n, luma] = [33, width * height];
  const own = raw(cutOut(`cut-out-000${n}.png`), 'rgba');
  const grey = raw(matte(`matte-000${n}.png`), 'gray');
  let soft = 0;
  for (let i = 0; i < luma; i++) {
    if (grey[i] !== 255 - own[4 * i + 3]) throw new Error(`The matte is another than the alpha at ${i}.`);
    if (grey[i] > 0 && grey[i] < 255) soft++;
  }
  expect(soft).toBeGreaterThan(500);
  // As the core draws the matte, bit by bit.
  const table = Object.fromEntries(shots.map(({ shot }) => [shot.id, shot]));
  const traced = Object.values(document.layers).find(({ role }) => role === 'outgoing')!;
  const cut = cutAt(document, table, traced, n);
  if (cut.extent !== 'outlined') throw new Error('It is outlined there.');
  const { alpha } = matteOf(cut, table[traced.shotId], 1, new MatteScratch(), noPictures);
  expect(Buffer.compare(Buffer.from(alpha), Buffer.from(grey))).toBe(0);
  // With 16 bits likewise.
  const deepFile = (await pictures('Matte, numbered pictures (PNG, 16 bits)'))(`matte-000${n}.png`);
  const deep = Buffer.from(
    deepMatteOf(cut, table[traced.shotId], 1, new MatteScratch(), noPictures).alpha.buffer,
  );
  expect(Buffer.compare(deep, Buffer.from(raw(deepFile, 'gray16le')))).toBe(0);
  // The only outline's own is the same.
  const each = unzipSync(readFileSync(await exported('Mattes, an outline each, numbered pictures (PNG)')));
  const folders = Object.keys(each).map((name) => name.split('/')[0]);
  expect([...new Set(folders)]).toEqual(['1 Gardener_s back']);
  const ownName = `${folders[0]}/matte-000${n}.png`;
  const ownFile = clipFile('own-matte.png');
  writeFileSync(ownFile, each[ownName]);
  expect(Buffer.compare(Buffer.from(raw(ownFile, 'gray')), Buffer.from(grey))).toBe(0);
  // Over the incoming shot it is the result.
  const scene = sceneAt(document, table, n, { view: 'result', traced: null });
  const planes = new Map<string, PicturePlanes>();
  for (const { shotId, sourceFrame } of scene.layers) {
    const { url } = shots.find(({ shot }) => shot.id === shotId)!;
    const source = clipFile(`${shotId}.mp4`);
    writeFileSync(source, await (await page.request.get(url)).body());
    planes.set(shotId, decodePlanes(source)[sourceFrame]);
  }
  const [result, below] = [scene.layers, [scene.layers[0]]].map((layers) => {
    const out = new Uint8Array(luma * 4);
    const planesOf = ({ shotId }: { shotId: string }) => planes.get(shotId)!;
    drawPicture(
      { ...scene, layers },
      { shots: table, crossing: document.crossing, planesOf, width, height },
      out,
    );
    return out;
  });
  let off = 0;
  for (let i = 0; i < own.length; i += 4)
    for (let k = 0; k < 3; k++) {
      const over = (own[i + k] * own[i + 3] + below[i + k] * (255 - own[i + 3])) / 255;
      if (Math.abs(over - result[i + k]) > 1.5) off++;
    }
  expect(off / own.length).toBeLessThan(0.002);

  // As a video with alpha, decoded by libvpx.
  const video = await exported('Cut-out, WebM (VP9 with alpha)');
  const decoded = run('ffmpeg', [
    '-c:v',
    'libvpx-vp9',
    '-i',
    video,
    '-f',
    'rawvideo',
    '-pix_fmt',
    'yuva420p',
    '-',
  ]);
  const frameSize = luma * 2.5;
  expect(decoded.length / frameSize).toBe(6);
  const at = n - 31;
  const itsAlpha = decoded.subarray(at * frameSize + luma * 1.5, (at + 1) * frameSize);
  let squares = 0;
  for (let i = 0; i < luma; i++) squares += (itsAlpha[i] - own[4 * i + 3]) ** 2;
  expect(10 * Math.log10(255 ** 2 / (squares / luma))).toBeGreaterThan(40);
  // As it was, for the other tests.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('paths, lists and timelines are downloaded from the page', async ({ page }) => {
  await openCrossing(page);
  await page.getByRole('button', { name: /8 Export/ }).click();
  await page.getByText('Paths, lists and timelines').click();
  const written = async (label: RegExp) => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: label }).click(),
    ]);
    const file = clipFile(download.suggestedFilename());
    await download.saveAs(file);
    return readFileSync(file, 'utf8');
  };
  const svg = await written(/^Outline on all frames, SVG/);
  expect(svg).toContain('data-frame="48"');
  // Drawn and carried: a pose on every frame.
  expect((JSON.parse(await written(/JSON/)) as { poses: unknown[] }).poses).toHaveLength(30);
  expect((await written(/^Outline’s points/)).split('\r\n')).toHaveLength(1 + 30 * 8 + 1);
  const timeline = await written(/^Timeline, OpenTimelineIO/);
  expect(timeline).toContain('"OTIO_SCHEMA": "Timeline.1"');
  // Media are found again by their files' names.
  expect(timeline).toContain('"target_url": "lily-pond.mp4"');
  expect(await written(/^Timeline in layers/)).toContain('"name": "2 outgoing"');
  expect(await written(/^Cut list/)).toContain(
    '* FROM CLIP NAME: lily-pond.mp4\r\n* COMMENT: Lily pond, night',
  );
  await page.getByText('This frame as a PNG').click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Cut-out', exact: true }).click(),
  ]);
  expect(download.suggestedFilename()).toContain('cut-out 42.png');

  // Paths come in again: the same poses, within a hundredth of a px.
  await page.getByRole('button', { name: /3 Trace/ }).click();
  const paths = { name: 'edge.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) };
  await page.getByLabel('Paths to bring in').setInputFiles(paths);
  // Shown first: left, nothing is there; taken by Enter, as one edit.
  const offered = page.getByRole('region', { name: 'Outlines to take' });
  await expect(offered).toContainText(/8 points, frames \d+ to \d+/);
  await offered.getByRole('button', { name: 'Leave (Esc)' }).click();
  await expect(offered).toHaveCount(0);
  await page.getByLabel('Paths to bring in').setInputFiles(paths);
  await expect(offered).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByText(/brought in from edge.svg/)).toBeVisible();
  await saved(page);
  const { document } = await storedCrossing(page);
  const [first, second] = Object.values(document.outlines).sort((a, b) => a.position - b.position);
  const [own, again] = [first, second].map(({ id }) => document.poses[id].find(({ frame }) => frame === 60)!);
  expect(document.poses[second.id]).toHaveLength(30);
  again.coordinates.forEach((value, k) => expect(Math.abs(value - own.coordinates[k])).toBeLessThan(0.01));
  await page.getByLabel('Paths to bring in').setInputFiles({ ...paths, buffer: Buffer.from('<svg/>') });
  await expect(page.getByText('There are no lines in this file.')).toBeVisible();
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.getByRole('button', { name: /8 Export/ }).click();

  // The whole crossing, taken along and brought in again.
  await page.getByText('Whole crossing as ZIP').click();
  const [parcel] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Without footage, ZIP' }).click(),
  ]);
  const file = clipFile(parcel.suggestedFilename());
  await parcel.saveAs(file);
  await page.goto('/');
  await page.getByLabel('ZIP of a crossing').setInputFiles(file);
  await expect(page.getByText('The crossing is on the shelf.')).toBeVisible();
  const brought = page.getByRole('button', { name: 'More for Glasshouse to lily pond (brought in)' });
  await brought.click();
  await page.getByRole('menuitem', { name: 'Delete…' }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(brought).toHaveCount(0);
  writeFileSync(file, 'not a ZIP');
  await page.getByLabel('ZIP of a crossing').setInputFiles(file);
  await expect(page.getByText(/not a readable ZIP/)).toBeVisible();
});

test('without a window: ranges written apart are those of one run, sound comes along, and refusals end with their code', async ({
  page,
  kiv,
}) => {
  test.setTimeout(240_000);
  const { port } = new URL(kiv.origin);
  const written = (...args: string[]) =>
    spawnSync('node', ['scripts/export.mjs', ...args], { env: { ...process.env, PORT: port } });
  const picturesOf = (name: string, from: number, to: number) => {
    const out = clipFile(name);
    const range = ['--from', String(from), '--to', String(to)];
    const ran = written('--crossing', 'Door to the pond', '--as', 'cutout-png', '--out', out, ...range);
    expect(ran.status, ran.stderr.toString()).toBe(0);
    expect(ran.stdout.toString().trim()).toBe(out);
    return unzipSync(readFileSync(out));
  };
  const whole = picturesOf('whole.zip', 28, 33);
  const part = picturesOf('part.zip', 31, 33);
  expect(Object.keys(part)).toEqual(Object.keys(whole).slice(3));
  for (const [name, bytes] of Object.entries(part))
    expect(Buffer.from(whole[name]).equals(Buffer.from(bytes)), name).toBe(true);

  // A name that is taken gets a number; FFV1 keeps every pixel, alpha included.
  const lossless = clipFile('door.mkv');
  writeFileSync(lossless, 'taken');
  const range = ['--from', '28', '--to', '29'];
  const ran = written('--crossing', 'door to the POND', '--as', 'cutout-ffv1', '--out', lossless, ...range);
  expect(ran.status, ran.stderr.toString()).toBe(0);
  const made = ran.stdout.toString().trim();
  expect(path.basename(made)).toBe('door-2.mkv');
  const raw = run('ffmpeg', ['-i', made, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-']);
  const pngs = Object.values(whole).slice(0, 2);
  expect(raw.length).toBe(2 * width * height * 4);
  pngs.forEach((png, n) => {
    const { data } = decodePng(png);
    const frame = raw.subarray(n * width * height * 4, (n + 1) * width * height * 4);
    expect(frame.equals(Buffer.from(data as Uint8Array))).toBe(true);
  });

  // The shot alone, a quarter of its size, its matte with 16 bits.
  const small = clipFile('small.zip');
  const asked = ['--as', 'matte-png16', '--alone', '--size', 'quarter', '--from', '40', '--to', '40'];
  const alone = written('--crossing', 'Door to the pond', '--out', small, ...asked);
  expect(alone.status, alone.stderr.toString()).toBe(0);
  const [[name, png]] = Object.entries(unzipSync(readFileSync(small)));
  const deep = decodePng(png);
  expect([name, deep.width, deep.height, deep.depth]).toEqual(['matte-00040.png', 320, 180, 16]);
  expect(new Set(deep.data).size).toBeGreaterThan(50);

  const wav = clipFile('door.wav');
  expect(
    written('--crossing', 'Door to the pond', '--as', 'wav', '--out', wav, '--loudness', '-23').status,
  ).toBe(0);
  const measured = spawnSync('ffmpeg', ['-nostdin', '-i', wav, '-af', 'ebur128', '-f', 'null', '-']);
  const loudness = /I:\s+(-?[\d.]+) LUFS/.exec(measured.stderr.toString().split('Summary:')[1])![1];
  expect(Math.abs(Number(loudness) + 23)).toBeLessThanOrEqual(0.2);

  // Several formats at once, told as JSON; a name that exists is taken where that is wanted.
  const folder = path.join(path.dirname(wav), 'several');
  mkdirSync(folder);
  const taken = path.join(folder, 'Door to the pond wav.wav');
  writeFileSync(taken, 'taken');
  const both = ['--crossing', 'Door to the pond', '--as', 'wav,matte-png', '--out', folder, ...range];
  const several = written(...both, '--json', '--overwrite');
  expect(several.status, several.stderr.toString()).toBe(0);
  const lines = (ran: typeof several) =>
    ran.stdout
      .toString()
      .trim()
      .split('\n')
      .map((text) => JSON.parse(text) as Record<string, unknown>);
  const events = lines(several);
  expect(events.filter(({ event }) => event === 'file').map((each) => each.path)).toEqual([
    taken,
    path.join(folder, 'Door to the pond matte-png.zip'),
  ]);
  expect(events.find(({ event, format }) => event === 'progress' && format === 'matte-png')).toMatchObject({
    crossing: 'Door to the pond',
    of: 2,
  });
  expect(readFileSync(taken).subarray(0, 4).toString()).toBe('RIFF');
  expect(
    Object.keys(unzipSync(readFileSync(path.join(folder, 'Door to the pond matte-png.zip')))),
  ).toHaveLength(2);
  // One that cannot be written does not keep the others.
  const named = ['--name', '{as} of {crossing} {in}-{out}'];
  const some = written('--crossing', 'On the show board', ...both, '--json', ...named);
  expect([some.status, lines(some).filter(({ event }) => event === 'file').length]).toEqual([2, 3]);
  expect(lines(some).find(({ event }) => event === 'failed')).toMatchObject({
    crossing: 'On the show board',
    message: 'There is no sound in this crossing.',
  });
  expect(readdirSync(folder)).toContain('wav of Door to the pond 28-29.wav');
  const list = lines(written('--list', '--json'));
  expect(list).toContainEqual(expect.objectContaining({ event: 'crossing', name: 'Door to the pond' }));
  expect(list).toContainEqual(
    expect.objectContaining({ event: 'format', command: 'matte-png', extension: 'zip' }),
  );

  const [clip, zip, door] = [clipFile('x.webm'), clipFile('x.zip'), ['--crossing', 'Door to the pond']];
  for (const [args, code, says] of [
    [['--crossing', 'x'], 2, /--as is missing/],
    [[...both.slice(0, 4), '--out', wav], 2, /Several files go into a folder/],
    [[...both, '--name', '{frame}'], 2, /There is no \{frame\}/],
    [[...both, '--name', '{crossing'], 2, /brace is not closed/],
    [[...door, '--as', 'wav', '--out', wav, '--name', 'x'], 2, /--name is for several files/],
    [['--crossing', 'x', '--as', 'gif', '--out', wav], 2, /There is no format gif/],
    [['--crossing', 'x', '--as', 'webm', '--out', clip, '--size', 'huge'], 2, /--size is one of/],
    [
      ['--crossing', 'x', '--as', 'webm', '--out', wav],
      2,
      /ends with .wav, but what is asked for is a .webm/,
    ],
    [['--crossing', 'x', '--as', 'webm', '--out', path.join(clip, 'no', 'such')], 2, /There is no folder/],
    [['--crossing', 'x', '--as', 'webm', '--out', path.dirname(clip)], 2, /is a folder/],
    [['--crossing', 'No such', '--as', 'webm', '--out', clip], 2, /There is no crossing “No such”/],
    [['--crossing', 'Show board', '--as', 'wav', '--out', wav], 2, /There is no crossing “Show board”/],
    [[...door, '--as', 'png', '--out', zip, '--from', '9', '--to', '3'], 2, /--from 9 lies after --to 3/],
    [[...door, '--as', 'png', '--out', zip, '--from', '5000', '--to', '5003'], 2, /cannot be written/],
  ] as const) {
    const refused = written(...args);
    expect(refused.status, args.join(' ')).toBe(code);
    expect(refused.stderr.toString()).toMatch(says);
  }
  // A relative name counts from the folder that the command was called in, as npm tells it.
  const own = spawnSync(
    'node',
    ['scripts/export.mjs', ...door, '--as', 'outline-mattes', '--out', 'mine.zip', ...range],
    {
      env: { ...process.env, PORT: port, INIT_CWD: path.dirname(clip) },
    },
  );
  expect(own.stdout.toString().trim()).toBe(path.join(path.dirname(clip), 'mine.zip'));
  expect(Object.keys(unzipSync(readFileSync(path.join(path.dirname(clip), 'mine.zip'))))[0]).toMatch(/^1 /);
  // Kiv's own copies are gone.
  const listed = (await (await page.request.get('/api/exports')).json()) as ExportListing[];
  expect(listed.filter(({ crossingName }) => crossingName === 'Door to the pond')).toEqual([]);
});
