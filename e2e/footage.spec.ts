import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { mkdirSync, mkdtempSync, readdirSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { randomUUID } from 'node:crypto';
import type { ShotListing } from '@/wire/answers';
import {
  clipFile,
  jobsDone,
  numberedClip,
  openCrossing,
  run,
  saved,
  startServer,
  storedCrossing,
  uploadFile,
} from './support';

/** Asks for a shot to be deleted, by its card's menu. */
async function deleteShot(page: Page, name: string) {
  await page.getByRole('button', { name: `More for ${name}`, exact: true }).click();
  await page.getByRole('menuitem', { name: 'Delete…' }).click();
}

test('files come in by dialog and by drop, are named, used and deleted', async ({ page }) => {
  const file = numberedClip('my-own.mp4', 50, ['-c:v', 'libx264', '-bf', '2']);
  await page.goto('/footage');
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await expect(page.getByText('my-own.mp4: In the footage')).toBeVisible();
  const card = page.getByRole('article', { name: 'my-own', exact: true });
  await expect(card).toContainText('320 × 180, 25 fps, 50 frames (2.00 s)');
  await expect(card).toContainText('Not used yet');
  await card.getByLabel('Name of the shot').fill('Counting blocks');
  await page.keyboard.press('Enter');
  const renamed = page.getByRole('article', { name: 'Counting blocks' });
  await deleteShot(page, 'Counting blocks');
  await page.getByRole('button', { name: 'Delete the shot' }).click();
  await expect(renamed).toHaveCount(0);

  // In use: refused, with the place named.
  await deleteShot(page, 'Gardener with barrow');
  await expect(page.getByText(/is used in .*“Glasshouse to lily pond”/)).toBeVisible();

  const transfer = await page.evaluateHandle(() => {
    const data = new DataTransfer();
    data.items.add(new File(['only words'], 'words.mp4', { type: 'video/mp4' }));
    return data;
  });
  await page.getByRole('main').dispatchEvent('drop', { dataTransfer: transfer });
  await expect(
    page.getByText('words.mp4: This is not a video file or a picture that Kiv can read.'),
  ).toBeVisible();
});

test('an upload is cancelled and leaves nothing behind', async ({ page, kiv }) => {
  const file = numberedClip('cancelled.mp4', 200, [
    '-vf',
    'noise=alls=60:allf=t',
    '-c:v',
    'libx264',
    '-crf',
    '4',
  ]);
  const kept = () =>
    ['footage', 'arriving', 'uploads', 'waiting'].flatMap((name) => readdirSync(path.join(kiv.data, name)));
  const before = kept();
  await page.goto('/footage');
  const client = await page.context().newCDPSession(page);
  await client.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: 20_000,
  });
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await expect(page.getByText(/cancelled.mp4: \d+ %/)).toBeVisible();
  await page
    .getByRole('group', { name: 'Files being brought in' })
    .getByRole('button', { name: 'Cancel' })
    .click();
  await expect(page.getByText('Cancelled; nothing was kept.')).toBeVisible();
  await expect.poll(kept).toEqual(before);
});

