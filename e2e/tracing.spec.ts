import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { flattenOutline, nearestOnOutline } from '@/core/outline';
import {
  bringIn,
  clipFile,
  newCrossing,
  openCrossing,
  run,
  saved,
  screenOf,
  shownFrame,
  storedCrossing,
} from './support';

async function press(page: Page, x: number, y: number, pull?: [number, number]) {
  await page.mouse.move(...(await screenOf(page, x, y)));
  await page.mouse.down();
  if (pull) await page.mouse.move(...(await screenOf(page, x + pull[0], y + pull[1])), { steps: 3 });
  await page.mouse.up();
}

async function jump(page: Page, typed: string, frame: number) {
  await page.keyboard.type(typed);
  await page.keyboard.press('Enter');
  await shownFrame(page, frame);
}

test('a seam is drawn, moved on other frames, and the incoming shot appears behind it', async ({ page }) => {
  const id = await newCrossing(page, 'Traced by hand');
  await openCrossing(page, id);
  await jump(page, '56', 56);
  await page.keyboard.press('l');
  await press(page, 440, -10);
  await press(page, 350, 200, [-10, 60]);
  await press(page, 320, 730);
  await page.keyboard.press('Enter');
  await saved(page);
  let { document } = await storedCrossing(page, id);
  const [outline] = Object.values(document.outlines);
  expect(outline).toMatchObject({ kind: 'seam', name: 'Seam 1' });
  expect(outline.points).toHaveLength(3);
  const first = document.poses[outline.id][0];
  expect(first.frame).toBe(56);
  expect(Math.abs(first.coordinates[0] - 440)).toBeLessThan(2);
  expect(Math.abs(first.coordinates[10] - -10)).toBeLessThan(3);
  // It swept the smaller part, left of it on the screen: the first row of the matte is white there.
  expect(outline.sweptSide).toBe('right');

  // Dragging the line on another frame makes a pose there, by itself.
  await jump(page, '+8', 64);
  await page.keyboard.press('p');
  await page.mouse.move(...(await screenOf(page, 392, 95)));
  await page.mouse.down();
  await page.mouse.move(...(await screenOf(page, 632, 95)), { steps: 4 });
  await page.mouse.up();
  await saved(page);
  ({ document } = await storedCrossing(page, id));
  expect(document.poses[outline.id].map((pose) => pose.frame)).toEqual([56, 64]);
  expect(document.poses[outline.id][1].coordinates[0] - first.coordinates[0]).toBeCloseTo(240, -1);
  await expect(page.locator('#row-60').getByLabel('in-between')).toBeVisible();
  await expect(page.locator('#row-64').getByLabel('pose by hand')).toBeVisible();
  await expect(page.locator('#row-65').getByLabel('cut in full')).toBeVisible();

  // One point, nudged: 1, 10 and 0.1 px.
  await page.keyboard.press('r');
  await press(page, 680, -9);
  const before = (await storedCrossing(page, id)).document.poses[outline.id][1].coordinates;
  await page.keyboard.press('d');
  await page.keyboard.press('Shift+D');
  await page.keyboard.press('Alt+d');
  await saved(page);
  const after = (await storedCrossing(page, id)).document.poses[outline.id][1].coordinates;
  expect(after[0] - before[0]).toBeCloseTo(11.1, 6);
  expect(after.slice(2)).toEqual(before.slice(2));

  // Flip, copy, remove.
  await page.keyboard.press('f');
  await page.keyboard.press('Control+c');
  await jump(page, '70', 70);
  await page.keyboard.press('Control+v');
  await page.keyboard.press('Shift+N');
  await shownFrame(page, 64);
  await page.keyboard.press('x');
  await saved(page);
  ({ document } = await storedCrossing(page, id));
  expect(document.outlines[outline.id].sweptSide).toBe('left');
  expect(document.poses[outline.id].map((pose) => pose.frame)).toEqual([56, 70]);
  expect(document.poses[outline.id][1].coordinates).toEqual(after);
});

