import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import { zipSync } from 'fflate';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import {
  bringIn,
  clipFile,
  type HarnessWindow,
  jobsDone,
  mediaOf,
  numberedClip,
  openCrossing,
  openHarness,
  run,
  shownFrame,
} from './support';

const frames = 120;
const h264 = ['-c:v', 'libx264', '-preset', 'veryfast'];
type Clip = {
  name: string;
  encode: string[];
  rate?: string;
  /** The file leaves frames out at its beginning: it starts with the number that is missing. */
  cutFrom?: string;
};
const clips: Clip[] = [
  { name: 'b-frames.mp4', encode: [...h264, '-bf', '3', '-b_strategy', '0', '-g', '40'] },
  {
    name: 'open-gop-23.976.mkv',
    encode: [...h264, '-bf', '2', '-g', '30', '-x264-params', 'open-gop=1'],
    rate: '24000/1001',
  },
  {
    name: 'alt-ref-29.97.webm',
    encode: ['-c:v', 'libvpx-vp9', '-b:v', '600k', '-g', '50', '-auto-alt-ref', '1', '-lag-in-frames', '12'],
    rate: '30000/1001',
  },
  { name: 'vp8-30.webm', encode: ['-c:v', 'libvpx', '-b:v', '800k', '-g', '60'], rate: '30' },
  {
    name: 'variable-rate.mp4',
    encode: [...h264, '-bf', '2', '-vf', 'settb=1/1000,setpts=N*40+13*mod(N\\,3)', '-fps_mode', 'vfr'],
  },
  { name: 'edit-list.mp4', encode: [], cutFrom: 'b-frames.mp4' },
  { name: 'odd-start-24.mkv', encode: [...h264, '-bf', '2', '-output_ts_offset', '3.7'], rate: '24' },
  { name: 'rotated-50.mp4', encode: [...h264, '-metadata:s:v:0', 'rotate=90'], rate: '50' },
  { name: 'wide-pixels-59.94.mp4', encode: [...h264, '-vf', 'setsar=16/11'], rate: '60000/1001' },
  {
    name: 'full-range-60.mp4',
    encode: [...h264, '-pix_fmt', 'yuvj420p', '-color_range', 'pc', '-colorspace', 'bt709'],
    rate: '60',
  },
  { name: 'mpeg4.avi', encode: ['-c:v', 'mpeg4', '-q:v', '3', '-bf', '2'] },
  { name: 'motion-jpeg.mov', encode: ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj422p', '-q:v', '3'], rate: '24' },
  {
    name: 'hevc-10-bit.mp4',
    encode: [
      '-c:v',
      'libx265',
      '-preset',
      'ultrafast',
      '-pix_fmt',
      'yuv420p10le',
      '-x265-params',
      'log-level=error',
    ],
    rate: '30000/1001',
  },
  { name: 'prores.mov', encode: ['-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le'] },
  { name: 'interlaced.mp4', encode: [...h264, '-flags', '+ildct+ilme', '-x264opts', 'tff=1', '-g', '25'] },
  { name: 'long-gop.mp4', encode: [...h264, '-bf', '2', '-g', '400'] },
  {
    name: 'large-1080.mp4',
    encode: [...h264, '-bf', '2', '-g', '12', '-vf', 'scale=1920:1080:flags=neighbor'],
  },
];

function fileOf({ name, encode, rate, cutFrom }: Clip): string {
  if (!cutFrom) return numberedClip(name, frames, encode, rate);
  const cut = clipFile(name);
  run('ffmpeg', [
    '-y',
    '-ss',
    '1.98',
    '-i',
    fileOf(clips.find((clip) => clip.name === cutFrom)!),
    '-c',
    'copy',
    cut,
  ]);
  return cut;
}

test.describe('frames by number', () => {
  /** One for all clips: what decodes them is made anew for each. */
  let page: Page;
  test.beforeAll(async ({ browser, kiv }) => {
    page = await browser.newPage({ baseURL: kiv.origin });
    await openHarness(page);
  });
  test.afterAll(() => page.close());

  for (const clip of clips) {
    test(`frame n of ${clip.name} shows number n: forwards, backwards, at random, at both ends`, async () => {
      const media = await bringIn(page, fileOf(clip));
      const count = media.shot.frameCount;
      const missing = frames - count;
      if (clip.cutFrom) expect(count).toBeLessThan(frames - 30);
      else expect(missing).toBe(0);
      const forwards = Array.from({ length: count }, (_, n) => n);
      // Of large ones fewer: each is decoded from a key frame on.
      const every = clip.name === 'large-1080.mp4' ? 4 : 1;
      const random = forwards.map((n) => (n * 73 + 19) % count).filter((_, k) => k % every === 0);
      const works = [false];
      if (clip.name === 'large-1080.mp4') {
        // A smaller copy for the preview, of the same frames.
        await jobsDone(page);
        Object.assign(media, await mediaOf(page, media.shot.id));
        expect([media.shot.width, media.work!.share]).toEqual([1920, 0.5]);
        works.push(true);
      }
      if (clip.name === 'long-gop.mp4') {
        await jobsDone(page);
        Object.assign(media, await mediaOf(page, media.shot.id));
        expect(media.work!.keyFrames.length).toBeGreaterThan(frames / 7);
        works.push(true);
      }
      for (const work of works) {
        for (const order of [forwards, [...forwards].reverse(), random, [count - 1, 0, count - 1]]) {
          const read = await page.evaluate(
            ([media, order, work]) => (globalThis as HarnessWindow).harness.readNumbers(media, order, work),
            [media, order, work] as const,
          );
          expect(read).toEqual(order.map((n) => n + missing));
        }
      }
    });
  }
});

/** The number that the workspace's picture shows as blocks. */
async function numberOnScreen(page: Page) {
  const frame = page.getByRole('img', { name: 'The picture at the current frame' });
  const picture = await loadImage(await frame.screenshot());
  const context = createCanvas(picture.width, picture.height).getContext('2d');
  context.drawImage(picture, 0, 0);
  const { data } = context.getImageData(0, Math.floor(picture.height / 4), picture.width, 1);
  const bit = (k: number) => (data[4 * Math.floor(((k + 0.5) * picture.width) / 16)] > 128 ? 1 : 0);
  return Array.from({ length: 16 }, (_, k) => bit(k)).reduce<number>(
    (number, value) => number * 2 + value,
    0,
  );
}

test('frame n of numbered pictures and of a ZIP of them shows number n', async ({ page }) => {
  const folder = clipFile('pictures');
  mkdirSync(folder, { recursive: true });
  run('ffmpeg', ['-y', '-i', fileOf(clips[0]), '-start_number', '98', path.join(folder, 'still %03d.png')]);
  const names = readdirSync(folder).sort();
  const zip = zipSync(
    Object.fromEntries(names.map((name) => [`take 2/${name}`, readFileSync(path.join(folder, name))])),
  );
  const file = clipFile('pictures.zip');
  writeFileSync(file, zip);
  const media = await bringIn(page, file);
  expect([media.stills, media.shot.frameCount]).toEqual([true, frames]);
  await openHarness(page);
  const order = Array.from({ length: frames }, (_, n) => (n * 41) % frames);
  const read = await page.evaluate(
    ([media, order]) => (globalThis as HarnessWindow).harness.readNumbers(media, order),
    [media, order] as const,
  );
  expect(read).toEqual(order);
});

test('uneven frames are shown at their own times, also across a pause of 1.5 s', async ({ page }) => {
  // Frame k comes on at 40 k + 13 (k mod 3) ms, from the 40th on 1.5 s later.
  const times = 'settb=1/1000,setpts=N*40+13*mod(N\\,3)+1500*gte(N\\,40)';
  const uneven = numberedClip('paused.mp4', 90, [
    ...h264,
    '-bf',
    '2',
    '-vf',
    times,
    '-fps_mode',
    'vfr',
    '-enc_time_base',
    '1/1000',
  ]);
  const comesOn = (k: number) => 40 * k + 13 * (k % 3) + (k >= 40 ? 1500 : 0);
  // In the middle of a crossing frame, so that one which comes 13 ms late is not passed over.
  const onScreen = (ms: number) => Array.from({ length: 90 }, (_, k) => k).findLast((k) => comesOn(k) <= ms)!;
  const outgoing = (await bringIn(page, fileOf(clips[0]))).shot;
  const { shot } = await bringIn(page, uneven);
  const data = { name: 'Uneven', plan: 'arrival', outgoingShotId: outgoing.id, incomingShotId: shot.id };
  const { id } = (await (await page.request.post('/api/crossings', { data })).json()) as { id: string };
  expect(outgoing.rate).toEqual({ num: 25, den: 1 });
  await openCrossing(page, id);
  await page.keyboard.press('p');
  for (const n of [0, 1, 2, 3, 5, 38, 40, 41, 59, 76, 77, 78, 79, 80, 100, 124]) {
    await page.keyboard.type(String(n));
    await page.keyboard.press('Enter');
    await shownFrame(page, n);
    expect(await numberOnScreen(page), `crossing frame ${n}`).toBe(onScreen(40 * n + 20));
  }
  // Frame 39 stays for the pause.
  expect([onScreen(40 * 60 + 20), onScreen(40 * 77 + 20)]).toEqual([39, 40 - 1]);
  await page.keyboard.type('60');
  await page.keyboard.press('Enter');
  await expect(page.locator('#row-60 .again').first()).toHaveText('=39');
});

test('the workspace’s picture of frame n is frame n, stepping and jumping', async ({ page }) => {
  const { id } = (await bringIn(page, fileOf(clips[0]))).shot;
  const response = await page.request.post('/api/crossings', {
    data: { name: 'Numbers', plan: 'pass-by', outgoingShotId: id, incomingShotId: id },
  });
  await openCrossing(page, ((await response.json()) as { id: string }).id);
  await page.keyboard.press('p');
  for (const [keys, wanted] of [
    ['0', 0],
    ['+1', 1],
    ['+1', 2],
    ['119', 119],
    ['-1', 118],
    ['-77', 41],
    ['00:00:02:03', 53],
  ] as const) {
    await page.keyboard.type(keys);
    await page.keyboard.press('Enter');
    await shownFrame(page, wanted);
    expect(await numberOnScreen(page)).toBe(wanted);
  }
});

test('a frame that the shot does not have is an error, not another picture', async ({ page }) => {
  const media = await bringIn(page, fileOf(clips[0]));
  await openHarness(page);
  const failing = page.evaluate(
    (media) => (globalThis as HarnessWindow).harness.readNumbers(media, [120]),
    media,
  );
  await expect(failing).rejects.toThrow('frames 0 to 119');
});