test('several files at once: a video, a numbered sequence, a still and what has to be converted', async ({
  page,
}) => {
  const folder = clipFile('walk');
  mkdirSync(folder, { recursive: true });
  run('ffmpeg', [
    '-y',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=160x90:r=25:d=0.4',
    path.join(folder, 'walk_%02d.png'),
  ]);
  const pictures = readdirSync(folder).map((name) => path.join(folder, name));
  const still = clipFile('poster.webp');
  run('ffmpeg', ['-y', '-f', 'lavfi', '-i', 'testsrc2=s=160x90', '-frames:v', '1', still]);
  const interlaced = numberedClip('fields.mp4', 60, [
    ...['-c:v', 'libx264', '-flags', '+ildct+ilme', '-x264opts', 'tff=1', '-g', '25'],
  ]);
  await page.goto('/footage');
  await page.getByLabel('Rate of stills').click();
  await page.getByRole('option', { name: '29.97 fps' }).click();
  await page.getByLabel('Files to bring in').setInputFiles([interlaced, still, ...pictures]);
  await expect(page.getByText('walk.png (10 pictures): In the footage')).toBeVisible();
  await expect(page.getByText('poster.webp: In the footage')).toBeVisible();
  await jobsDone(page);
  const card = (name: string) => page.getByRole('article', { name, exact: true });
  await expect(card('fields')).toContainText('every frame was made whole from its two fields');
  await expect(card('walk')).toContainText('160 × 90, 29.97 fps, 10 frames');
  await expect(card('poster')).toContainText('1 frame');

  await card('walk').getByLabel('Shown at').selectOption('24 fps');
  await expect(card('walk')).toContainText('160 × 90, 24 fps, 10 frames (0.42 s)');

  // Notes stay; the pointer scrubs.
  await card('walk').getByPlaceholder('Notes').fill('second take');
  await page.keyboard.press('Enter');
  await page.reload();
  await expect(card('walk').getByPlaceholder('Notes')).toHaveValue('second take');
  const picture = card('walk').getByRole('img');
  const box = (await picture.boundingBox())!;
  await page.mouse.move(box.x + box.width - 2, box.y + 40);
  await expect(picture).toHaveAttribute('aria-label', 'Frame 9 of walk');
  for (const name of ['walk', 'poster', 'fields']) {
    await deleteShot(page, name);
    await page.getByRole('button', { name: 'Delete the shot' }).click();
    await expect(card(name)).toHaveCount(0);
  }
});

test('a dropped connection is waited for, and what has arrived is not sent again', async ({ page }) => {
  const port = 4791;
  const data = mkdtempSync(path.join(tmpdir(), 'kiv-resume-'));
  const file = numberedClip('large.mp4', 500, [
    '-vf',
    'noise=alls=80:allf=t',
    '-c:v',
    'libx264',
    '-crf',
    '1',
  ]);
  expect(statSync(file).size).toBeGreaterThan(17e6);
  let server = await startServer(port, data);
  let pieces = 0;
  page.on('request', (request) => {
    if (request.method() === 'PATCH') pieces++;
  });
  await page.goto(`http://127.0.0.1:${port}/footage`);
  const received = () =>
    readdirSync(path.join(data, 'uploads')).map((name) => statSync(path.join(data, 'uploads', name)).size);
  await page.route('**/api/uploads/*?offset=*', async (route) => {
    // The second piece meets a server that is gone.
    if (pieces === 2) {
      server.kill('SIGKILL');
      await new Promise((done) => server.once('exit', done));
    }
    await route.continue();
  });
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await expect(page.getByText(/The server is out of reach; going on when it is back/)).toBeVisible();
  expect(received()).toEqual([8 * 1024 * 1024]);
  server = await startServer(port, data);
  await expect(page.getByText('large.mp4: In the footage')).toBeVisible({ timeout: 60_000 });
  // The first piece was sent once, the second until the server was back.
  expect(received()).toEqual([]);
  server.kill('SIGTERM');
});

test('without ffmpeg the upload is kept and the message says what to install; it goes on from there', async ({
  page,
}) => {
  const port = 4791;
  const data = mkdtempSync(path.join(tmpdir(), 'kiv-no-ffmpeg-'));
  const coded = ['-c:v', 'libx264', '-pix_fmt', 'yuv422p10le', '-timecode', '09:59:58:20'];
  const file = numberedClip('deep.mp4', 40, coded);
  let server = await startServer(port, data, { KIV_FFMPEG: '/nowhere/ffmpeg' });
  await page.goto(`http://127.0.0.1:${port}/footage`);
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await expect(page.getByText(/ffmpeg is not installed. Install it .* the file is kept/)).toBeVisible();
  expect(readdirSync(path.join(data, 'waiting'))).toHaveLength(1);
  server.kill('SIGTERM');
  await new Promise((done) => server.once('exit', done));
  server = await startServer(port, data);
  await page.getByRole('button', { name: 'Try again' }).click();
  const card = page.getByRole('article', { name: 'deep', exact: true });
  // Converting takes its time on a busy machine.
  await expect(card).toContainText('10 bits, 25 fps', { timeout: 60_000 });
  // What was made of it keeps the timecode of what was brought in; another is typed, and a wrong one is refused.
  const timecode = card.getByLabel('Timecode of the first frame of deep');
  await expect(timecode).toHaveValue('09:59:58:20');
  await timecode.fill('10:00:00:30');
  await timecode.press('Enter');
  await expect(page.getByText(/“10:00:00:30” is out of range at 25 frames a second/)).toBeVisible();
  await timecode.fill('10:00:00:00');
  await timecode.press('Enter');
  await page.reload();
  await expect(timecode).toHaveValue('10:00:00:00');
  expect(readdirSync(path.join(data, 'waiting'))).toEqual([]);
  server.kill('SIGTERM');
});