test('a seam is drawn along the picture’s edge with four presses; a stretch is taken back, another is straight', async ({
  page,
}) => {
  const { rows, edges } = JSON.parse(readFileSync('demo/footage/gardener-edge.json', 'utf8')) as {
    rows: number[];
    edges: (number | null)[][];
  };
  const truth = (y: number) => edges[54][rows.findIndex((row) => row >= y)]!;
  const id = await newCrossing(page, 'Along the edge');
  await openCrossing(page, id);
  await jump(page, '54', 54);
  await page.keyboard.press('p');
  await page.keyboard.press('l');
  await page.keyboard.press('c');
  await page.keyboard.press('c');
  await expect(page.getByRole('button', { name: 'Along the edge' })).toHaveAttribute('aria-pressed', 'true');
  // A hand that is some px off; the third press goes astray and is taken back.
  const hand = async (x: number, y: number) => page.mouse.click(...(await screenOf(page, x, y)));
  await hand(truth(8) + 4, 8);
  await hand(truth(240) - 4, 240);
  await hand(900, 300);
  await page.keyboard.press('Backspace');
  await hand(truth(470) + 4, 470);
  await hand(truth(708) - 3, 708);
  await page.keyboard.press('Enter');
  const pose = async (kind: 'seam' | 'loop') => {
    const { document } = await storedCrossing(page, id);
    const outline = Object.values(document.outlines).find((row) => row.kind === kind);
    return outline ? document.poses[outline.id][0] : null;
  };
  await expect.poll(() => pose('seam')).not.toBeNull();
  const seam = (await pose('seam'))!;
  expect(seam.coordinates.length / 6).toBeLessThan(28);
  const off: number[] = [];
  for (const [k, y] of rows.entries()) {
    const x = edges[54][k];
    if (x === null || y < 12 || y > 704) continue;
    off.push(nearestOnOutline(seam.coordinates, false, x, y).distance);
  }
  off.sort((a, b) => a - b);
  expect(off.length).toBeGreaterThan(60);
  // The edge is soft there, and hardly differs from what is behind it.
  expect(off[off.length >> 1]).toBeLessThan(2);
  expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(5);

  // With the switch off: Shift follows the edge, a press alone goes straight.
  await page.keyboard.press('c');
  await page.keyboard.press('o');
  await page.keyboard.down('Shift');
  await hand(truth(100), 100);
  await hand(truth(300), 300);
  await page.keyboard.up('Shift');
  await hand(900, 300);
  await hand(900, 100);
  await hand(truth(100), 100);
  await expect.poll(() => pose('loop')).not.toBeNull();
  const loop = (await pose('loop'))!;
  const corners = Array.from({ length: loop.coordinates.length / 6 }, (_, p) =>
    loop.coordinates.slice(6 * p, 6 * p + 2),
  );
  expect(corners.some(([x, y]) => Math.hypot(x - 900, y - 300) < 2)).toBe(true);
  expect(corners.some(([x, y]) => Math.hypot(x - truth(300), y - 300) < 12)).toBe(true);
});

