import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Biquad, flatQuality, highPass, lowPass, peaking } from '@/core/sound/biquad';
import { seeded } from '@/core/random';
import type { ExportListing, ShotListing, SoundListing } from '@/wire/answers';
import {
  clipFile,
  type HarnessWindow,
  jobsDone,
  mediaOf,
  newCrossing,
  openCrossing,
  openHarness,
  run,
  saved,
  storedCrossing,
  uploadFile,
} from './support';

const doorId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e11';

/** s at which the test sound beeps, for 10 ms each. */
const beeps = [0.5, 1.25];

/** Two seconds with beeps of 1 kHz, encoded by ffmpeg. */
function beepFile(name: string, encode: string[] = [], rate = 48_000): string {
  const file = clipFile(name);
  const gates = beeps.map((at) => `between(t,${at},${at + 0.01})`).join('+');
  const source = `aevalsrc='0.5*sin(2*PI*1000*t)*(${gates})':s=${rate}:d=2`;
  run('ffmpeg', ['-y', '-f', 'lavfi', '-i', source, ...encode, file]);
  return file;
}

/** s at which beeps begin in samples at 48 kHz. */
function onsets(samples: Float32Array): number[] {
  const found: number[] = [];
  let quiet = 1e6;
  for (let i = 0; i < samples.length; i++) {
    if (Math.abs(samples[i]) > 0.12) {
      if (quiet > 4800) found.push(i / 48_000);
      quiet = 0;
    } else quiet++;
  }
  return found;
}

/** A file's sound by ffmpeg, one channel. */
function decoded(file: string): Float32Array {
  const raw = run('ffmpeg', ['-i', file, '-map', '0:a:0', '-ac', '1', '-ar', '48000', '-f', 'f32le', '-']);
  return new Float32Array(new Uint8Array(raw).buffer);
}

async function upload(page: Page, file: string) {
  const name = encodeURIComponent(path.basename(file));
  const answer = await page.request.post(`/api/sounds?name=${name}`, {
    data: readFileSync(file),
    headers: { 'content-type': 'application/octet-stream' },
  });
  return { status: answer.status(), ...((await answer.json()) as SoundListing & { error?: string }) };
}

test('sounds of every common kind come in, and their beeps lie where they are', async ({ page }) => {
  await openHarness(page);
  const kinds: [name: string, encode: string[], rate?: number][] = [
    ['beeps.wav', ['-c:a', 'pcm_s16le']],
    ['beeps-24.wav', ['-c:a', 'pcm_s24le', '-ac', '2'], 44_100],
    ['beeps.aiff', []],
    ['beeps.flac', [], 96_000],
    ['beeps.mp3', ['-b:a', '192k'], 44_100],
    ['beeps.m4a', ['-c:a', 'aac', '-b:a', '192k']],
    ['beeps.opus', ['-c:a', 'libopus', '-b:a', '128k']],
    ['beeps.webm', ['-c:a', 'libopus']],
    ['beeps.ogg', ['-c:a', 'libvorbis'], 44_100],
    ['beeps-51.flac', ['-ac', '6', '-channel_layout', '5.1']],
    ['beeps-71.flac', ['-af', 'pan=7.1|FL=c0|BL=0*c0']],
    ['beeps-71.wav', ['-af', 'pan=7.1|FL=c0|BL=0*c0', '-c:a', 'pcm_s24le']],
    ['beeps-alac.m4a', ['-c:a', 'alac']],
    ['beeps.caf', ['-c:a', 'pcm_s16le']],
  ];
  for (const [name, encode, rate] of kinds) {
    const sound = await upload(page, beepFile(name, encode, rate));
    expect(sound.status, `${name}: ${sound.error ?? ''}`).toBe(200);
    const samples = await page.evaluate(
      async ({ url, lead }) => [
        ...(await (window as unknown as HarnessWindow).harness.readSound(url, lead, 0, 90_000)),
      ],
      sound,
    );
    // Two seconds, though they end in silence, of which a block is a few bytes.
    if (/wav|aiff|flac|alac|caf/.test(name)) expect([name, sound.length]).toEqual([name, 96_000]);
    // Quieter where one channel became six: found by share of the loudest.
    const loudest = samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    // What is on the left alone stays as loud as it was, however many channels there are.
    if (name.includes('-71')) expect([name, Math.abs(loudest - 0.5) < 0.02]).toEqual([name, true]);
    const found = onsets(Float32Array.from(samples, (x) => (0.5 * x) / loudest));
    expect(found, name).toHaveLength(beeps.length);
    found.forEach((at, k) => expect(Math.abs(at - beeps[k]), name).toBeLessThan(0.002));
  }
  const [first] = (await (await page.request.get('/api/sounds')).json()) as SoundListing[];
  expect((await page.request.delete(`/api/sounds/${first.id}`)).ok()).toBe(true);
  for (const [name, bytes, says] of [
    ['junk.wav', Buffer.from('this is no sound at all, only text'), /not a sound/],
    ['empty.mp3', Buffer.alloc(0), /empty/],
  ] as const) {
    const answer = await page.request.post(`/api/sounds?name=${name}`, { data: bytes });
    expect(answer.ok(), name).toBe(false);
    expect(((await answer.json()) as { error: string }).error, name).toMatch(says);
  }
});

