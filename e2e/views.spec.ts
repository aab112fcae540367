import { readFileSync, writeFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { clipFile, numberedClip, openCrossing } from './support';

/** @param rules those to look for; all by default. @param within what is looked at; the whole page by default. */
async function seriousProblems(page: Page, rules?: string[], within?: string) {
  // Axe runs inside the page, whose policy keeps foreign scripts out: Playwright puts it in past the policy.
  const axe = new AxeBuilder({ page });
  if (rules) axe.withRules(rules);
  if (within) axe.include(within);
  // Colours on their way from one room's to the other's are neither's; what moves without end is not waited for.
  await page.waitForFunction(() =>
    document
      .getAnimations()
      .every(
        ({ effect, playState }) => playState !== 'running' || effect?.getTiming().iterations === Infinity,
      ),
  );
  const { violations } = await axe.analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`);
}

test('axe finds no serious problem on any view, in paper and in the dim room', async ({ page }) => {
  test.setTimeout(240_000);
  const fine = async (what: string, within?: string, rules?: string[]) =>
    expect(await seriousProblems(page, rules, within), what).toEqual([]);
  // The dim room only has other colours.
  const fineInDim = (what: string, within?: string) => fine(`${what}, dim`, within, ['color-contrast']);
  const openStep = async (step: RegExp) => {
    const button = page.getByRole('button', { name: step });
    if ((await button.getAttribute('aria-expanded')) === 'false') await button.click();
    await page.waitForTimeout(200);
  };
  const steps = [/1 Shots/, /2 Line up/, /3 Trace/, /4 Edge/, /5 Move/, /6 Sound/, /7 Check/, /8 Export/];
  // By key, so that no pointer calls up a tooltip, which axe would meet half faded in.
  const turnTo = async (room: 'Dim the room' | 'Back to paper') => {
    await page.getByRole('button', { name: room }).press('Enter');
    // Its name is the other room's as soon as this one has its colours.
    await expect(page.getByRole('button', { name: room })).toHaveCount(0);
  };

  for (const place of ['/', '/footage', '/exports']) {
    await page.goto(place);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await page.waitForTimeout(600);
    await fine(place);
    await turnTo('Dim the room');
    await fineInDim(place);
    await turnTo('Back to paper');
  }
  await openCrossing(page);
  await fine('workspace');
  for (const step of steps) {
    await openStep(step);
    await fine(step.source, '[aria-label="Steps"]');
  }
  await turnTo('Dim the room');
  await fineInDim('workspace');
  for (const step of steps.toReversed()) {
    await openStep(step);
    await fineInDim(step.source, '[aria-label="Steps"]');
  }
  await page.keyboard.press('v');
  await page.waitForTimeout(300);
  await fineInDim('both', 'main');
  await page.keyboard.press('?');
  await page.waitForTimeout(300);
  await fineInDim('keys', '[role="dialog"]');
  await page.keyboard.press('Escape');
  await turnTo('Back to paper');
  await fine('both', 'main');
  await page.keyboard.press('?');
  await page.waitForTimeout(300);
  await fine('keys', '[role="dialog"]');
});

test('a stranger starts: the shelf shows the wipe, a new crossing is made, nothing asks the network', async ({
  page,
  baseURL,
}) => {
  const foreign: string[] = [];
  const errors: string[] = [];
  page.on('request', (request) => {
    if (!request.url().startsWith(baseURL!) && !/^(blob|data):/.test(request.url()))
      foreign.push(request.url());
  });
  page.on('console', (message) => message.type() === 'error' && errors.push(message.text()));
  page.on('pageerror', (error) => errors.push(error.message));
  await page.goto('/');
  await expect(page.getByRole('img', { name: 'The result where it is half covered' }).first()).toBeVisible();
  await page.getByRole('button', { name: 'New crossing' }).click();
  const choose = (role: string, shot: string) =>
    page.getByRole('radiogroup', { name: role }).getByRole('radio', { name: shot }).click();
  await choose('Outgoing shot', 'Gardener with barrow');
  await choose('Incoming shot', 'Lily pond, night');
  await page.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', '48', { timeout: 30_000 });
  await expect(page.getByText('Draw the first outline')).toBeVisible();
  await page.goto('/crossings/no-such-crossing');
  await expect(page.getByText('There is no such crossing')).toBeVisible();
  expect(foreign).toEqual([]);
  expect(errors.filter((text) => !text.includes('404'))).toEqual([]);
});

test('in a window of 1024 × 700 everything is in reach and nothing runs over the sheet', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 700 });
  await openCrossing(page);
  const sheet = (await page.getByRole('region', { name: 'Sheet' }).boundingBox())!;
  const controls = page.getByRole('toolbar', { name: 'Tools and views' }).getByRole('button');
  const all = [...(await controls.all()), page.getByLabel('Quality of the preview').locator('..')];
  expect(all.length).toBeGreaterThan(18);
  const boxes = await Promise.all(all.map(async (each) => (await each.boundingBox())!));
  for (const { x, y, width, height } of boxes) {
    expect(x).toBeGreaterThanOrEqual(0);
    expect(x + width).toBeLessThanOrEqual(sheet.x);
    expect(y + height).toBeLessThanOrEqual(700);
  }
  // None lies over another.
  for (const [k, a] of boxes.entries())
    for (const b of boxes.slice(k + 1)) {
      const across = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
      const down = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
      expect(Math.min(across, down)).toBeLessThanOrEqual(1.5);
    }
  const before = (await page.getByTestId('picture').boundingBox())!.width;
  await page.keyboard.press('Shift+F');
  await expect(page.getByRole('region', { name: 'Sheet' })).toBeHidden();
  expect((await page.getByTestId('picture').boundingBox())!.width).toBe(1024);
  await page.keyboard.press('Shift+F');
  await page.keyboard.press('Shift+Q');
  expect((await page.getByTestId('picture').boundingBox())!.width).toBeLessThan(before);
});

test('the keys come back from a field by Esc and by a press anywhere, and meanwhile it is said where they go', async ({
  page,
}) => {
  await openCrossing(page);
  await page.getByRole('button', { name: /4 Edge/ }).click();
  const field = page.getByRole('textbox', { name: 'Feather inside' });
  await field.click();
  await page.keyboard.press('Tab');
  await page.keyboard.press('Shift+Tab');
  await expect(page.getByText('Keys go to “Feather inside”')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Keys go to')).toBeHidden();
  await page.keyboard.type('12');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', '12');
  await field.click();
  await page.getByTestId('current-frame').click();
  await page.keyboard.type('30');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', '30');
});

test('two files on disk become a crossing in one place: dropped, chosen by picture, created', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New crossing' }).click();
  await page
    .getByLabel('File of the outgoing shot')
    .setInputFiles([
      numberedClip('walk past.mp4', 50, ['-c:v', 'libx264', '-preset', 'ultrafast']),
      numberedClip('garden.mp4', 60, ['-c:v', 'libx264', '-preset', 'ultrafast', '-bf', '0']),
    ]);
  const chosen = (role: string) =>
    page.getByRole('radiogroup', { name: role }).getByRole('radio', { checked: true });
  await expect(chosen('Outgoing shot')).toHaveAccessibleName('walk past');
  await expect(chosen('Incoming shot')).toHaveAccessibleName('garden');
  await page.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', '25', { timeout: 30_000 });
  await expect(page.getByLabel('Name of the crossing')).toHaveValue('walk past to garden');
  // Nothing is drawn: nothing is ticked that was not looked at.
  await expect(page.getByRole('button', { name: /7 Check/ })).toHaveAccessibleName(/Nothing to check yet/);
  await expect(page.getByRole('button', { name: /7 Check/ }).getByRole('img')).toHaveAccessibleName('Open');
});

test('a file that has to be converted takes the role that it was meant for, however late it comes', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New crossing' }).click();
  await page
    .getByLabel('File of the outgoing shot')
    .setInputFiles([
      numberedClip('slow one.avi', 60, ['-c:v', 'mpeg4', '-q:v', '3']),
      numberedClip('quick one.mp4', 60, ['-c:v', 'libx264', '-preset', 'ultrafast']),
    ]);
  await page.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByLabel('Name of the crossing')).toHaveValue('slow one to quick one', {
    timeout: 60_000,
  });
});

for (const [what, nameOf] of [
  ['refused', () => clipOf('none.mp4', 'no video')],
  ['not to be converted', () => withoutPictures('blank.avi')],
] as const)
  test(`where one of two files is ${what} the other takes its own place, and Create asks for a look at the shots first`, async ({
    page,
  }) => {
    await page.goto('/');
    await page.getByRole('button', { name: 'New crossing' }).click();
    const clip = numberedClip('path.mp4', 50, ['-c:v', 'libx264', '-preset', 'ultrafast']);
    await page.getByLabel('File of the outgoing shot').setInputFiles([nameOf(), clip]);
    await expect(
      page.getByRole('radiogroup', { name: 'Incoming shot' }).getByRole('radio', { checked: true }),
    ).toHaveAccessibleName('path');
    const create = page.getByRole('button', { name: 'Create' });
    await create.click();
    await expect(
      page.getByText('A file could not be brought in, so its place has another shot.'),
    ).toBeVisible();
    await create.click();
    await expect(page.getByLabel('Name of the crossing')).toHaveValue(/ to path$/, { timeout: 30_000 });
  });

/** A file of these bytes beside the clips. */
function clipOf(name: string, bytes: string | Uint8Array): string {
  const file = clipFile(name);
  writeFileSync(file, bytes);
  return file;
}

/** A video whose container is whole, and of whose pictures nothing is left. */
function withoutPictures(name: string): string {
  const bytes = readFileSync(numberedClip(name, 20, ['-c:v', 'mpeg4', '-q:v', '3']));
  const end = bytes.indexOf('idx1');
  for (let at = bytes.indexOf('00dc'); at >= 0 && at < end; at = bytes.indexOf('00dc', at)) {
    const size = bytes.readUInt32LE(at + 4);
    bytes.fill(0, at + 8, at + 8 + size);
    at += 8 + size;
  }
  return clipOf(name, bytes);
}

test('somebody new is greeted, shown around on the demo and left alone afterwards; cards play; keys are searched', async ({
  page,
}) => {
  test.setTimeout(90_000);
  await page.emulateMedia({ reducedMotion: 'no-preference' });
  await page.goto('/');
  const welcome = page.getByRole('region', { name: 'Welcome' });
  await expect(welcome).toBeVisible();
  // A card that is seen says how far the trace has come; those of other tests lie before them.
  const finished = page.getByRole('article', { name: 'Faster through the pass', exact: true });
  await finished.scrollIntoViewIfNeeded();
  await expect(finished.getByRole('img', { name: 'Traced' })).toBeVisible({ timeout: 30_000 });
  const unfinished = page.getByRole('article', { name: 'Glasshouse to lily pond', exact: true });
  await unfinished.scrollIntoViewIfNeeded();
  await expect(unfinished).toContainText(/Last pose, frame 42: \d\d % covered/, { timeout: 30_000 });
  await unfinished.hover();
  await expect(page.getByRole('img', { name: 'The result, playing' })).toBeVisible({ timeout: 30_000 });
  await welcome.getByRole('button', { name: 'Try it on the demo' }).click();
  const around = page.getByRole('region', { name: /^Tour/ });
  for (let stop = 1; stop <= 5; stop++) {
    await expect(around).toHaveAttribute('aria-label', `Tour, ${stop} of 5`, { timeout: 30_000 });
    await around.getByRole('button', { name: stop < 5 ? 'Next' : 'Done' }).click();
  }
  await expect(around).toHaveCount(0);
  // Neither again after the page is loaded again, nor on the shelf.
  await page.reload();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d+/, { timeout: 30_000 });
  await expect(page.getByRole('button', { name: /8 Export/ })).toBeVisible();
  await page.keyboard.press('?');
  const keys = page.getByRole('dialog', { name: 'Keys' });
  await keys.getByRole('searchbox', { name: 'Search keys' }).fill('onion');
  await expect(keys.getByRole('heading', { level: 3 })).toHaveText(['Picture']);
  await keys.getByRole('searchbox', { name: 'Search keys' }).fill('nothing of the kind');
  await expect(keys.getByText('No key matches.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(keys).toHaveCount(0);
  await expect(around).toHaveCount(0);
  await page.goto('/');
  await expect(page.getByRole('button', { name: 'New crossing' })).toBeVisible();
  await expect(welcome).toHaveCount(0);
});