test('a loop is drawn and reshaped; points are added and removed; a box selects', async ({ page }) => {
  const id = await newCrossing(page, 'Loop');
  await openCrossing(page, id);
  await page.keyboard.press('o');
  await press(page, 300, 200);
  await press(page, 700, 200);
  await press(page, 700, 500);
  await press(page, 300, 500);
  await press(page, 300, 200);
  await saved(page);
  const outlineOf = async () => {
    const { document } = await storedCrossing(page, id);
    const [outline] = Object.values(document.outlines);
    return { outline, pose: document.poses[outline.id][0] };
  };
  expect((await outlineOf()).outline).toMatchObject({ kind: 'loop', points: { length: 4 } });

  await page.mouse.dblclick(...(await screenOf(page, 500, 200)));
  await saved(page);
  expect((await outlineOf()).outline.points).toHaveLength(5);
  await page.keyboard.press('Delete');
  await saved(page);
  expect((await outlineOf()).outline.points).toHaveLength(4);

  await page.mouse.move(...(await screenOf(page, 640, 150)));
  await page.mouse.down();
  await page.mouse.move(...(await screenOf(page, 800, 560)), { steps: 3 });
  await page.mouse.up();
  await expect(page.getByText('2 of 4 points selected')).toBeVisible();
  await page.keyboard.press('Shift+S');
  await saved(page);
  const ys = (await outlineOf()).pose.coordinates.filter((_, i) => i % 6 === 1).map(Math.round);
  expect([ys[1] - ys[0], ys[2] - ys[3]].map((dy) => Math.abs(dy - 10) <= 2)).toEqual([true, true]);

  // Its only pose stays; too few points stay; both say why.
  await page.keyboard.press('x');
  await expect(page.getByText('only pose')).toBeVisible();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  await expect(page.getByText('A loop needs three points')).toBeVisible();
});

test('feather and spread change live and are saved; views and sheet follow', async ({ page }) => {
  const id = await newCrossing(page, 'Edge');
  await openCrossing(page, id);
  await page.keyboard.press('l');
  await press(page, 640, 10);
  await press(page, 640, 700);
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /4 Edge/ }).click();
  const feather = page.getByRole('textbox', { name: 'Feather inside' });
  await feather.fill('40');
  await feather.press('Enter');
  await page.getByRole('slider', { name: 'Spread' }).focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowRight');
  await saved(page);
  const [outline] = Object.values((await storedCrossing(page, id)).document.outlines);
  expect(outline).toMatchObject({ featherInside: 40, featherOutside: 0, spread: 2 });
  await feather.fill('-3');
  await expect(page.getByText('A number from 0 to 500')).toBeVisible();
  await feather.press('Escape');

  const frame = Number(await page.getByTestId('picture').getAttribute('data-shown-frame'));
  await page.getByRole('option', { name: `Frame ${frame - 3}`, exact: true }).click();
  await shownFrame(page, frame - 3);
  await page.keyboard.press('ArrowDown');
  await shownFrame(page, frame - 2);
  await page.locator('body').press('End');
  await shownFrame(page, 95);
});

test('stepping shows the neighbour, and playing keeps time and counts what it drops', async ({ page }) => {
  await openCrossing(page);
  await expect(page.locator('#row-42 [aria-label^="Covered"]')).toBeVisible();
  await page.waitForTimeout(2500);
  await page.getByTestId('picture').evaluate((element) => {
    const times: number[] = [];
    Object.assign(window, { times });
    new MutationObserver(() => times.push(performance.now())).observe(element, {
      attributes: true,
      attributeFilter: ['data-shown-frame'],
    });
  });
  const steps: number[] = [];
  for (let k = 1; k <= 15; k++) {
    const pressed = await page.evaluate(() => {
      const now = performance.now();
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowLeft', bubbles: true }));
      return now;
    });
    await shownFrame(page, 42 - k);
    steps.push(
      (await page.evaluate(() => (window as unknown as { times: number[] }).times.at(-1)!)) - pressed,
    );
  }
  // Its figure is taken in the bench; here only that nothing has gone wrong by an order of magnitude.
  expect(steps.sort((a, b) => a - b)[7]).toBeLessThan(500);

  await page.getByTestId('current-frame').evaluate((element) => {
    const shown: { frame: number; at: number }[] = [];
    Object.assign(window, { shown });
    new MutationObserver(() =>
      shown.push({ frame: Number.parseInt(element.textContent!), at: performance.now() }),
    ).observe(element, { characterData: true, childList: true, subtree: true });
  });
  await page.keyboard.press('Space');
  await page.waitForTimeout(2500);
  await page.keyboard.press('Space');
  const dropped = Number.parseInt((await page.getByTestId('dropped').textContent())!) || 0;
  const shown = await page.evaluate(
    () => (window as unknown as { shown: { frame: number; at: number }[] }).shown,
  );
  const running = shown.filter(({ frame }, k) => k > 0 && frame !== shown[k - 1].frame);
  expect(running.length).toBeGreaterThan(8);
  // It runs on from frame to frame in a loop of 66, at 25 frames a second whatever was left out.
  const steps25 = running.slice(1).map(({ frame }, k) => (frame - running[k].frame + 66) % 66);
  expect(Math.min(...steps25)).toBeGreaterThan(0);
  const advanced = steps25.reduce((sum, by) => sum + by, 0);
  const seconds = (running[running.length - 1].at - running[0].at) / 1000;
  // What is seen is from when it began to be drawn: as late as the longest wait between two pictures.
  const late = Math.max(...running.slice(1).map(({ at }, k) => at - running[k].at)) / 1000;
  expect(Math.abs(advanced - 25 * seconds)).toBeLessThan(2 + 25 * late);
  expect(dropped).toBeLessThan(advanced);
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
});

