import { randomUUID } from 'node:crypto';
import { easeInOut } from '@/core/time/easing';
import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import {
  clipFile,
  demoCrossingId,
  newCrossing,
  openCrossing,
  run,
  saved,
  screenOf,
  shownFrame,
  storedCrossing,
  uploadFile,
} from './support';

async function drag(page: Page, ...places: [number, number][]) {
  await page.mouse.move(...(await screenOf(page, ...places[0])));
  await page.mouse.down();
  for (const place of places.slice(1))
    await page.mouse.move(...(await screenOf(page, ...place)), { steps: 6 });
  await page.mouse.up();
}

async function jump(page: Page, frame: number) {
  await page.keyboard.type(String(frame));
  await page.keyboard.press('Enter');
  await shownFrame(page, frame);
}

test('outlines are drawn freehand and as shapes, shaped with a box, and combined', async ({ page }) => {
  const id = await newCrossing(page, 'Shapes');
  await openCrossing(page, id);
  await jump(page, 50);
  const stored = async () => {
    await saved(page);
    const { document } = await storedCrossing(page, id);
    const outlines = Object.values(document.outlines).sort((a, b) => a.position - b.position);
    return { outlines, poses: document.poses };
  };
  // A trail becomes a seam of few points.
  await page.keyboard.press('l');
  await page.keyboard.press('c');
  await drag(page, [500, -10], [470, 150], [430, 300], [440, 450], [480, 600], [490, 740]);
  let { outlines, poses } = await stored();
  expect(outlines[0]).toMatchObject({ kind: 'seam', name: 'Seam 1' });
  expect(outlines[0].points.length).toBeLessThanOrEqual(7);
  await page.keyboard.press('c');
  await page.keyboard.press('Shift+R');
  await drag(page, [700, 200], [900, 400]);
  await page.keyboard.press('Shift+O');
  await drag(page, [950, 100], [1150, 300]);
  ({ outlines, poses } = await stored());
  expect(outlines.map(({ kind, points }) => [kind, points.length]).slice(1)).toEqual([
    ['loop', 4],
    ['loop', 4],
  ]);
  // The ellipse, half as large again about its middle by a corner of the box.
  await page.keyboard.press('Shift+E');
  await drag(page, [1150, 300], [1200, 350]);
  ({ poses } = await stored());
  const ellipse = poses[outlines[2].id][0].coordinates;
  expect(ellipse[1]).toBeCloseTo(50, -1);
  expect(ellipse[6]).toBeCloseTo(1200, -1);
  // A quarter turn by the knob brings its right point to the bottom.
  const box = { top: 50, middle: 1050 };
  const scale = (await screenOf(page, 100, 0))[0] - (await screenOf(page, 0, 0))[0];
  const knob = box.top - (3 * 9 * 100) / scale;
  await drag(page, [box.middle, knob], [1300, 200]);
  ({ poses } = await stored());
  expect(poses[outlines[2].id][0].coordinates[7]).toBeCloseTo(350, -1);

  // On another frame, for all poses: an offset goes to both.
  await page.keyboard.press('e');
  await jump(page, 60);
  await page.keyboard.press('i');
  await page.getByText('Shape in numbers').click();
  await page.getByRole('button', { name: 'All poses' }).click();
  await page.keyboard.press('Shift+D');
  ({ poses } = await stored());
  expect(poses[outlines[2].id].map(({ frame }) => frame)).toEqual([50, 60]);
  const [first, second] = poses[outlines[2].id].map(({ coordinates }) => coordinates[0]);
  expect(first).toBeCloseTo(second, 3);
  await page.getByRole('button', { name: 'This frame' }).click();

  // It takes away from what the others cut, is locked, and put last but one.
  await page.getByLabel('Combine with outlines above').click();
  await page.getByRole('option', { name: 'takes away from it' }).click();
  await page.getByRole('button', { name: 'Lock Loop 2' }).click();
  await page.keyboard.press('Shift+D');
  await page.getByRole('button', { name: 'More for Loop 2' }).click();
  await page.getByRole('menuitem', { name: 'Move up' }).click();
  ({ outlines, poses } = await stored());
  expect(outlines.map(({ name }) => name)).toEqual(['Seam 1', 'Loop 2', 'Loop 1']);
  expect(outlines[1]).toMatchObject({ combine: 'take away', locked: true, afterLast: 'empty' });
  expect(poses[outlines[1].id][0].coordinates[0]).toBeCloseTo(first, 6);

  // Frames 50 to 60 selected: their in-betweens held.
  await page.getByRole('button', { name: 'Unlock Loop 2' }).click();
  await page.locator('#row-58').click();
  await page.locator('#row-60').click({ modifiers: ['Shift'] });
  await expect(page.getByText('Frames 58 to 60 are selected')).toBeVisible();
  await page.getByRole('button', { name: 'Poses 1 earlier' }).click();
  ({ outlines, poses } = await stored());
  expect(poses[outlines[1].id].map(({ frame }) => frame)).toEqual([50, 59]);
});

