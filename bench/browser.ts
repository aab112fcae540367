import { chromium, type Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromiumLaunch } from '../scripts/chromium.mjs';
import { median, type Figure } from './figure';
import { benchFrames } from './frames';
import { benchMany } from './many';

const port = 4792;
const demo = `http://127.0.0.1:${port}/crossings/6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01`;

/** Figures taken in the running app, with software graphics, on the demo. */
export async function benchBrowser(): Promise<Figure[]> {
  const data = mkdtempSync(path.join(tmpdir(), 'kiv-bench-'));
  const server = spawn('node', ['scripts/serve.mjs'], {
    env: { ...process.env, PORT: String(port), KIV_DATA: data },
    stdio: 'ignore',
  });
  const browser = await chromium.launch(chromiumLaunch);
  try {
    await answering();
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
        atMost: 50,
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
    figures.push(...(await benchMany(browser, `http://127.0.0.1:${port}`, stepTimes, longestTask)));
    figures.push(...(await benchFrames(browser, `http://127.0.0.1:${port}`)));
    return figures;
  } finally {
    await browser.close();
    server.kill();
  }
}

async function answering() {
  for (let tries = 0; tries < 120; tries++) {
    if (
      await fetch(`http://127.0.0.1:${port}/api/shots`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return;
    await new Promise((done) => setTimeout(done, 250));
  }
  throw new Error('The server did not start; run npm start once, so that there is a build.');
}

/** From a key press to the report that its picture is drawn, in ms. */
async function stepTimes(page: Page): Promise<number[]> {
  return page.evaluate(async () => {
    const picture = document.querySelector<HTMLElement>('[data-testid=picture]')!;
    const times: number[] = [];
    const watch = window as typeof window & { longest?: number };
    if (watch.longest === undefined) {
      watch.longest = 0;
      new PerformanceObserver((list) =>
        list.getEntries().forEach((entry) => (watch.longest = Math.max(watch.longest!, entry.duration))),
      ).observe({ entryTypes: ['longtask'] });
    }
    for (let k = 0; k < 24; k++) {
      const key = k < 12 ? 'ArrowLeft' : 'ArrowRight';
      const wanted = String(Number(picture.dataset.shownFrame) + (k < 12 ? -1 : 1));
      const start = performance.now();
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
      await new Promise<void>((done) => {
        const observer = new MutationObserver(() => {
          if (picture.dataset.shownFrame !== wanted) return;
          observer.disconnect();
          done();
        });
        observer.observe(picture, { attributes: true });
      });
      times.push(performance.now() - start);
      await new Promise((done) => setTimeout(done, 120));
    }
    return times;
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

/** The longest task over 50 ms since this was last asked, in ms; 0 when there was none. */
function longestTask(page: Page): Promise<number> {
  return page.evaluate(() => {
    const watch = window as typeof window & { longest?: number };
    const longest = watch.longest ?? 0;
    watch.longest = 0;
    return longest;
  });
}
