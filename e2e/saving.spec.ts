import { expect } from '@playwright/test';
import { test } from './kiv';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  demoCrossingId,
  newCrossing,
  openCrossing,
  saved,
  screenOf,
  startServer,
  storedCrossing,
} from './support';

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
  const offset = page.getByLabel('Shot frame at crossing frame 0').first();
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
  await second.route('**/commits', (route) => route.abort());
  await second.route('**/changes?**', (route) => route.abort());
  await rename(second, 'Named in the second');
  await expect(second.getByTestId('save-state')).toContainText('1 change waits');
  await rename(page, 'Named in the first again');
  await saved(page);
  await second.unroute('**/commits');
  await expect(second.getByText(/of yours met the same points and was set aside/)).toBeVisible();
  await expect(second.getByLabel('Name of the crossing')).toHaveValue('Named in the first again');
  expect((await storedCrossing(page, id)).document.crossing.name).toBe('Named in the first again');
});

test('a refused edit is taken back, kept apart and can be done again; work goes on', async ({ page }) => {
  const id = await newCrossing(page, 'Refusals');
  await openCrossing(page, id);
  let refusals = 0;
  await page.route('**/commits', async (route) => {
    const { edit } = route.request().postDataJSON() as { edit?: { label: string } };
    if (edit?.label !== 'Rename the crossing') return route.continue();
    refusals++;
    return route.fulfill({ status: 413, json: { error: 'The body is too large.' } });
  });
  const name = page.getByLabel('Name of the crossing');
  await name.fill('Too large');
  await name.press('Enter');
  // The next one is made before the answer has come.
  await page.keyboard.press('t');
  await expect(
    page.getByText(/“Rename the crossing” could not be saved: The body is too large/),
  ).toBeVisible();
  await saved(page);
  expect(refusals).toBe(1);
  await expect(name).toHaveValue('Refusals');
  const stored = async () => (await storedCrossing(page, id)).document;
  expect(Object.values((await stored()).marks)).toHaveLength(1);
  await page.unroute('**/commits');

  // It outlives the visit.
  await openCrossing(page, id);
  await page.getByRole('button', { name: '1 set aside' }).click();
  const list = page.getByRole('list', { name: 'Edits set aside' });
  await expect(list).toContainText('Rename the crossing');
  await expect(list).toContainText('The body is too large.');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    list.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  const kept = JSON.parse(readFileSync(await file.path(), 'utf8')) as {
    what: string;
    step: { kind: string };
  };
  expect([kept.what, kept.step.kind]).toEqual(['Rename the crossing', 'do']);
  await list.getByRole('button', { name: 'Try again' }).click();
  await saved(page);
  await expect(page.getByRole('button', { name: 'set aside' })).toBeHidden();
  expect((await stored()).crossing.name).toBe('Too large');
});

test('an outline with the longest name is split and saved: names are cut before they are sent', async ({
  page,
}) => {
  const id = await newCrossing(page, 'Long names');
  await openCrossing(page, id);
  await page.keyboard.press('l');
  for (const y of [20, 300, 700]) await page.mouse.click(...(await screenOf(page, 500, y)));
  await page.keyboard.press('Enter');
  const field = page.getByRole('textbox', { name: 'Name of Seam 1' });
  await field.fill('n'.repeat(120));
  await field.press('Enter');
  await page.mouse.click(...(await screenOf(page, 500, 300)));
  await page.getByRole('button', { name: /^More for n/ }).click();
  await page.getByRole('menuitem', { name: 'Split at the selected point' }).click();
  await saved(page);
  const { document } = await storedCrossing(page, id);
  expect(Object.values(document.outlines).map(({ name }) => name)).toEqual([
    'n'.repeat(120),
    'n'.repeat(120),
  ]);
  await expect(page.getByRole('button', { name: 'set aside' })).toBeHidden();
});

test('what is deleted elsewhere while it is open: edits are kept apart, and it is said', async ({ page }) => {
  const id = await newCrossing(page, 'Gone elsewhere');
  await openCrossing(page, id);
  expect((await page.request.delete(`/api/crossings/${id}`)).status()).toBe(200);
  await page.keyboard.press('t');
  await expect(page.getByText(/deleted in another window.*set aside in this browser/)).toBeVisible();
  await expect(page.getByRole('button', { name: '1 set aside' })).toBeVisible();

  await page.route('**/api/exports', (route) =>
    route.request().method() === 'GET' && !gone
      ? route.fulfill({
          json: [
            {
              ...{
                id: crypto.randomUUID(),
                crossingId: null,
                crossingName: 'Older',
                revision: 3,
                format: 'webm',
              },
              ...{
                byteSize: 9,
                width: 2,
                height: 2,
                rateNum: 25,
                rateDen: 1,
                frameCount: 1,
                createdAt: '2026-01-01',
              },
            },
          ],
        })
      : route.continue(),
  );
  let gone = false;
  await page.goto('/exports');
  const remove = page.getByRole('button', { name: 'Delete the export of Older, revision 3' });
  await expect(remove).toBeVisible();
  gone = true;
  await remove.click();
  await expect(page.getByText('There is no such export; it may have been deleted.')).toBeVisible();
  await expect(remove).toBeHidden();
});