test('Kiv finds what is wrong with a trace, mends it, measures the edge and matches it', async ({ page }) => {
  test.setTimeout(150_000);
  const id = demoCrossingId;
  const { document: carried, revision } = await storedCrossing(page, id);
  const [outlineId] = Object.keys(carried.outlines);
  // With a pose on every fourth frame only, the in-betweens are off.
  const changes = carried.poses[outlineId]
    .filter(({ frame }) => frame % 4 !== 0)
    .map((pose) => ({ table: 'pose', id: pose.id, before: pose, after: null }));
  const edit = { id: randomUUID(), label: 'Take poses away', changes };
  const taken = await page.request.post(`/api/crossings/${id}/commits`, {
    data: { requestId: randomUUID(), baseRevision: revision, kind: 'do', edit },
  });
  expect(taken.ok()).toBe(true);
  await openCrossing(page, id);
  const { document: before } = await storedCrossing(page, id);
  await page.getByRole('button', { name: /7 Check/ }).click();
  const findings = page.getByRole('list', { name: 'Findings' });
  await expect(page.getByText('Every frame has been checked')).toBeVisible({ timeout: 60_000 });
  await expect(findings).toContainText(/between poses the line drifts \d\.\d px off the edge/);
  await expect(findings).toContainText('the trace stops before the edge has left');
  await findings.getByRole('button', { name: 'Make a pose on the edge' }).first().click();
  await expect
    .poll(async () => (await storedCrossing(page, id)).document.poses[outlineId].length, { timeout: 20_000 })
    .toBe(before.poses[outlineId].length + 1);
  await page.getByRole('button', { name: 'Contact sheet of the edge' }).click();
  await expect(page.getByRole('dialog', { name: 'Contact sheet of the edge' })).toBeVisible();
  await page.getByRole('button', { name: 'Strip of frame 40' }).click();
  await shownFrame(page, 40);
  const lit = page.getByRole('button', { name: 'Strip of frame 40' }).locator('canvas');
  await expect
    .poll(() =>
      lit.evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return new Set(data.filter((_, i) => i % 4 === 0)).size;
      }),
    )
    .toBeGreaterThan(20);
  await page.getByRole('button', { name: 'Close' }).click();

  await page.getByRole('button', { name: /4 Edge/ }).click();
  const width = page.locator('dl dd').first();
  await expect(width).toHaveText(/1[0-9]\.\d px/, { timeout: 20_000 });
  await page.getByRole('button', { name: 'Match', exact: true }).click();
  const px = async (row: number) => Number.parseFloat((await page.locator('dl dd').nth(row).textContent())!);
  await expect
    .poll(async () => Math.abs((await px(0)) - (await px(1))), { timeout: 20_000 })
    .toBeLessThan(0.4);
  await saved(page);
  const { document: after } = await storedCrossing(page, id);
  expect(after.outlines[outlineId].featherInside).toBeGreaterThan(8);
  // As it was, for those who come after.
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await storedCrossing(page, id)).document.poses).toEqual(carried.poses);
});

