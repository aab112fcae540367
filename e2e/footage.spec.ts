import { expect, test } from '@playwright/test';
import { readdirSync } from 'node:fs';
import path from 'node:path';
import { numberedClip } from './support';

test('files come in by dialog and by drop, are named, used and deleted', async ({ page }) => {
  const file = numberedClip('my-own.mp4', 50, ['-c:v', 'libx264', '-bf', '2']);
  await page.goto('/footage');
  await page.getByLabel('Video files to bring in').setInputFiles(file);
  await expect(page.getByText('my-own.mp4: In the footage')).toBeVisible();
  const card = page.getByRole('article', { name: 'my-own', exact: true });
  await expect(card).toContainText('320 × 180, 25 fps, 50 frames (2.00 s)');
  await expect(card).toContainText('Not used yet');
  await card.getByLabel('Name of the shot').fill('Counting blocks');
  await page.keyboard.press('Enter');
  const renamed = page.getByRole('article', { name: 'Counting blocks' });
  await renamed.getByRole('button', { name: 'Delete Counting blocks' }).click();
  await expect(renamed).toHaveCount(0);

  // In use: refused, with the place named.
  await page.getByRole('button', { name: 'Delete Gardener with barrow' }).click();
  await expect(page.getByText(/is used in .*“Glasshouse to lily pond”/)).toBeVisible();

  const transfer = await page.evaluateHandle(() => {
    const data = new DataTransfer();
    data.items.add(new File(['only words'], 'words.mp4', { type: 'video/mp4' }));
    return data;
  });
  await page.getByRole('main').dispatchEvent('drop', { dataTransfer: transfer });
  await expect(page.getByText('words.mp4: This is not a video file that Kiv can read.')).toBeVisible();
});

test('an upload is cancelled and leaves nothing behind', async ({ page }) => {
  const file = numberedClip('cancelled.mp4', 200, [
    '-vf',
    'noise=alls=60:allf=t',
    '-c:v',
    'libx264',
    '-crf',
    '4',
  ]);
  const kept = () =>
    ['footage', 'arriving'].flatMap((name) => readdirSync(path.join(process.env.KIV_TEST_DATA!, name)));
  const before = kept();
  await page.goto('/footage');
  const client = await page.context().newCDPSession(page);
  await client.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: 20_000,
  });
  await page.getByLabel('Video files to bring in').setInputFiles(file);
  await expect(page.getByText(/cancelled.mp4: \d+ %/)).toBeVisible();
  await page
    .getByRole('group', { name: 'Files on their way' })
    .getByRole('button', { name: 'Cancel' })
    .click();
  await expect(page.getByText('Cancelled; nothing was kept.')).toBeVisible();
  await expect.poll(kept).toEqual(before);
});
