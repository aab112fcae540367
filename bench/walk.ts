import type { Browser, Page } from '@playwright/test';
import { origin, withApp } from './app';
import { type Figure, formatFigure, median } from './figure';
import { crossing, tabMegabytes } from './large-footage';

/**
 * Stepping, jumping and playing in the state that people are in: a crossing just opened, a point just moved, an arrow
 * held. Beside it two video elements, one over the other with a clip path, in a bare page of the same browser.
 */

const frames = 250;
/** Frames from key to key, as cameras and stock footage have them. */
const keyEvery = 50;
const sizes = [
  { name: '720p', width: 1280, height: 720 },
  { name: '1080p', width: 1920, height: 1080 },
  { name: '4K', width: 3840, height: 2160 },
];
const heldSteps = 40;
const jumps = [31, 128, 225, 72, 169, 16, 213, 60, 157, 4];
const seconds = 9;

const p95 = (values: readonly number[]) =>
  [...values].sort((a, b) => a - b)[Math.ceil(0.95 * values.length) - 1];

/** From each key to its picture, the next key as soon as it is there: an arrow that is held. ms. */
function held(page: Page, key: 'ArrowLeft' | 'ArrowRight', count = heldSteps): Promise<number[]> {
  return page.evaluate(
    async ([key, count]) => {
      const picture = document.querySelector<HTMLElement>('[data-testid=picture]')!;
      const times: number[] = [];
      for (let k = 0; k < count; k++) {
        const wanted = String(Number(picture.dataset.shownFrame) + (key === 'ArrowLeft' ? -1 : 1));
        const start = performance.now();
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
        await new Promise<void>((done) => {
          const observer = new MutationObserver(() => {
            if (picture.dataset.shownFrame === wanted) end();
          });
          observer.observe(picture, { attributes: true, attributeFilter: ['data-shown-frame'] });
          // A press that is lost counts as long as this.
          const lost = setTimeout(end, 3000);
          function end() {
            clearTimeout(lost);
            observer.disconnect();
            done();
          }
        });
        times.push(performance.now() - start);
      }
      return times;
    },
    [key, count] as const,
  );
}

/** From Enter after a typed frame to its picture, ms. */
async function jumped(page: Page, frame: number): Promise<number> {
  await page.keyboard.type(String(frame));
  return page.evaluate(async (frame) => {
    const picture = document.querySelector<HTMLElement>('[data-testid=picture]')!;
    const start = performance.now();
    document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    await new Promise<void>((done) => {
      const seen = () => picture.dataset.shownFrame === String(frame);
      if (seen()) return done();
      const observer = new MutationObserver(() => {
        if (!seen()) return;
        observer.disconnect();
        done();
      });
      observer.observe(picture, { attributes: true, attributeFilter: ['data-shown-frame'] });
    });
    return performance.now() - start;
  }, frame);
}

/** Frames left out of those due, playing from the start, and the share of its fineness that the picture had in the end, percent. */
async function played(page: Page): Promise<{ dropped: number; share: number }> {
  await page.keyboard.press('Home');
  await page.waitForTimeout(400);
  await page.keyboard.press('Space');
  await page.waitForTimeout(seconds * 1000);
  const told = (await page.getByTestId('dropped').textContent()) ?? '';
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  return { dropped: Number.parseInt(told, 10), share: Number(/at (\d+) %/.exec(told)?.[1] ?? 100) };
}

async function chooseQuality(page: Page, quality: string) {
  await page.getByLabel('Quality of the preview').locator('..').click();
  await page.getByRole('option', { name: quality }).click();
  await page.waitForTimeout(300);
}

/** A browser's state with nothing in it. */
async function freshContext(browser: Browser) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  // The name that tsx's bundler gives to functions is not known in the page.
  await context.addInitScript('globalThis.__name = (made) => made');
  return context;
}

/** ms of the page's own clock from its beginning to a first picture, or to what a page of Kiv shows, as it came to be there. */
async function openedCold(browser: Browser, address: string, until: string): Promise<number> {
  const context = await freshContext(browser);
  await context.addInitScript((selector) => {
    const page = globalThis as typeof globalThis & { openedAt?: number };
    const look = () => {
      if (document.querySelector(selector)) page.openedAt ??= performance.now();
    };
    new MutationObserver(look).observe(document, { subtree: true, childList: true, attributes: true });
    document.addEventListener('DOMContentLoaded', look);
  }, until);
  const page = await context.newPage();
  await page.goto(address);
  await page.waitForSelector(until, { timeout: 120_000 });
  const opened = await page.evaluate(() => (globalThis as { openedAt?: number }).openedAt);
  await context.close();
  if (opened === undefined) throw new Error('What the page shows was not seen.');
  return opened;
}

