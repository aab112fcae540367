import { writeFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import {
  clipFile,
  jump,
  newCrossing,
  offTruth,
  openCrossing,
  run,
  saved,
  screenOf,
  storedCrossing,
} from './support';

/** The frame that somebody is looked for on: all of the gardener's back is in the picture. */
const looked = 62;

const idle = (page: Page) =>
  expect(page.getByLabel('Carry', { exact: true }).getByRole('progressbar')).toHaveCount(0, {
    timeout: 120_000,
  });

test('two files become a traced passer-by with no point placed and no stroke, looked at and exported', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await page.goto('/');
  await page.getByRole('button', { name: 'New crossing' }).click();
  await page
    .getByLabel('File of the outgoing shot')
    .setInputFiles(['demo/footage/gardener.mp4', 'demo/footage/lily-pond.mp4']);
  await page.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d+/, { timeout: 60_000 });
  // Create was pressed before the files were in: they are waited for, and no other shots are taken.
  await expect(page.getByLabel('Name of the crossing')).toHaveValue('gardener to lily-pond');
  const id = page.url().split('/').pop()!;
  await jump(page, looked);
  await page.keyboard.press('Control+i');
  await page.keyboard.press('Control+i');
  const panel = page.getByRole('region', { name: 'Find people' });
  await expect(panel.getByRole('button', { name: 'Take person 1, in the middle' })).toBeVisible({
    timeout: 60_000,
  });
  await expect(panel.getByRole('combobox')).toHaveText('a seam on the trailing edge');
  await page.keyboard.press('Enter');
  const poses = async () => {
    await saved(page);
    const { document } = await storedCrossing(page, id);
    return Object.values(document.poses).flat();
  };
  expect((await poses()).map(({ frame, origin }) => [frame, origin])).toEqual([[looked, 'by hand']]);
  await page.keyboard.press('Control+Shift+ArrowRight');
  await idle(page);
  await jump(page, looked);
  await page.keyboard.press('Control+Shift+ArrowLeft');
  await idle(page);
  const carried = await poses();
  // The film's own truth, wherever the whole back is in the picture.
  const off = carried
    .map((pose) => ({ frame: pose.frame, px: offTruth(pose) }))
    .filter(({ px: [median] }) => median !== undefined);
  console.warn(
    off.map(({ frame, px: [median, p95] }) => `${frame}: ${median.toFixed(1)}, ${p95.toFixed(1)}`).join('; '),
  );
  expect(carried.length).toBeGreaterThanOrEqual(20);
  for (const {
    px: [median, p95],
  } of off) {
    expect(median).toBeLessThan(1.5);
    expect(p95).toBeLessThan(4);
  }
  // Each is one step.
  for (let k = 0; k < 3; k++) await page.keyboard.press('Control+z');
  expect(await poses()).toHaveLength(0);
  for (let k = 0; k < 3; k++) await page.keyboard.press('Control+y');
  expect(await poses()).toHaveLength(carried.length);

  await jump(page, looked);
  await page.keyboard.press('[');
  await jump(page, looked + 5);
  await page.keyboard.press(']');
  await page.getByRole('button', { name: /8 Export/ }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(page.getByText('Exported.')).toBeVisible({ timeout: 90_000 });
  const exports = (await (await page.request.get('/api/exports')).json()) as {
    id: string;
    crossingId: string;
  }[];
  const made = exports.find(({ crossingId }) => crossingId === id)!;
  const file = clipFile('passer-by.webm');
  writeFileSync(file, await (await page.request.get(`/api/exports/${made.id}/file`)).body());
  // Behind the back lies the pond, before it the gardener, as in their own films.
  const at = (source: string, frame: number, x: number, y: number) => [
    ...run('ffmpeg', ['-i', source, '-vf', `select=eq(n\\,${frame}),crop=8:8:${x}:${y},scale=1:1`, ...raw]),
  ];
  const raw = ['-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'];
  for (const [x, source, frame] of [
    [200, 'demo/footage/lily-pond.mp4', looked],
    [640, 'demo/footage/gardener.mp4', looked],
  ] as const) {
    const [own, wanted] = [at(file, 0, x, 400), at(source, frame, x, 400)];
    for (const [c, value] of own.entries()) expect(Math.abs(value - wanted[c])).toBeLessThan(8);
  }
});

test('a press takes who is there as a loop; where what sees people cannot be loaded it is said, and all else goes on', async ({
  page,
}) => {
  test.setTimeout(150_000);
  const id = await newCrossing(page, 'Taken');
  await openCrossing(page, id);
  await jump(page, looked);
  await page.keyboard.press('Control+i');
  const panel = page.getByRole('region', { name: 'Find people' });
  await expect(panel.getByRole('button', { name: /^Take person 1/ })).toBeVisible({ timeout: 60_000 });
  await panel.getByRole('combobox').click();
  await page.getByRole('option', { name: 'a loop about the person' }).click();
  await expect(page.locator('.MuiModal-root')).toHaveCount(0);
  await page.mouse.click(...(await screenOf(page, 100, 100)));
  await expect(panel.getByText('No one was found there.')).toBeVisible();
  await page.mouse.click(...(await screenOf(page, 640, 400)));
  await saved(page);
  const { document } = await storedCrossing(page, id);
  const person = Object.values(document.outlines).find(({ name }) => name === 'Person 1');
  expect(person).toMatchObject({ kind: 'loop', carriedBy: 'cutting', painted: false });

  await page.route('**/people/**', (route) => route.abort());
  const other = await newCrossing(page, 'Blind');
  await openCrossing(page, other);
  await jump(page, looked);
  await page.keyboard.press('Control+i');
  await expect(panel.getByText('Kiv cannot find people in this browser')).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('Escape');
  await expect(panel).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Draw a seam (L)' })).toBeVisible();
});