test('halving fills the longest gaps, thinning out takes what is not needed, and undo brings all back', async ({
  page,
}) => {
  const id = await newCrossing(page, 'Halving');
  await openCrossing(page, id);
  await page.keyboard.type('20');
  await page.keyboard.press('Enter');
  await shownFrame(page, 20);
  await page.keyboard.press('l');
  await press(page, 640, 10);
  await press(page, 640, 700);
  await page.keyboard.press('Enter');
  await page.keyboard.press('j');
  await expect(page.getByText('It takes two poses')).toBeVisible();
  await page.keyboard.type('28');
  await page.keyboard.press('Enter');
  await shownFrame(page, 28);
  for (let k = 0; k < 4; k++) await page.keyboard.press('Shift+D');
  for (const middle of [24, 22, 26]) {
    await page.keyboard.press('j');
    await shownFrame(page, middle);
  }
  // One of them is corrected: it stays, the others say nothing new.
  await page.keyboard.press('Shift+D');
  await saved(page);
  const frames = async () =>
    Object.values((await storedCrossing(page, id)).document.poses)[0].map(({ frame }) => frame);
  expect(await frames()).toEqual([20, 22, 24, 26, 28]);
  await page.getByText('More for its poses').click();
  await page.getByRole('button', { name: 'Thin out' }).click();
  await expect(page.getByText(/1 pose removed|2 poses removed/)).toBeVisible();
  await saved(page);
  expect(await frames()).toEqual([20, 24, 26, 28]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
  expect(await frames()).toEqual([20, 22, 24, 26, 28]);
});

test('drawn past the middle the seam still sweeps what lies behind the object; a guess is put to the person', async ({
  page,
}) => {
  const id = await newCrossing(page, 'Which side');
  await openCrossing(page, id);
  await page.keyboard.type('80');
  await page.keyboard.press('Enter');
  await shownFrame(page, 80);
  const { rows, edges } = JSON.parse(readFileSync('demo/footage/gardener-edge.json', 'utf8')) as {
    rows: number[];
    edges: number[][];
  };
  await page.keyboard.press('l');
  for (const k of [0, 30, 60, 89]) await page.mouse.click(...(await screenOf(page, edges[80][k], rows[k])));
  await page.keyboard.press('Enter');
  const note = page.getByRole('group', { name: 'The swept side' });
  await expect(note).toContainText('Swept: left of the line.');
  await expect(note).toContainText(/What lies right of the line moves right with the edge, 2\d px a frame/);
  await saved(page);
  // Walking down the screen, the left of the frame lies on the right hand.
  const side = async () => Object.values((await storedCrossing(page, id)).document.outlines)[0].sweptSide;
  expect(await side()).toBe('right');

  // Where nothing moves: both readings, until one is pressed.
  const shots = (await (await page.request.get('/api/shots')).json()) as { id: string; name: string }[];
  const shot = (wanted: string) => shots.find(({ name }) => name === wanted)!.id;
  const data = { name: 'Still', plan: 'pass-by', outgoingShotId: shot('Potting-shed door') };
  const still = await page.request.post('/api/crossings', {
    data: { ...data, incomingShotId: shot('Lily pond, night') },
  });
  await openCrossing(page, ((await still.json()) as { id: string }).id);
  await page.keyboard.press('Home');
  await shownFrame(page, 0);
  await page.keyboard.press('l');
  for (const y of [-10, 730]) await page.mouse.click(...(await screenOf(page, 300, y)));
  await page.keyboard.press('Enter');
  await expect(note).toContainText('Which side is swept? Only a guess yet');
  await page.keyboard.press('End');
  await expect(note).toBeVisible();
  await note.getByRole('button', { name: 'right of the line' }).click();
  await expect(note).toBeHidden();
  await saved(page);
  const stillId = page.url().split('/').pop()!;
  expect(Object.values((await storedCrossing(page, stillId)).document.outlines)[0].sweptSide).toBe('left');
});

test('a matte from elsewhere cuts as it is, or is traced into a loop on all its frames, shown before it is taken', async ({
  page,
}) => {
  const file = clipFile('round matte.mp4');
  const disc = "geq=lum='255*lte(hypot(X-200-6*N,Y-180),60)':cb=128:cr=128";
  const source = `color=black:s=640x360:r=25:d=0.4,format=yuv444p,${disc},format=yuv420p`;
  run('ffmpeg', ['-y', '-f', 'lavfi', '-i', source, '-c:v', 'libx264', '-crf', '4', file]);
  const { shot } = await bringIn(page, file);
  const id = await newCrossing(page, 'From a matte');
  await openCrossing(page, id);
  const chooseMatte = async () => {
    await page.getByRole('button', { name: 'Bring in a matte' }).click();
    await page.getByRole('combobox', { name: 'Matte' }).click();
    await page.getByRole('option', { name: shot.name }).click();
    const start = page.getByLabel('Matte starts on shot frame');
    await start.fill('30');
    await start.press('Enter');
  };
  await chooseMatte();
  await page.getByRole('button', { name: 'Cut by it as it is' }).click();
  await saved(page);
  await expect(page.getByText('lie on 30 to 39 of the shot', { exact: false })).toBeVisible();
  const cutting = async () => {
    const { document } = await storedCrossing(page, id);
    return Object.values(document.layers).map(({ matteId, matteFrom }) => [matteId, matteFrom]);
  };
  expect(await cutting()).toContainEqual([shot.id, 30]);
  // A disc of 120 px in 1280 × 720 is 4.9 %.
  const covered = page.locator('#row-30').getByRole('img', { name: /Covered/ });
  await expect(covered).toHaveAttribute('aria-label', 'Covered 4.9 %', { timeout: 20_000 });
  await page.getByRole('button', { name: 'Remove the matte' }).click();
  await saved(page);
  expect(await cutting()).not.toContainEqual([shot.id, 30]);
  await chooseMatte();
  await page.getByRole('button', { name: 'All frames' }).click();
  const offered = page.getByRole('region', { name: 'Outlines to take' });
  await expect(offered).toContainText('frames 30 to 39', { timeout: 20_000 });
  expect(Object.keys((await storedCrossing(page, id)).document.outlines)).toHaveLength(0);
  await page.keyboard.press('Enter');
  await saved(page);
  const { document } = await storedCrossing(page, id);
  const poses = Object.values(document.poses).flat();
  expect(poses).toHaveLength(10);
  for (const { frame, coordinates } of poses) {
    const line = flattenOutline(coordinates, true, 1, 0.1);
    // The matte is half as large as the shot.
    const middle = 2 * (200.5 + 6 * (frame - 30));
    for (let i = 0; i < line.length; i += 2)
      expect(Math.abs(Math.hypot(line[i] - middle, line[i + 1] - 361) - 120)).toBeLessThan(3);
  }
});
