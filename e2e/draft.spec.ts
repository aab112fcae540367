import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { newCrossing, offTruth, openCrossing, saved, shownFrame, storedCrossing } from './support';

const decided = (page: Page) => page.getByRole('list', { name: 'What was decided' }).getByRole('listitem');

const drafted = (page: Page) =>
  expect(page.getByRole('button', { name: 'Draft the rest' })).toBeVisible({ timeout: 150_000 });

test('two shots in, a first version out: drafted at one press, each decision undone alone, kept over a reload', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await page.goto('/');
  await page.getByRole('button', { name: 'New crossing' }).click();
  const choose = (role: string, shot: string) =>
    page.getByRole('radiogroup', { name: role }).getByRole('radio', { name: shot }).click();
  await choose('Outgoing shot', 'Gardener with barrow');
  await choose('Incoming shot', 'Lily pond, night');
  await page.getByRole('button', { name: 'Draft it', exact: true }).click();
  await page.waitForURL(/crossings\/[0-9a-f-]+$/);
  const id = page.url().split('/').at(-1)!;
  await drafted(page);
  await saved(page);

  const { document } = await storedCrossing(page, id);
  const marks = Object.fromEntries(Object.values(document.marks).map(({ kind, frame }) => [kind, frame]));
  // As the drawing of the demo has it.
  expect(Math.abs(marks.opens - 42)).toBeLessThanOrEqual(2);
  expect(Math.abs(marks.closes - 87)).toBeLessThanOrEqual(2);
  expect(document.crossing).toMatchObject({ plan: 'pass-by', outFrame: null });
  expect(Math.abs(document.crossing.inFrame - 17)).toBeLessThanOrEqual(2);
  const [outline] = Object.values(document.outlines);
  expect(outline).toMatchObject({ kind: 'seam', sweptSide: 'right' });
  expect(outline.shutter).toBeGreaterThan(0);
  const near = document.poses[outline.id]
    .filter(({ frame }) => frame >= 48 && frame <= 70)
    .filter((pose) => offTruth(pose)[1] < 3);
  expect(near.length).toBeGreaterThanOrEqual(20);
  expect(Object.values(document.pieces)).toHaveLength(1);
  await shownFrame(page, document.crossing.inFrame);
  const all = await decided(page).count();
  expect(all).toBeGreaterThanOrEqual(7);

  const { violations } = await new AxeBuilder({ page }).include('#step-panel').analyze();
  const grave = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(grave.map(({ id: rule }) => rule)).toEqual([]);

  // One alone, whatever came after it.
  await page.getByRole('button', { name: /^Undo this: Plays frames/ }).click();
  await expect(decided(page)).toHaveCount(all - 1);
  await saved(page);
  await page.reload();
  await page.getByRole('button', { name: /^Draft:/ }).click();
  await expect(decided(page)).toHaveCount(all - 1, { timeout: 30_000 });
  expect((await storedCrossing(page, id)).document.crossing).toMatchObject({ inFrame: 0, outFrame: null });
  // With those that rest on it; and all back at once.
  await page.getByRole('button', { name: /^Undo this: Seam 1 begun/ }).click();
  await expect(page.getByText(/depend.* on it .* undone as well/)).toBeVisible();
  await saved(page);
  expect((await storedCrossing(page, id)).document.outlines).toEqual({});
  await page.keyboard.press('Control+z');
  await expect(decided(page)).toHaveCount(all - 1);
  await saved(page);
  expect(Object.keys((await storedCrossing(page, id)).document.outlines)).toHaveLength(1);
  // What is there is not decided again, only what is not.
  await page.keyboard.press('Control+Enter');
  await expect(decided(page)).toHaveCount(all, { timeout: 60_000 });
  await expect(decided(page).last()).toContainText('Plays frames');
});

test('a draft is stopped with Esc: what is done stays, and it goes on from there', async ({ page }) => {
  test.setTimeout(180_000);
  const id = await newCrossing(page, 'Stopped');
  await openCrossing(page, id);
  // By its key, also while a button has the focus.
  await page.getByRole('button', { name: /^Draft:/ }).click();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('progressbar', { name: /^Carrying/ })).toBeVisible({ timeout: 90_000 });
  await page.keyboard.press('Escape');
  await expect(
    page.getByText('Stopped. What is done stays; the next draft goes on from here.'),
  ).toBeVisible();
  await saved(page);
  const { document } = await storedCrossing(page, id);
  expect(Object.values(document.marks)).toHaveLength(2);
  expect(Object.values(document.outlines)).toHaveLength(1);
  expect(Object.values(document.pieces)).toHaveLength(0);
  await expect(page.getByRole('button', { name: 'Draft the rest' })).toBeEnabled();
});