test('a conversion is cancelled, and one that was cut off by a crash begins anew', async ({ page }) => {
  const port = 4791;
  const data = mkdtempSync(path.join(tmpdir(), 'kiv-crash-'));
  const file = numberedClip('slow.avi', 900, ['-vf', 'scale=1280:720', '-c:v', 'mpeg4', '-q:v', '2']);
  const server = await startServer(port, data);
  const base = `http://127.0.0.1:${port}`;
  const jobs = async () =>
    (await (await page.request.get(`${base}/api/jobs`)).json()) as {
      id: string;
      state: string;
      done: number;
    }[];
  await page.goto(`${base}/footage`);
  await page.getByLabel('Files to bring in').setInputFiles(file);
  await expect.poll(async () => (await jobs())[0]?.state).toBe('running');
  server.kill('SIGKILL');
  await new Promise((done) => server.once('exit', done));
  const again = await startServer(port, data);
  await expect.poll(async () => (await jobs())[0]?.state).toBe('running');
  const [job] = await jobs();
  expect((await page.request.delete(`${base}/api/jobs/${job.id}`)).status()).toBe(200);
  expect(await jobs()).toEqual([]);
  await expect
    .poll(() => [...readdirSync(path.join(data, 'waiting')), ...readdirSync(path.join(data, 'arriving'))])
    .toEqual([]);
  again.kill('SIGTERM');
});

test('a shot that only undoing needs is deleted with consent; undo goes on past it, in grey, and says so', async ({
  page,
}) => {
  const [fern, moss] = ['fern', 'moss'].map((name) => {
    const file = clipFile(`${name}.png`);
    const colour = name === 'fern' ? 'red' : 'green';
    run('ffmpeg', ['-y', '-f', 'lavfi', '-i', `color=${colour}:s=320x180`, '-frames:v', '1', file]);
    return file;
  });
  const ids: string[] = [];
  for (const file of [fern, moss]) ids.push((await uploadFile(page, file)).id!);
  const shots = (await (await page.request.get('/api/shots')).json()) as ShotListing[];
  const pond = shots.find(({ name }) => name === 'Lily pond, night')!;
  const data = { name: 'Grown over', plan: 'pass-by', outgoingShotId: ids[0], incomingShotId: pond.id };
  const made = await page.request.post('/api/crossings', {
    data: { ...data, rate: { num: 24, den: 1 }, size: { width: 320, height: 180 } },
  });
  const { id } = (await made.json()) as { id: string };
  await openCrossing(page, id);
  const { document, revision } = await storedCrossing(page, id);
  expect([document.crossing.rateNum, document.crossing.width]).toEqual([24, 320]);
  // Its layer is given another shot; then a frame rate is chosen, at which everything keeps its moment.
  const layer = Object.values(document.layers).find(({ role }) => role === 'outgoing')!;
  const change = { table: 'layer', id: layer.id, before: layer, after: { ...layer, shotId: ids[1] } };
  const edit = { id: randomUUID(), label: 'Exchange', changes: [change] };
  const commit = { requestId: randomUUID(), baseRevision: revision, kind: 'do', edit };
  expect((await page.request.post(`/api/crossings/${id}/commits`, { data: commit })).status()).toBe(200);
  await openCrossing(page, id);
  await page.getByRole('button', { name: /1 Shots/ }).click();
  await page.getByLabel('Frame rate').selectOption({ label: '48 fps' });
  await saved(page);
  const after = (await storedCrossing(page, id)).document.crossing;
  expect([after.rateNum, after.length]).toEqual([48, 2 * document.crossing.length]);

  await page.goto('/footage');
  await deleteShot(page, 'fern');
  const dialog = page.getByRole('dialog', { name: 'Delete fern?' });
  await dialog.getByRole('button', { name: 'Delete the shot' }).click();
  await expect(dialog).toContainText('the undo history of “Grown over” needs it');
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await deleteShot(page, 'fern');
  await dialog.getByRole('button', { name: 'Delete the shot' }).click();
  await expect(dialog).toContainText('the undo history');
  await dialog.getByRole('button', { name: 'Delete the shot' }).click();
  await expect(page.getByRole('article', { name: 'fern', exact: true })).toHaveCount(0);

  await openCrossing(page, id);
  const undo = page.getByRole('button', { name: 'Undo' });
  for (let k = 0; k < 2; k++) await undo.click();
  await expect(page.getByText('“fern” was deleted from the footage: a grey picture')).toBeVisible();
  await expect(undo).toBeDisabled();
  await saved(page);
  await page.reload();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d/, { timeout: 30_000 });
  const shown = await page.getByTestId('picture').screenshot();
  const middle = run(
    'ffmpeg',
    ['-f', 'png_pipe', '-i', '-', '-vf', 'crop=4:4,scale=1:1', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
    shown,
  );
  expect(Math.abs(middle[0] - 128)).toBeLessThan(6);
  await page.getByRole('button', { name: /7 Check/ }).click();
  await expect(page.getByText('“fern” was deleted from the footage; a grey picture')).toBeVisible();
});

