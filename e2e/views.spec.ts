import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { openCrossing } from './support';

/** @param rules those to look for; all by default. */
async function seriousProblems(page: Page, rules?: string[]) {
  // Axe runs inside the page, whose policy keeps foreign scripts out: Playwright puts it in past the policy.
  const { violations } = await (
    rules ? new AxeBuilder({ page }).withRules(rules) : new AxeBuilder({ page })
  ).analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html.slice(0, 160)).join(' | ')}`);
}

test('axe finds no serious problem on any view, in paper and in the dim room', async ({ page }) => {
  test.setTimeout(240_000);
  for (const room of ['paper', 'dim']) {
    // The dim room only has other colours.
    const rules = room === 'dim' ? ['color-contrast'] : undefined;
    await page.goto('/');
    await page.evaluate((look) => localStorage.setItem('kiv-look', look), room);
    for (const place of ['/', '/footage', '/exports']) {
      await page.goto(place);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await page.waitForTimeout(600);
      expect(await seriousProblems(page, rules), `${place} ${room}`).toEqual([]);
    }
    await openCrossing(page);
    for (const step of ['1 Shots', '2 Line up', '3 Trace', '4 Edge', '5 Check', '6 Export']) {
      const button = page.getByRole('button', { name: new RegExp(step) });
      if ((await button.getAttribute('aria-expanded')) === 'false') await button.click();
      await page.waitForTimeout(400);
      expect(await seriousProblems(page, rules), `${step} ${room}`).toEqual([]);
    }
    await page.keyboard.press('v');
    await page.waitForTimeout(300);
    expect(await seriousProblems(page, rules), `both ${room}`).toEqual([]);
    await page.keyboard.press('?');
    await page.waitForTimeout(400);
    expect(await seriousProblems(page, rules), `keys ${room}`).toEqual([]);
  }
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
  await expect(page.getByRole('img', { name: 'Middle frame of the result' }).first()).toBeVisible();
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
