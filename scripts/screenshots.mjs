/** Takes the pictures of docs/screenshots anew, from the demo: all, or those named. */
import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromiumLaunch } from './chromium.mjs';
import { prepare, prepareTestTools, root } from './prepare.mjs';

/** Thrown when all that were named are taken. */
class Taken extends Error {}

process.chdir(root);
await prepare();
await prepareTestTools();
const port = 4793;
const origin = `http://127.0.0.1:${port}`;
const env = {
  ...process.env,
  PORT: String(port),
  KIV_DATA: mkdtempSync(path.join(tmpdir(), 'kiv-pictures-')),
};
const server = spawn('node', ['scripts/serve.mjs'], { env, stdio: 'ignore' });
const browser = await chromium.launch(chromiumLaunch);
try {
  for (let tries = 0; tries < 120 && !(await fetch(`${origin}/api/shots`).catch(() => null)); tries++) {
    await new Promise((done) => setTimeout(done, 250));
  }
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const wanted = new Set(process.argv.slice(2));
  const all = wanted.size === 0;
  const take = async (name) => {
    if (!all && !wanted.has(name)) return;
    await page.waitForTimeout(900);
    await page.screenshot({ path: path.join('docs', 'screenshots', `${name}.png`) });
    wanted.delete(name);
    if (!all && wanted.size === 0) throw new Taken();
  };
  const open = async (last = '01') => {
    await page.goto(`${origin}/crossings/6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e${last}`);
    await page.waitForSelector('[data-shown-frame]');
    await page.waitForTimeout(4000);
  };
  const goTo = async (frame) => {
    await page.keyboard.type(String(frame));
    await page.keyboard.press('Enter');
    await page.waitForSelector(`[data-shown-frame="${frame}"]`);
  };
  await page.goto(origin);
  await page.waitForTimeout(25_000);
  await take('shelf');
  await page.getByRole('button', { name: 'New crossing' }).click();
  await page.waitForTimeout(9000);
  await take('plans');
  await page.goto(`${origin}/footage`);
  await page.waitForTimeout(3000);
  await take('footage');
  await open();
  await take('workspace');
  // A crossing of its own, whose first outline is being drawn along the edge.
  const shots = await (await page.request.get(`${origin}/api/shots`)).json();
  const idOf = (name) => shots.find((shot) => shot.name === name).id;
  const pair = { outgoingShotId: idOf('Gardener with barrow'), incomingShotId: idOf('Lily pond, night') };
  const made = await page.request.post(`${origin}/api/crossings`, {
    data: { name: 'Pass in the glasshouse', plan: 'pass-by', ...pair },
  });
  await page.goto(`${origin}/crossings/${(await made.json()).id}`);
  await page.waitForSelector('[data-shown-frame]');
  await goTo(54);
  for (const key of ['p', 'l', 'c', 'c']) await page.keyboard.press(key);
  const frame = await page.getByRole('img', { name: 'The picture at the current frame' }).boundingBox();
  const placed = (x, y) => [frame.x + (x / 1280) * frame.width, frame.y + (y / 720) * frame.height];
  await page.waitForTimeout(3000);
  await page.mouse.click(...placed(366, 12));
  await page.mouse.click(...placed(275, 240));
  await page.waitForTimeout(500);
  await page.mouse.move(...placed(302, 450), { steps: 4 });
  await take('tracing');
  // Somebody found, and pointed at.
  await page.keyboard.press('Escape');
  await goTo(62);
  await page.keyboard.press('Control+i');
  await page.getByRole('button', { name: /^Take person 1/ }).waitFor({ timeout: 60_000 });
  await page.mouse.move(...placed(620, 420), { steps: 4 });
  await take('people');
  // The same by strokes: over the gardener, and over what he is not.
  await page.keyboard.press('Escape');
  await goTo(58);
  await page.keyboard.press('Control+b');
  await page.waitForTimeout(3000);
  const paint = async (...places) => {
    await page.mouse.move(...placed(...places[0]));
    await page.mouse.down();
    for (const place of places.slice(1)) await page.mouse.move(...placed(...place), { steps: 8 });
    await page.mouse.up();
    await page.waitForTimeout(2500);
  };
  await paint([600, 210], [582, 450], [582, 690]);
  await page.keyboard.down('Alt');
  await paint([930, 190], [1060, 450], [930, 670]);
  await page.keyboard.up('Alt');
  await take('painting');
  await open();
  await page.keyboard.press('p');
  await page.getByRole('button', { name: /4 Edge/ }).click();
  await page.waitForTimeout(600);
  await page.getByText('Match, keyed').scrollIntoViewIfNeeded();
  await page.locator('dl dd').first().waitFor({ timeout: 30_000 });
  await take('edge');
  await open('11');
  await page.getByRole('button', { name: /5 Move/ }).click();
  await goTo(58);
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+L');
  await page.mouse.move(600, 400);
  for (let k = 0; k < 2; k++) await page.mouse.wheel(0, 200);
  await take('move');
  await open();
  await page.getByRole('button', { name: /7 Check/ }).click();
  await page.getByText('Every frame has been checked').waitFor({ timeout: 60_000 });
  await take('check');
  await page.getByRole('button', { name: 'Contact sheet of the edge' }).click();
  await page.getByTestId('strips').evaluate((list) => (list.scrollTop -= 300));
  await page.waitForTimeout(4000);
  await take('contact-sheet');
  await page.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('b');
  await page.getByRole('button', { name: /8 Export/ }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await page.getByText('Exported.').waitFor({ timeout: 60_000 });
  await page.keyboard.press('r');
  await take('export');
  await page.goto(`${origin}/exports`);
  await take('exports');
  await page.evaluate(() => localStorage.setItem('kiv-look', 'dim'));
  await open('11');
  await page.getByRole('button', { name: /6 Sound/ }).click();
  await goTo(44);
  await page
    .getByRole('group', { name: 'Sound over the crossing' })
    .getByRole('button', { name: /^Water/ })
    .focus();
  await page.waitForTimeout(2500);
  await take('sound');
  await page.evaluate(() => localStorage.setItem('kiv-look', 'paper'));
  await open('41');
  await page.getByRole('button', { name: /5 Move/ }).click();
  await goTo(18);
  await page.getByText('Leaves that swing').scrollIntoViewIfNeeded();
  await take('leaves');
  await open();
  await page.getByRole('button', { name: /1 Shots/ }).click();
  await take('shots');
  await page.getByRole('button', { name: /2 Line up/ }).click();
  await page.getByRole('button', { name: 'Measure the movement' }).click();
  await page.getByText('They do.').waitFor({ timeout: 120_000 });
  await page
    .getByRole('button', { name: 'Measure the movement' })
    .waitFor({ state: 'hidden', timeout: 120_000 });
  await page.keyboard.press('y');
  await page.getByRole('button', { name: 'Take Nursery, by hand in hand' }).click();
  await page.getByRole('list', { name: 'Findings' }).waitFor({ timeout: 60_000 });
  await goTo(30);
  await page.getByRole('list', { name: 'Findings' }).scrollIntoViewIfNeeded();
  await take('line-up');
  // A first draft, as a new crossing's.
  await page.goto(origin);
  await page.getByRole('button', { name: 'New crossing' }).click();
  await page.getByRole('button', { name: 'Draft it', exact: true }).click();
  await page.getByRole('button', { name: 'Draft the rest' }).waitFor({ timeout: 150_000 });
  await page.getByText('Checking every frame…').waitFor({ state: 'detached', timeout: 60_000 });
  await goTo(62);
  await take('draft');
  await open();
  await page.keyboard.press('p');
  // To the frame on which it is not sure.
  await page.keyboard.press('Shift+KeyJ');
  await page.waitForTimeout(1500);
  await take('carrying');
} catch (error) {
  if (!(error instanceof Taken)) throw error;
} finally {
  await browser.close();
  server.kill();
}
