import { readdirSync, statSync } from 'node:fs';
import path from 'node:path';
import { withApp } from './app';
import type { Figure } from './figure';
import { crossing, serverMegabytes, tabMegabytes } from './large-footage';

/** Exporting 500 frames of 4K: what the tab and the server hold meanwhile, against the size of the file. */

const [frames, every] = [500, 2000];

export function benchLargeExport(): Promise<Figure[]> {
  return withApp(async (browser, data) => {
    const address = await crossing('Large, exported', 3840, 2160, frames);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(address);
    await page.waitForSelector('[data-shown-frame]', { timeout: 60_000 });
    await page.getByRole('button', { name: /8 Export/ }).click();
    await page.getByLabel('Format').click();
    await page.getByRole('option', { name: 'MP4 (H.264)', exact: true }).click();
    await page.waitForTimeout(6000);
    const tab: number[] = [];
    const server: number[] = [];
    const began = performance.now();
    await page.getByRole('button', { name: 'Export', exact: true }).click();
    const exported = page.getByText('Exported.').waitFor({ timeout: 1_800_000 });
    let over = false;
    void exported.then(() => (over = true));
    while (!over) {
      tab.push(tabMegabytes());
      server.push(serverMegabytes());
      await page.waitForTimeout(every);
    }
    const seconds = (performance.now() - began) / 1000;
    const folder = path.join(data, 'exports');
    const sizes = readdirSync(folder).map((name) => statSync(path.join(folder, name)).size);
    const file = Math.max(...sizes) / 2 ** 20;
    const quarter = (all: readonly number[], from: number) => {
      const part = all.slice(Math.floor(all.length * from), Math.floor(all.length * (from + 0.25)) + 1);
      return part.reduce((sum, each) => sum + each, 0) / part.length;
    };
    return [
      {
        name: `4K: ${frames} frames exported as MP4 (H.264), a file of ${file.toFixed(0)} MB`,
        value: seconds,
        unit: 's',
      },
      { name: '4K: most memory of the tab meanwhile', value: Math.max(...tab), unit: 'MB' },
      {
        name: '4K: the tab’s memory in the last quarter less that in the second',
        value: quarter(tab, 0.75) - quarter(tab, 0.25),
        unit: 'MB',
      },
      { name: '4K: most memory of the server meanwhile', value: Math.max(...server), unit: 'MB' },
      {
        name: '4K: the server’s memory in the last quarter less that in the second',
        value: quarter(server, 0.75) - quarter(server, 0.25),
        unit: 'MB',
      },
    ];
  });
}