/** Frame on which a point is dragged: the seam stands in the middle of the picture. */
const editedFrame = 125;

/** Where the seam's middle point is on screen on that frame, as {@link crossing} draws it. */
async function pointOnScreen(page: Page, width: number): Promise<[x: number, y: number]> {
  const box = (await page.getByRole('img', { name: 'The picture at the current frame' }).boundingBox())!;
  const x = -60 + ((width + 120) * editedFrame) / (frames - 1) + 40;
  return [box.x + (box.width * x) / width, box.y + box.height / 2];
}

/** How often the crossing has been changed, as the server knows it. */
async function revisionOf(page: Page): Promise<number> {
  const id = new URL(page.url()).pathname.split('/').at(-1);
  const answer = await page.request.get(`${origin}/api/crossings/${id}`);
  return ((await answer.json()) as { revision: number }).revision;
}

/**
 * Steps to a neighbour right after a point was dragged, ms; the frame is gone back to before each.
 *
 * @throws Error where the drags changed nothing: then nothing was measured.
 */
async function steppedAfterEdit(page: Page, width: number): Promise<number[]> {
  const before = await revisionOf(page);
  const times: number[] = [];
  const [start, y] = await pointOnScreen(page, width);
  let x = start;
  for (let k = 0; k < 8; k++) {
    const by = k % 2 ? -14 : 14;
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + by, y, { steps: 3 });
    await page.mouse.up();
    x += by;
    times.push(...(await held(page, 'ArrowRight', 1)));
    await page.waitForTimeout(250);
    await held(page, 'ArrowLeft', 1);
    await page.waitForTimeout(500);
  }
  if ((await revisionOf(page)) - before < times.length)
    throw new Error('The drags did not change the crossing.');
  return times;
}

interface OfElements {
  neighbours: number[];
  jumps: number[];
  dropped: number[];
}

/** The same of two video elements. */
async function ofElements(browser: Browser, size: (typeof sizes)[number]): Promise<OfElements> {
  const context = await freshContext(browser);
  const page = await context.newPage();
  await page.goto(`${origin}/exports`);
  const measured = await page.evaluate(
    async ({ height, seconds, steps, jumps, frames }) => {
      const shots = (await (await fetch('/api/shots')).json()) as {
        id: string;
        name: string;
        height: number;
      }[];
      const pair = shots
        .filter((shot) => shot.height === height && shot.name.includes(`-${height}-`))
        .slice(0, 2);
      document.body.replaceChildren();
      const videos = await Promise.all(
        pair.map(async ({ id }, k) => {
          const blob = await (await fetch(`/api/shots/${id}/file`)).blob();
          const video = document.createElement('video');
          video.muted = true;
          video.loop = true;
          video.src = URL.createObjectURL(new Blob([blob], { type: 'video/mp4' }));
          video.style.cssText = `position:fixed;left:0;top:0;width:852px;height:480px;z-index:${k}`;
          if (k) video.style.clipPath = 'polygon(0 0, 55% 0, 45% 100%, 0 100%)';
          document.body.append(video);
          await new Promise((done) => (video.onloadeddata = done));
          return video;
        }),
      );
      const seek = async (frame: number) => {
        const start = performance.now();
        const there = videos.map((video) => new Promise((done) => video.requestVideoFrameCallback(done)));
        for (const video of videos) video.currentTime = (frame + 0.5) / 25;
        await Promise.all(there);
        return performance.now() - start;
      };
      await seek(119);
      const neighbours: number[] = [];
      for (let k = 0; k < steps; k++) neighbours.push(await seek(120 + k));
      const far: number[] = [];
      for (const frame of jumps) far.push(await seek(frame));
      const dropped: number[] = [];
      for (let round = 0; round < 2; round++) {
        await seek(0);
        const shown = videos.map((video) => {
          let count = 0;
          let ended = false;
          const next = () => {
            if (ended) return;
            count++;
            video.requestVideoFrameCallback(next);
          };
          video.requestVideoFrameCallback(next);
          return () => {
            ended = true;
            return count;
          };
        });
        await Promise.all(videos.map((video) => video.play()));
        await new Promise((done) => setTimeout(done, seconds * 1000));
        videos.forEach((video) => video.pause());
        const due = Math.min(frames, seconds * 25);
        dropped.push(Math.max(0, due - Math.min(...shown.map((count) => count()))));
      }
      return { neighbours, jumps: far, dropped };
    },
    { height: size.height, seconds, steps: heldSteps, jumps, frames },
  );
  await context.close();
  return measured;
}

