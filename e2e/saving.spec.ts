import { expect, test } from '@playwright/test';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { demoCrossingId, newCrossing, openCrossing, saved, startServer, storedCrossing } from './support';

test('the server is killed while editing: nothing is lost', async ({ page }) => {
  const port = 4791;
  const data = mkdtempSync(path.join(tmpdir(), 'kiv-kill-'));
  const origin = `http://127.0.0.1:${port}`;
  let server = await startServer(port, data);
  try {
    await page.goto(`${origin}/crossings/${demoCrossingId}`);
    await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', '42', { timeout: 30_000 });
    await page.keyboard.press('d');
    await saved(page);
    server.kill('SIGKILL');
    for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+D');
    await page.keyboard.press('Control+z');
    await expect(page.getByTestId('save-state')).toContainText('4 changes wait in this browser');
    server = await startServer(port, data);
    await saved(page);
    const stored = (await (
      await page.request.get(`${origin}/api/crossings/${demoCrossingId}`)
    ).json()) as Awaited<ReturnType<typeof storedCrossing>>;
    expect(stored.history.map(({ label, undone }) => [label, undone])).toEqual([
      ['Move outline, frame 42', false],
      ['Move outline, frame 42', false],
      ['Move outline, frame 42', false],
      ['Move outline, frame 42', true],
    ]);

    // Killed again, and the page closed before the server is back: the browser still has it.
    server.kill('SIGKILL');
    await page.keyboard.press('Shift+D');
    await expect(page.getByTestId('save-state')).toContainText('1 change waits');
    const again = await page.context().newPage();
    await page.close();
    server = await startServer(port, data);
    await again.goto(`${origin}/crossings/${demoCrossingId}`);
    await expect(again.getByTestId('picture')).toHaveAttribute('data-shown-frame', '42', { timeout: 30_000 });
    const after = (await (
      await again.request.get(`${origin}/api/crossings/${demoCrossingId}`)
    ).json()) as typeof stored;
    expect(after.history).toHaveLength(4);
    const outline = Object.keys(after.document.outlines)[0];
    const x = (of: typeof stored) =>
      of.document.poses[outline].find((pose) => pose.frame === 72)!.coordinates[0];
    expect(x(after) - x(stored)).toBeCloseTo(10, 6);
  } finally {
    server.kill('SIGKILL');
  }
});

test('undo and redo survive a reload, without end', async ({ page }) => {
  const id = await newCrossing(page, 'History');
  await openCrossing(page, id);
  const offset = page.getByLabel('Its frame at crossing frame 0').first();
  await page.getByRole('button', { name: /2 Line up/ }).click();
  await page.getByRole('button', { name: 'Take the column of the outgoing shot in hand' }).click();
  for (const value of [3, 5, 9]) {
    await offset.fill(String(value));
    await offset.press('Enter');
  }
  await saved(page);
  await page.reload();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d/, { timeout: 30_000 });
  const undo = page.getByRole('button', { name: 'Undo' });
  for (let k = 0; k < 3; k++) await undo.click();
  await expect(undo).toBeDisabled();
  await saved(page);
  await page.reload();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d/, { timeout: 30_000 });
  const redo = page.getByRole('button', { name: 'Redo' });
  for (let k = 0; k < 2; k++) await redo.click();
  await saved(page);
  const { document, history } = await storedCrossing(page, id);
  expect(Object.values(document.layers).find((layer) => layer.role === 'outgoing')!.offset).toBe(5);
  expect(history.map((entry) => entry.undone)).toEqual([false, false, true]);
});

test('a second window is told, and overwrites nothing', async ({ page, context }) => {
  const id = await newCrossing(page, 'Two windows');
  await openCrossing(page, id);
  const second = await context.newPage();
  await openCrossing(second, id);
  const rename = async (on: typeof page, name: string) => {
    await on.getByLabel('Name of the crossing').fill(name);
    await on.keyboard.press('Enter');
  };
  await rename(page, 'Named in the first');
  await saved(page);
  await expect(second.getByText('Another window changed this crossing')).toBeVisible();
  await expect(second.getByLabel('Name of the crossing')).toHaveValue('Named in the first');

  // Both at once, the second cut off for a while: its change meets the same row and is set aside, not written over.
  await context.setOffline(false);
  await second.route('**/steps', (route) => route.abort());
  await second.route('**/revision', (route) => route.abort());
  await rename(second, 'Named in the second');
  await expect(second.getByTestId('save-state')).toContainText('1 change waits');
  await rename(page, 'Named in the first again');
  await saved(page);
  await second.unroute('**/steps');
  await expect(second.getByText(/set aside/)).toBeVisible();
  await expect(second.getByLabel('Name of the crossing')).toHaveValue('Named in the first again');
  expect((await storedCrossing(page, id)).document.crossing.name).toBe('Named in the first again');
});