test('a film from AVI is heard in time, also where its pictures come late or are coded out of order', async ({
  page,
}) => {
  await openHarness(page);
  const flash = "color=black:s=128x96:r=100/3:d=2,drawbox=c=white:t=fill:enable='eq(n,30)'";
  const beep = "aevalsrc='0.5*sin(2*PI*1000*t)*between(t,0.9,0.94)':s=48000:d=2";
  const inputs = ['-f', 'lavfi', '-i', flash, '-f', 'lavfi', '-i', beep];
  // Both at 0.9 s, the flash on picture 30 of 33.3 a second. AVI gives pictures no times: those that are coded out of
  // order are 30 ms late with ffmpeg, and are brought back.
  for (const [name, order, late, heard] of [
    ['in-order.avi', [], 0, 0.9],
    ['out-of-order.avi', ['-bf', '2'], 0, 0.9],
    // Here they are meant to begin a picture later: dwStart of AVIStreamHeader (Microsoft).
    ['late.avi', [], 1, 0.87],
  ] as const) {
    const source = clipFile(name);
    run('ffmpeg', ['-y', ...inputs, '-c:v', 'mpeg4', ...order, '-q:v', '2', '-c:a', 'pcm_s16le', source]);
    const bytes = readFileSync(source);
    bytes.writeUInt32LE(late, bytes.indexOf('strh') + 8 + 28);
    writeFileSync(source, bytes);
    const { jobId } = await uploadFile(page, source);
    expect(jobId).toBeDefined();
    await jobsDone(page);
    const shots = (await (await page.request.get('/api/shots')).json()) as ShotListing[];
    const media = await mediaOf(page, shots.find(({ originalName }) => originalName === name)!.id);
    expect([name, media.timestamps.length]).toEqual([name, 67]);
    const samples = await page.evaluate(
      async ([url, zero]) => [
        ...(await (window as unknown as HarnessWindow).harness.readSound(url, zero, 0, 90_000)),
      ],
      [media.url, media.timestamps[0]] as const,
    );
    // Counted from where the first picture comes on.
    const [at] = onsets(Float32Array.from(samples));
    expect([name, Math.abs(at - heard) < 0.002]).toEqual([name, true]);
  }
});