test('a board is keyed by picking its colour, a hand held in, and the incoming shot appears on it', async ({
  page,
}) => {
  // A board over a quarter of a brown wall, with a blot of the wall's brown on it.
  const file = clipFile('board.mp4');
  const box = (x: number, y: number, w: number, h: number, colour: string) =>
    `drawbox=x=${x}:y=${y}:w=${w}:h=${h}:color=${colour}@1:t=fill`;
  run('ffmpeg', [
    ...[
      '-y',
      '-f',
      'lavfi',
      '-i',
      `color=c=0x8a5a4a:s=640x360:r=25:d=1.2,${box(160, 90, 320, 180, '0x20a040')},noise=alls=6`,
    ],
    ...['-c:v', 'libx264', '-crf', '14', '-pix_fmt', 'yuv420p', file],
  ]);
  const { id: board } = await uploadFile(page, file);
  const shots = (await (await page.request.get('/api/shots')).json()) as { id: string; name: string }[];
  const response = await page.request.post('/api/crossings', {
    data: {
      ...{ name: 'On the board', plan: 'keyed board', outgoingShotId: board },
      incomingShotId: shots.find(({ name }) => name.startsWith('Lily'))!.id,
    },
  });
  const { id } = (await response.json()) as { id: string };
  await openCrossing(page, id);
  await expect(page.getByText('Pick the colour of the board')).toBeVisible();
  await page.getByRole('button', { name: 'Pick a colour' }).click();
  await page.mouse.click(...(await screenOf(page, 640, 360)));
  const keys = async () => Object.values((await storedCrossing(page, id)).document.chromas);
  await expect.poll(async () => (await keys()).length).toBe(1);
  const [key] = await keys();
  // BT.601 or 709, the board's green lies far to one side of both.
  expect(Math.hypot(key.cb - 128, key.cr - 128)).toBeGreaterThan(35);
  const covered = page.locator('#row-12').getByRole('img', { name: /Covered/ });
  await expect(covered).toHaveAttribute('aria-label', /Covered (24|25)\.\d %/, { timeout: 20_000 });
  // A loop over a quarter of the board holds a hand in.
  await page.keyboard.press('Shift+R');
  await drag(page, [320, 180], [640, 360]);
  await page.getByLabel('Combine with outlines above').click();
  await page.getByRole('option', { name: 'takes away from it' }).click();
  await page.getByLabel('Cut after').click();
  await page.getByRole('option', { name: 'as posed' }).click();
  await page.getByLabel('Cut before').click();
  await page.getByRole('option', { name: 'as posed' }).click();
  await expect(covered).toHaveAttribute('aria-label', /Covered 1[89]\.\d %/, { timeout: 20_000 });
  await page.getByRole('button', { name: 'Remove key', exact: true }).click();
  await saved(page);
  expect((await storedCrossing(page, id)).document.chromas).toEqual({});
});

test('a copied pose goes to another outline, shot and crossing where it fits; eased in-betweens last', async ({
  page,
}) => {
  const id = await newCrossing(page, 'Copied poses');
  await openCrossing(page, id);
  await jump(page, 50);
  await page.keyboard.press('Shift+R');
  await drag(page, [300, 200], [500, 400]);
  await page.keyboard.press('Control+c');
  await jump(page, 60);
  await page.keyboard.press('Control+v');
  await page.keyboard.press('Shift+D');
  await jump(page, 50);
  await page.getByRole('button', { name: 'Eased' }).click();
  await saved(page);
  let { document } = await storedCrossing(page, id);
  const [loop] = Object.values(document.outlines);
  const [first, second] = document.poses[loop.id];
  expect([first.frame, first.onward, second.frame]).toEqual([50, 'eased', 60]);
  expect(second.coordinates[0] - first.coordinates[0]).toBeCloseTo(10, 6);

  // A page later, in another crossing: an outline of as many points takes it, one of more says why not.
  const other = await newCrossing(page, 'Copied to');
  await openCrossing(page, other);
  await jump(page, 20);
  await page.keyboard.press('Shift+O');
  await drag(page, [700, 100], [900, 300]);
  await page.keyboard.press('Control+v');
  await saved(page);
  ({ document } = await storedCrossing(page, other));
  const [ellipse] = Object.values(document.outlines);
  expect(document.poses[ellipse.id]).toMatchObject([{ frame: 20, coordinates: first.coordinates }]);
  await page.keyboard.press('l');
  for (const x of [600, 610, 620, 630, 640]) {
    const [px, py] = await screenOf(page, x, 100 + (x - 600) * 12);
    await page.mouse.click(px, py);
  }
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+v');
  await expect(page.getByText(/The copied pose has 4 points and Seam 1 has 5/)).toBeVisible();
});

test('eased is what the browser’s own ease-in-out is', async ({ page }) => {
  // W3C, CSS Easing Functions Level 1, as Chromium has it.
  const shares = Array.from({ length: 21 }, (_, k) => k / 20);
  const own = await page.evaluate((all) => {
    const animation = document.documentElement.animate([], { duration: 1000, easing: 'ease-in-out' });
    animation.pause();
    return all.map((share) => {
      animation.currentTime = Math.min(999.999, share * 1000);
      return animation.effect!.getComputedTiming().progress!;
    });
  }, shares);
  shares.forEach((share, k) => expect(Math.abs(easeInOut(share) - own[k])).toBeLessThan(1e-4));
});
