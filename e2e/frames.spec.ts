import { expect, test } from '@playwright/test';
import { type HarnessWindow, mediaOf, numberedClip, openHarness, uploadFile } from './support';

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
