import { type Browser, chromium, type Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromiumLaunch } from '../scripts/chromium.mjs';

/** The running app that figures are taken in: a server on a fresh demo, and Chromium with software graphics. */

const port = 4792;
export const origin = `http://127.0.0.1:${port}`;

/** @param work told the server's data folder too. */
export async function withApp<T>(work: (browser: Browser, data: string) => Promise<T>): Promise<T> {
  const data = mkdtempSync(path.join(tmpdir(), 'kiv-bench-'));
  const server = spawn('node', ['scripts/serve.mjs'], {
    env: { ...process.env, PORT: String(port), KIV_DATA: data },
    stdio: 'ignore',
  });
  const browser = await chromium.launch(chromiumLaunch);
  try {
    await answering();
    return await work(browser, data);
  } finally {
    await browser.close();
    server.kill();
  }
}

async function answering() {
  for (let tries = 0; tries < 120; tries++) {
    if (
      await fetch(`${origin}/api/shots`).then(
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
export async function stepTimes(page: Page): Promise<number[]> {
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

/** The longest task over 50 ms since this was last asked, in ms; 0 when there was none. */
export function longestTask(page: Page): Promise<number> {
  return page.evaluate(() => {
    const watch = window as typeof window & { longest?: number };
    const longest = watch.longest ?? 0;
    watch.longest = 0;
    return longest;
  });
}
