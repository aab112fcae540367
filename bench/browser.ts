import type { Page } from '@playwright/test';
import { longestTask, origin, stepTimes, withApp } from './app';
import { median, type Figure } from './figure';
import { benchFrames } from './frames';
import { benchMany } from './many';

const demo = `${origin}/crossings/6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01`;

/** Figures taken in the running app, with software graphics, on the demo. */
export function benchBrowser(): Promise<Figure[]> {
  return withApp(async (browser) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(demo);
    await page.waitForSelector('[data-shown-frame="42"]', { timeout: 60_000 });
    await page.waitForTimeout(6000);
    const figures: Figure[] = [];
    const element = await elementSteps(page);
    for (const [name, prepare] of [
      ['fitted to the window', async () => page.keyboard.press('z')],
      ['at 100 %', async () => page.keyboard.press('Shift+Z')],
    ] as const) {
      await prepare();
      await page.waitForTimeout(800);
      const steps = await stepTimes(page);
      figures.push({
        name: `step to a neighbour frame, result, 720p ${name}`,
        value: median(steps),
        unit: 'ms',
        atMost: name === 'fitted to the window' ? 33 : 50,
      });
      figures.push({
        name: `  the same against a video element’s seek`,
        value: median(steps),
        unit: 'ms',
        reference: { name: 'video element', value: element },
      });
    }
    await page.keyboard.press('z');
    const stepping = await longestTask(page);
    let playing = 0;
    for (const quality of ['Full', 'Half', 'Quarter']) {
      const { figure, longest } = await playback(page, quality);
      figures.push(figure);
      playing = Math.max(playing, longest);
    }
    figures.push({
      name: 'longest task of the page while stepping',
      value: stepping,
      unit: 'ms',
      atMost: 50,
    });
    figures.push({ name: 'longest task of the page while playing', value: playing, unit: 'ms', atMost: 50 });
    await page.close();
    figures.push(...(await benchMany(browser, origin, stepTimes, longestTask)));
    figures.push(...(await benchFrames(browser, origin)));
    return figures;
  });
}

/** The same steps with an HTML video element: seek, then its frame callback; one shot, nothing composed. */
async function elementSteps(page: Page): Promise<number> {
  const times = await page.evaluate(async () => {
    const shots = (await (await fetch('/api/shots')).json()) as { id: string; name: string }[];
    const blob = await (
      await fetch(`/api/shots/${shots.find((shot) => shot.name.startsWith('Gardener'))!.id}/file`)
    ).blob();
    const video = document.createElement('video');
    video.muted = true;
    video.src = URL.createObjectURL(new Blob([blob], { type: 'video/mp4' }));
    video.style.cssText = 'position:fixed;left:0;top:0;width:320px;z-index:9';
    document.body.append(video);
    await new Promise((done) => (video.onloadeddata = done));
    const times: number[] = [];
    for (let k = 0; k < 24; k++) {
      const frame = k < 12 ? 72 - k : 61 + (k - 12);
      const start = performance.now();
      const presented = new Promise((done) => video.requestVideoFrameCallback(done));
      video.currentTime = (frame + 0.5) / 25;
      await presented;
      times.push(performance.now() - start);
    }
    video.remove();
    return times;
  });
  return median(times);
}

async function playback(page: Page, quality: string): Promise<{ figure: Figure; longest: number }> {
  await page.getByLabel('Quality of the preview').locator('..').click();
  await page.getByRole('option', { name: quality }).click();
  await page.waitForTimeout(600);
  await longestTask(page);
  await page.keyboard.press('Space');
  await page.waitForTimeout(5280);
  const dropped = Number.parseInt((await page.getByTestId('dropped').textContent()) ?? '', 10);
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  const name = `frames dropped of about 132 while playing, ${quality.toLowerCase()} quality, fitted`;
  return { figure: { name, value: dropped, unit: 'frames' }, longest: await longestTask(page) };
}
