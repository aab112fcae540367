import type { Page } from '@playwright/test';
import { longestTask, origin, stepTimes, withApp } from './app';
import { type Figure, median } from './figure';
import { crossing, tabMegabytes } from './large-footage';

/** Large footage: two shots of a size, drawn from the demo's, 250 frames long, one traced and softened. */

const frames = 250;

/** How the sizes that people bring are held to what an editor bears. */
const sizes = [
  { name: '1080p', width: 1920, height: 1080, median: 50, p95: 80, quality: 'Half' },
  { name: '4K', width: 3840, height: 2160, median: 90, p95: null, quality: 'Quarter' },
] as const;

/** From a press on a link to the first picture that the page has drawn, ms by the page's own clock. */
async function opening(page: Page, link: string): Promise<number> {
  await page.evaluate(() => {
    const watch = window as typeof window & { opened?: Promise<number> };
    watch.opened = new Promise((done) => {
      let pressed = 0;
      window.addEventListener('click', () => (pressed = performance.now()), { capture: true, once: true });
      const observer = new MutationObserver(() => {
        if (!document.querySelector('[data-shown-frame]')) return;
        observer.disconnect();
        done(performance.now() - pressed);
      });
      observer.observe(document, { subtree: true, childList: true, attributeFilter: ['data-shown-frame'] });
    });
  });
  await page.locator(link).first().click();
  return page.evaluate(() => (window as unknown as { opened: Promise<number> }).opened);
}

/** What the steps' time was spent on, means in ms. */
async function spentOn(page: Page, steps: () => Promise<number[]>) {
  await page.evaluate(() => {
    const picture = document.querySelector<HTMLElement>('[data-testid=picture]')!;
    const spent: string[] = [];
    Object.assign(window, { spent });
    new MutationObserver(() => spent.push(picture.dataset.spent ?? '{}')).observe(picture, {
      attributes: true,
      attributeFilter: ['data-spent'],
    });
  });
  const times = await steps();
  const spent = (await page.evaluate(() => (window as unknown as { spent: string[] }).spent)).map(
    (text) => JSON.parse(text) as Record<string, number>,
  );
  const means = Object.keys(spent[0] ?? {}).map(
    (on) => `${on} ${(spent.reduce((sum, each) => sum + each[on], 0) / spent.length).toFixed(1)}`,
  );
  return { times, split: means.join(', ') };
}

/** @param only the name of the one size to look at; left out: all. */
export function benchLarge(only?: string): Promise<Figure[]> {
  return withApp(async (browser) => {
    const figures: Figure[] = [];
    for (const size of sizes.filter(({ name }) => !only || name === only)) {
      const address = await crossing(`Large, ${size.name}`, size.width, size.height, frames);
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
      const page = await context.newPage();
      await page.goto(origin);
      await page.waitForTimeout(8000);
      await page.evaluate(() => {
        const watch = window as typeof window & { longest?: number };
        watch.longest = 0;
        new PerformanceObserver((list) =>
          list.getEntries().forEach((entry) => (watch.longest = Math.max(watch.longest!, entry.duration))),
        ).observe({ entryTypes: ['longtask'] });
      });
      const opened = await opening(page, `a[href="${new URL(address).pathname}"]`);
      await page.waitForTimeout(3000);
      figures.push({
        name: `${size.name}: from the click to the first picture`,
        value: opened,
        unit: 'ms',
        ...(size.name === '1080p' ? { atMost: 1500 } : {}),
      });
      figures.push({
        name: `${size.name}: longest task of the page while opening`,
        value: await longestTask(page),
        unit: 'ms',
        atMost: 100,
      });
      await page.keyboard.type('120');
      await page.keyboard.press('Enter');
      await page.waitForTimeout(12_000);
      const { times, split } = await spentOn(page, () => stepTimes(page));
      const sorted = [...times].sort((a, b) => a - b);
      figures.push({
        name: `${size.name}: step to a neighbour frame, result, fitted (${split})`,
        value: median(times),
        unit: 'ms',
        atMost: size.median,
      });
      figures.push({
        name: `${size.name}: 95th percentile of the same`,
        value: sorted[Math.ceil(0.95 * sorted.length) - 1],
        unit: 'ms',
        ...(size.p95 ? { atMost: size.p95 } : {}),
      });
      await page.getByLabel('Quality of the preview').locator('..').click();
      await page.getByRole('option', { name: size.quality }).click();
      // Once through, so that all is read.
      await page.keyboard.press('Home');
      await page.waitForTimeout(15_000);
      await page.keyboard.press('Space');
      await page.waitForTimeout(10_500);
      await page.keyboard.press('Space');
      await page.waitForTimeout(500);
      await page.keyboard.press('Home');
      await page.waitForTimeout(4000);
      await page.keyboard.press('Space');
      await page.waitForTimeout(10_000);
      const dropped = Number.parseInt((await page.getByTestId('dropped').textContent()) ?? '', 10);
      await page.keyboard.press('Space');
      figures.push({
        name: `${size.name}: frames dropped of 250 while playing, ${size.quality.toLowerCase()} quality, fitted`,
        value: dropped,
        unit: 'frames',
        atMost: 0,
      });
      figures.push({
        name: `${size.name}: memory of the tab, resident, after all of this`,
        value: tabMegabytes(),
        unit: 'MB',
        ...(size.name === '4K' ? { atMost: 1200 } : {}),
      });
      await context.close();
    }
    return figures;
  });
}
