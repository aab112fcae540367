import type { Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type OutlineRow, plainOutline, plainPose, type PoseRow } from '../src/core/document/rows';
import { longestTask, origin, stepTimes, withApp } from './app';
import { type Figure, median } from './figure';

/** Large footage: two shots of a size, drawn from the demo's, 250 frames long, one traced and softened. */

const frames = 250;

/** How the sizes that people bring are held to what an editor bears. */
const sizes = [
  { name: '1080p', width: 1920, height: 1080, median: 50, p95: 80, quality: 'Half' },
  { name: '4K', width: 3840, height: 2160, median: 90, p95: null, quality: 'Quarter' },
] as const;

const folder = mkdtempSync(path.join(tmpdir(), 'kiv-large-'));

function clip(shot: string, width: number, height: number): string {
  const file = path.join(folder, `${shot}-${height}.mp4`);
  const { status, stderr } = spawnSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-stream_loop',
      '4',
      '-i',
      `demo/footage/${shot}.mp4`,
      '-frames:v',
      String(frames),
    ],
    ...[
      '-vf',
      `scale=${width}:${height}:flags=bicubic,noise=alls=4:allf=t`,
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
    ],
    ...['-crf', '20', '-g', '25', '-bf', '2', '-pix_fmt', 'yuv420p', file],
  ]);
  if (status !== 0) throw new Error(stderr.toString());
  return file;
}

const json = { 'content-type': 'application/json' };
const pieceSize = 8 * 1024 * 1024;

/** Asks the server; once more where it closed a connection that had been idle. */
const ask = (where: string, options: RequestInit = {}) =>
  fetch(`${origin}${where}`, options).catch(() => fetch(`${origin}${where}`, options));

async function post<T>(where: string, body: object): Promise<T> {
  const answer = await ask(where, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: json,
  });
  if (!answer.ok) throw new Error(`${where}: ${await answer.text()}`);
  return (await answer.json()) as T;
}

/** Brings a file in as the page does, in pieces, and waits for its work copy. */
async function bringIn(file: string): Promise<string> {
  const bytes = readFileSync(file);
  const name = path.basename(file);
  const about = { fingerprint: `bench ${name}`, name, size: bytes.length, rateNum: 25, rateDen: 1 };
  const upload = await post<{ id: string }>('/api/uploads', about);
  for (let offset = 0; offset < bytes.length; offset += pieceSize)
    await ask(`/api/uploads/${upload.id}?offset=${offset}`, {
      method: 'PATCH',
      body: bytes.subarray(offset, offset + pieceSize),
      headers: { 'content-type': 'application/octet-stream' },
    }).then((answer) => answer.text());
  const { id } = await post<{ id: string }>(`/api/uploads/${upload.id}`, { parts: null });
  for (let tries = 0; tries < 1200; tries++) {
    const jobs = (await (await ask('/api/jobs')).json()) as unknown[];
    if (jobs.length === 0) return id;
    await new Promise((done) => setTimeout(done, 500));
  }
  throw new Error('The work copy was not made in ten minutes.');
}

/** A pass-by of both, with a soft seam across it. */
async function crossing(name: string, width: number, height: number) {
  const [outgoingShotId, incomingShotId] = [
    await bringIn(clip('gardener', width, height)),
    await bringIn(clip('lily-pond', width, height)),
  ];
  const { id } = await post<{ id: string }>('/api/crossings', {
    ...{ name, plan: 'pass-by', outgoingShotId, incomingShotId },
  });
  const { document } = (await (await ask(`/api/crossings/${id}`)).json()) as {
    document: { layers: Record<string, { id: string; role: string }> };
  };
  const layerId = Object.values(document.layers).find(({ role }) => role === 'outgoing')!.id;
  const outlineId = crypto.randomUUID();
  const pose = (frame: number, x: number): PoseRow => ({
    ...plainPose,
    ...{ id: `${outlineId}@${frame}`, outlineId, frame, origin: 'by hand', onward: 'linear' },
    coordinates: [-10, height / 2, height + 10].flatMap((y, k) => [x + 40 * (k % 2), y, 0, 0, 0, 0]),
  });
  const outline: OutlineRow = {
    ...{ ...plainOutline, id: outlineId, layerId, cutsLayerId: null, name: 'Seam', kind: 'seam' },
    ...{ sweptSide: 'right', position: 0, points: ['a', 'b', 'c'] },
    ...{ featherInside: width / 100, featherOutside: width / 100 },
  };
  const rows = [
    { table: 'outline', id: outlineId, before: null, after: outline },
    ...[0, frames - 1].map((frame) => {
      const after = pose(frame, frame === 0 ? -60 : width + 60);
      return { table: 'pose', id: after.id, before: null, after };
    }),
  ];
  await post(`/api/crossings/${id}/commits`, {
    ...{ requestId: crypto.randomUUID(), baseRevision: 0, kind: 'do' },
    edit: { id: crypto.randomUUID(), label: 'Draw', changes: rows },
  });
  return `${origin}/crossings/${id}`;
}

/** Resident memory of the process that has the page with its workers, in MB: the largest that renders. */
function tabMegabytes(): number {
  const { stdout } = spawnSync('ps', ['-eo', 'rss,args'], { encoding: 'utf8' });
  const renderers = stdout.split('\n').filter((line) => line.includes('--type=renderer'));
  return Math.max(...renderers.map((line) => Number.parseInt(line.trim(), 10))) / 1024;
}

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
      const address = await crossing(`Large, ${size.name}`, size.width, size.height);
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