test('a sound is brought in, placed, trimmed, put behind the edge, undone, and exported where it lies', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const id = await newCrossing(page, 'Beeps');
  await openCrossing(page, id);
  await page.getByRole('button', { name: /6 Sound/ }).click();
  await expect(page.getByText('No sound yet:')).toBeVisible();
  await page.keyboard.type('5');
  await page.keyboard.press('Enter');
  await page.getByLabel('Sound files').setInputFiles(beepFile('placed.wav'));
  const lane = page.getByRole('group', { name: 'Sound over the crossing' });
  const piece = lane.getByRole('button', { name: /^placed, frame 5 to 55, track 1/ });
  await expect(piece).toBeVisible();
  await saved(page);
  const pieces = async () => Object.values((await storedCrossing(page, id)).document.pieces);
  expect((await pieces()).map(({ start, length }) => [start, length])).toEqual([[9600, 96_000]]);

  // The hand moves it, pulls an end, and Escape lets go.
  const { document } = await storedCrossing(page, id);
  const frameWidth = (await lane.boundingBox())!.width / (document.crossing.length - 1);
  const box = (await piece.boundingBox())!;
  const y = box.y + box.height / 2;
  await page.mouse.move(box.x + box.width / 2, y);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 12 * frameWidth, y, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect((await pieces())[0].start).toBe(9600);
  await page.mouse.move(box.x + box.width - 3, y);
  await page.mouse.down();
  await page.keyboard.down('Alt');
  await page.mouse.move(box.x + box.width - 3 - 10 * frameWidth, y, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await saved(page);
  const [trimmed] = await pieces();
  expect(trimmed.start).toBe(9600);
  expect(Math.abs(trimmed.length - (96_000 - 10 * 1920))).toBeLessThan(1920);

  // Keys: behind the edge, muted, a frame later; then all of it back.
  await page.keyboard.press('Shift+B');
  await page.keyboard.press('Shift+M');
  await page.keyboard.press('>');
  await saved(page);
  expect((await pieces()).map(({ behind, muted, start }) => [behind, muted, start])).toEqual([
    [true, true, 11_520],
  ]);
  for (let k = 0; k < 3; k++) await page.keyboard.press('Control+z');
  await page.keyboard.press('>');
  await saved(page);
  await expect(page.getByText(/In all .* LUFS/)).toBeVisible();
  // Waves are kept: at the next visit they are there though the file is out of reach, which is said where it is needed.
  const unread = page.getByText('A sound could not be read');
  await page.route('**/api/sounds/**', (route) => route.abort());
  await page.reload();
  await page.getByRole('button', { name: /6 Sound/ }).click();
  await expect(lane.getByRole('button', { name: /^placed, frame 6 to/ })).toBeVisible();
  await page.waitForTimeout(2500);
  await expect(unread).toHaveCount(0);
  await lane.getByRole('button', { name: /^placed/ }).focus();
  await page.keyboard.press('>');
  await expect(unread).toBeVisible();
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.unroute('**/api/sounds/**');
  await page.reload();
  await page.getByRole('button', { name: /6 Sound/ }).click();
  await expect(page.getByText(/In all .* LUFS/)).toBeVisible();

  // What is written beeps where the piece lies: it begins on frame 6, at 0.24 s. As far as the second beep is enough.
  await page.keyboard.type('44');
  await page.keyboard.press('Enter');
  await page.keyboard.press(']');
  await saved(page);
  await page.getByRole('button', { name: /8 Export/ }).click();
  for (const format of ['WebM (VP9)', 'MP4 (H.264)', 'Sound alone, WAV']) {
    await page.getByRole('combobox', { name: 'Format' }).click();
    await page.getByRole('option', { name: format, exact: true }).click();
    if (format === 'MP4 (H.264)') await expect(page.getByText('With sound (AAC)')).toBeVisible();
    await page.getByRole('button', { name: 'Export', exact: true }).click();
    await expect(page.getByText('Exported.')).toBeVisible({ timeout: 60_000 });
    const [made] = (await (await page.request.get('/api/exports')).json()) as ExportListing[];
    const file = clipFile(`heard-${made.format}`);
    writeFileSync(file, await (await page.request.get(`/api/exports/${made.id}/file`)).body());
    const samples = decoded(file);
    const found = onsets(samples);
    expect(found, format).toHaveLength(2);
    found.forEach((at, k) => expect(Math.abs(at - 0.24 - beeps[k]), format).toBeLessThan(0.001));
    // Silence where there is none, and as long as the pictures: lossy ones end with their last packet.
    const before = samples.subarray(0, Math.round(0.7 * 48_000));
    expect(Math.max(...before.map(Math.abs)), format).toBeLessThan(0.01);
    const length = (made.frameCount * 48_000) / 25;
    expect(samples.length, format).toBeGreaterThanOrEqual(length);
    expect(samples.length, format).toBeLessThan(length + (made.format === 'sound-wav' ? 1 : 1024));
    if (made.format === 'mp4') {
      const said = run('ffprobe', ['-show_entries', 'stream=codec_name,duration', '-of', 'csv=p=0', file]);
      const streams = said.toString().trim().split('\n');
      expect(streams.map((line) => line.split(',')[0]).sort()).toEqual(['aac', 'h264']);
      for (const line of streams) expect(Number(line.split(',')[1])).toBeCloseTo(length / 48_000, 4);
    }
  }
});