/** `npm run bench -- walk [SIZE]`. */
export async function benchWalk(only: string | null) {
  await withApp(async (browser) => {
    for (const size of sizes.filter(({ name }) => !only || name === only)) {
      const address = await crossing(`Walk, ${size.name}`, size.width, size.height, frames, keyEvery);
      const elements = await ofElements(browser, size);
      const say = (figure: Figure) =>
        console.log(formatFigure({ ...figure, name: `${size.name}: ${figure.name}` }));
      const timed = (
        name: string,
        times: readonly number[],
        bounds: { median?: number; p95?: number },
        far = false,
      ) => {
        const reference = { name: 'two elements', value: median(far ? elements.jumps : elements.neighbours) };
        say({ name: `${name}, median`, value: median(times), unit: 'ms', reference, atMost: bounds.median });
        if (bounds.p95)
          say({
            name: `${name}, 95th percentile`,
            value: p95(times),
            unit: 'ms',
            reference,
            atMost: bounds.p95,
          });
      };
      // As soon as it has its answer, and says that there is nothing yet.
      const empty = await openedCold(browser, `${origin}/exports`, 'main a[href="/"]');
      const cold = await openedCold(browser, address, '[data-shown-frame]');
      say({
        name: 'cold page to the first picture',
        value: cold,
        unit: 'ms',
        reference: { name: 'page of exports', value: empty },
        atMost: 1.5,
      });
      const context = await freshContext(browser);
      const page = await context.newPage();
      await page.goto(address);
      await page.waitForSelector('[data-shown-frame]', { timeout: 120_000 });
      const cautious = { median: 0.35, p95: 0.8 };
      // It opens on the last pose, which is the last frame.
      timed('arrow held right after opening', await held(page, 'ArrowLeft'), cautious);
      await page.waitForTimeout(1000);
      await jumped(page, 120);
      timed('arrow held right after a jump', await held(page, 'ArrowRight'), cautious);
      timed('then back, held', await held(page, 'ArrowLeft'), cautious);
      await jumped(page, 200);
      timed('back, held, right after a jump', await held(page, 'ArrowLeft'), cautious);
      await page.waitForTimeout(12_000);
      timed('after 12 s of rest, back', await held(page, 'ArrowLeft'), { median: 0.25 });
      timed('then forward again', await held(page, 'ArrowRight'), { median: 0.25 });
      const far: number[] = [];
      for (const frame of jumps) far.push(await jumped(page, frame));
      timed('random jump, typed', far, { median: 0.6 }, true);
      await page.waitForTimeout(2000);
      await jumped(page, editedFrame);
      await page.waitForTimeout(1000);
      const before = median(await steppedPlainly(page));
      const after = median(await steppedAfterEdit(page, size.width));
      say({
        name: 'step right after an edit',
        value: after,
        unit: 'ms',
        reference: { name: 'step before it', value: before },
        atMost: 1.25,
      });
      await page.close();
      for (const quality of ['Full', 'Half', 'Quarter']) {
        const fresh = await context.newPage();
        await fresh.goto(address);
        await fresh.waitForSelector('[data-shown-frame]', { timeout: 120_000 });
        await chooseQuality(fresh, quality);
        for (const [k, time] of ['first time', 'again'].entries()) {
          const { dropped, share } = await played(fresh);
          say({
            name: `frames left out of ${seconds * 25} playing, ${quality}, ${time}, at ${share} % in the end (two elements ${elements.dropped[k]})`,
            value: dropped,
            unit: 'frames',
            atMost: Math.max(elements.dropped[k], 2),
          });
        }
        if (quality === 'Full')
          say({ name: 'memory of the tab, resident', value: tabMegabytes(), unit: 'MB', atMost: 1200 });
        await fresh.close();
      }
      await context.close();
    }
  });
}

/** Single steps with a pause after each, as those after an edit have. */
async function steppedPlainly(page: Page): Promise<number[]> {
  const times: number[] = [];
  for (let k = 0; k < 8; k++) {
    times.push(...(await held(page, k % 2 ? 'ArrowLeft' : 'ArrowRight', 1)));
    await page.waitForTimeout(250);
  }
  return times;
}
