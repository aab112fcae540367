import { expect, test } from '@playwright/test';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import {
  type HarnessWindow,
  mediaOf,
  numberedClip,
  openCrossing,
  openHarness,
  shownFrame,
  uploadFile,
} from './support';

const frames = 120;
const clips: [name: string, encode: string[]][] = [
  ['b-frames.mp4', ['-c:v', 'libx264', '-bf', '3', '-b_strategy', '0', '-g', '40']],
  ['open-gop.mkv', ['-c:v', 'libx264', '-bf', '2', '-g', '30', '-x264-params', 'open-gop=1']],
  [
    'vp9.webm',
    ['-c:v', 'libvpx-vp9', '-b:v', '600k', '-g', '50', '-auto-alt-ref', '1', '-lag-in-frames', '12'],
  ],
];

for (const [name, encode] of clips) {
  test(`frame n of ${name} shows number n: forwards, backwards, at random, at both ends`, async ({
    page,
  }) => {
    const { id } = await uploadFile(page, numberedClip(name, frames, encode));
    const media = await mediaOf(page, id!);
    expect(media.shot.frameCount).toBe(frames);
    await openHarness(page);
    const forwards = Array.from({ length: frames }, (_, n) => n);
    const random = forwards.map((n) => (n * 73 + 19) % frames);
    for (const order of [forwards, [...forwards].reverse(), random, [frames - 1, 0, frames - 1]]) {
      const read = await page.evaluate(
        ([media, order]) => (globalThis as HarnessWindow).harness.readNumbers(media, order),
        [media, order] as const,
      );
      expect(read).toEqual(order);
    }
  });
}

test('the workspace’s picture of frame n is frame n, stepping and jumping', async ({ page }) => {
  const { id } = await uploadFile(page, numberedClip(...([clips[0][0], frames, clips[0][1]] as const)));
  const response = await page.request.post('/api/crossings', {
    data: { name: 'Numbers', plan: 'pass-by', outgoingShotId: id, incomingShotId: id },
  });
  await openCrossing(page, ((await response.json()) as { id: string }).id);
  await page.keyboard.press('p');
  const numberOnScreen = async () => {
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
  };
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
    expect(await numberOnScreen()).toBe(wanted);
  }
});

test('a frame that the shot does not have is an error, not another picture', async ({ page }) => {
  const { id } = await uploadFile(page, numberedClip(...([clips[0][0], frames, clips[0][1]] as const)));
  const media = await mediaOf(page, id!);
  await openHarness(page);
  const failing = page.evaluate(
    (media) => (globalThis as HarnessWindow).harness.readNumbers(media, [120]),
    media,
  );
  await expect(failing).rejects.toThrow('frames 0 to 119');
});
