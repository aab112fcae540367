import type { Browser } from '@playwright/test';
import { readFileSync } from 'node:fs';
import type { JobListing, ShotMedia } from '@/wire/answers';
import { clipFile, type HarnessWindow, openHarness, run } from '../e2e/support';
import { type Figure, median } from './figure';

/** How quickly frames come, against an HTML video element in the same page, and what is held of a 4K shot meanwhile. */
export async function benchFrames(browser: Browser, base: string): Promise<Figure[]> {
  const page = await browser.newPage({ baseURL: base });
  const bringIn = async (name: string, size: string, seconds: number, keyEvery: number) => {
    const file = clipFile(name);
    const source = ['-f', 'lavfi', '-i', `testsrc2=s=${size}:r=25:d=${seconds}`];
    const noise = ['-vf', 'noise=alls=12:allf=t', '-pix_fmt', 'yuv420p'];
    run('ffmpeg', [
      '-y',
      ...source,
      ...noise,
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-g',
      String(keyEvery),
      file,
    ]);
    const response = await page.request.post(`/api/shots?name=${name}`, { data: readFileSync(file) });
    const { id } = (await response.json()) as { id: string };
    // The work copy is made before anything is timed.
    for (;;) {
      const jobs = (await (await page.request.get('/api/jobs')).json()) as JobListing[];
      if (jobs.length === 0) break;
      await page.waitForTimeout(500);
    }
    return (await (await page.request.get(`/api/shots/${id}`)).json()) as ShotMedia;
  };
  const hd = await bringIn('long-gop.mp4', '1280x720', 10, 250);
  const uhd = await bringIn('uhd.mp4', '3840x2160', 3, 12);
  await openHarness(page);
  const ours = (media: ShotMedia, frames: number[], work: boolean, ahead: boolean) =>
    page.evaluate(
      ([media, frames, work, ahead]) =>
        (globalThis as HarnessWindow).harness.timeFrames(media, frames, work, ahead),
      [media, frames, work, ahead] as const,
    );
  const element = (frames: number[]) =>
    page.evaluate(([media, frames]) => (globalThis as HarnessWindow).harness.timeVideo(media, frames), [
      hd,
      frames,
    ] as const);
  // The first few steps only get the reading ahead going.
  const along = Array.from({ length: 40 }, (_, k) => 100 + k);
  const random = Array.from({ length: 24 }, (_, k) => (k * 97 + 31) % 250);
  const stepped = (await ours(hd, along, true, true)).times.slice(8);
  const jumped = (await ours(hd, random, true, false)).times;
  const without = (await ours(hd, random, false, false)).times;
  const [elementSteps, elementJumps] = [await element(along), await element(random)];
  const forth = Array.from({ length: 70 }, (_, k) => k);
  const { held, times } = await ours(uhd, [...forth, ...forth.reverse()], false, true);
  await page.close();
  return [
    {
      name: 'neighbour frame of long-GOP 720p',
      value: median(stepped),
      unit: 'ms',
      reference: { name: 'video element', value: median(elementSteps) },
      atMost: 0.25,
    },
    {
      name: 'random jump in long-GOP 720p, by its work copy',
      value: median(jumped),
      unit: 'ms',
      reference: { name: 'video element', value: median(elementJumps) },
      atMost: 0.5,
    },
    {
      name: '  the same without the work copy',
      value: median(without),
      unit: 'ms',
      reference: { name: 'video element', value: median(elementJumps) },
    },
    {
      name: 'pictures held while stepping through 4K, of 192 MB allowed',
      value: held / 1e6,
      unit: 'MB',
      atMost: 192,
    },
    { name: '  neighbour frame of 4K', value: median(times), unit: 'ms' },
  ];
}