test('a long take is looked through: what crosses is listed with its frames, and a crossing begun there', async ({
  page,
}) => {
  // Still ground, and a board of coloured bars that leaves it free from frame 100 to 140.
  const file = clipFile('long-take.mp4');
  const ground = 'mandelbrot=size=320x180:rate=25:start_scale=1.2:end_scale=1.2:maxiter=60';
  run('ffmpeg', [
    ...['-y', '-f', 'lavfi', '-i', ground, '-f', 'lavfi', '-i', 'testsrc2=size=220x180:rate=25'],
    '-filter_complex',
    "[0]trim=end_frame=1,loop=-1:1,setpts=N/25/TB[g];[g][1]overlay=x='-220+8*(n-73)':y=0:shortest=0,trim=end_frame=300[v]",
    ...['-map', '[v]', '-r', '25', '-c:v', 'libx264', '-g', '50', '-pix_fmt', 'yuv420p', file],
  ]);
  const { id } = await uploadFile(page, file);
  await page.goto('/footage');
  await page.getByRole('button', { name: 'More for long-take' }).click();
  await page.getByRole('menuitem', { name: 'Find crossings…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Crossings in “long-take”' });
  const found = dialog.getByRole('list', { name: 'Crossings found' });
  await expect(dialog.getByRole('button', { name: 'Look again' })).toBeVisible({ timeout: 60_000 });
  await expect(found.getByRole('listitem')).toHaveCount(1);
  await expect(found).toContainText('Something passes to the right');
  const [opens, closes] = /frames (\d+) to (\d+)/
    .exec(await found.innerText())!
    .slice(1)
    .map(Number);
  expect(Math.abs(opens - 100)).toBeLessThanOrEqual(6);
  expect(Math.abs(closes - 140)).toBeLessThanOrEqual(6);
  await found.getByRole('button', { name: /Begin here, at frame/ }).click();
  await expect(page.getByRole('dialog', { name: 'New crossing' })).toContainText(
    `Frames ${opens - 25} to ${closes + 25} of 300`,
  );
  await page.getByRole('button', { name: 'Cancel' }).click();
  await dialog.getByRole('button', { name: 'Close' }).click();
  // It is kept, and what cannot be is refused.
  await page.reload();
  await expect(page.getByRole('button', { name: '1 crossing found' })).toBeVisible();
  const refused = await page.request.put(`/api/shots/${id}/found`, {
    data: {
      found: [
        { kind: 'passes', opens: 5, closes: 300, direction: 1, speed: 8, covers: 1, unsteady: 0, clear: 1 },
      ],
    },
  });
  expect(refused.status()).toBe(400);
  expect((await refused.json()).error).toContain('within the shot');
});