test('picture and sound play together, led by the audio clock, and meters show it', async ({
  page,
  context,
}) => {
  await openCrossing(page, doorId);
  await page.getByRole('button', { name: /6 Sound/ }).click();
  const lane = page.getByRole('group', { name: 'Sound over the crossing' });
  await expect(lane.getByRole('button', { name: /^Water.* behind the edge/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Quality of the preview' }).click();
  await page.getByRole('option', { name: 'Quarter quality' }).click();
  await page.keyboard.press('Space');
  const loudness = page.getByRole('group', { name: 'Loudness' });
  await expect(loudness.getByText(/^−\d+\.\d LUFS/).first()).toBeVisible();
  await expect(loudness).toHaveAttribute('data-sound-skew', /\d/, { timeout: 45_000 });
  const skew = Number(await loudness.getAttribute('data-sound-skew'));
  // On a slow machine frames are left out, but none lags: half a frame and what drawing varies by.
  expect(skew).toBeLessThan(100);
  // A change is heard while it plays: nothing stops.
  await lane.getByRole('button', { name: /^Water/ }).focus();
  await page.keyboard.press('Shift+M');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await saved(page);
  // A second window has it as it is now, and hears of what is taken back.
  const second = await context.newPage();
  await openCrossing(second, doorId);
  await second.getByRole('button', { name: /6 Sound/ }).click();
  const again = second.getByRole('button', { name: 'Unmute Water' });
  await expect(again).toBeVisible();
  await page.bringToFront();
  await page.keyboard.press('Control+z');
  await saved(page);
  await second.bringToFront();
  await expect(second.getByRole('button', { name: 'Mute Water' })).toBeVisible();
});

// W3C, Web Audio API 1.1: the browser's own filters.
test('filters are the browser’s: low-pass, high-pass and peaking over noise', async ({ page }) => {
  await openHarness(page);
  const random = seeded(11);
  const noise = Array.from({ length: 4800 }, () => 2 * random() - 1);
  const kinds = [
    { type: 'lowpass', frequency: 350, Q: flatQuality, gain: 0, own: lowPass(350) },
    { type: 'lowpass', frequency: 8000, Q: 6, gain: 0, own: lowPass(8000, 6) },
    { type: 'highpass', frequency: 120, Q: flatQuality, gain: 0, own: highPass(120) },
    { type: 'peaking', frequency: 190, Q: 4, gain: 9, own: peaking(190, 4, 9) },
  ] as const;
  for (const { type, frequency, Q, gain, own } of kinds) {
    const reference = await page.evaluate(
      async ([samples, kind]) => {
        const context = new OfflineAudioContext(1, samples.length, 48_000);
        const buffer = context.createBuffer(1, samples.length, 48_000);
        buffer.copyToChannel(Float32Array.from(samples), 0);
        const source = new AudioBufferSourceNode(context, { buffer });
        const filter = new BiquadFilterNode(context, kind);
        source.connect(filter).connect(context.destination);
        source.start();
        return [...(await context.startRendering()).getChannelData(0)];
      },
      [noise, { type, frequency, Q, gain }] as const,
    );
    const ours = Float32Array.from(noise);
    new Biquad(own).run(ours);
    const worst = ours.reduce((most, x, i) => Math.max(most, Math.abs(x - reference[i])), 0);
    expect(worst, `${type} at ${frequency} Hz`).toBeLessThan(2e-5);
  }
});
