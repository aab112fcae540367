import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import { openCrossing, saved, shownFrame, storedCrossing } from './support';

const doorId = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e11';

async function jump(page: Page, frame: number) {
  await page.keyboard.type(String(frame));
  await page.keyboard.press('Enter');
  await shownFrame(page, frame);
}

const keysOf = async (page: Page, channel: string) =>
  Object.values((await storedCrossing(page, doorId)).document.moves)
    .filter((row) => row.channel === channel && row.ownerId.endsWith('13'))
    .sort((a, b) => a.frame - b.frame);

test('values changed on frames become keys, are dragged in the lane, worked out as a push, taken back and found again', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await openCrossing(page, doorId);
  await page.getByRole('button', { name: /5 Move/ }).click();
  await page.getByRole('button', { name: 'Remove all keys' }).click();
  await saved(page);
  expect(await keysOf(page, 'size')).toEqual([]);

  // One key: the same everywhere. A second one: it moves.
  await jump(page, 20);
  const size = page.getByRole('textbox', { name: 'Size', exact: true });
  await size.fill('150');
  await size.press('Enter');
  await jump(page, 60);
  await expect(size).toHaveValue('150');
  await size.fill('300');
  await size.press('Enter');
  await jump(page, 40);
  await saved(page);
  expect((await keysOf(page, 'size')).map(({ frame, value }) => [frame, value])).toEqual([
    [20, 150],
    [60, 300],
  ]);
  // Eased, half-way in time is half-way in the logarithm.
  await expect(size).toHaveValue('212.1');
  await size.fill('0');
  await expect(page.getByText('A number from 1 to 2000')).toBeVisible();
  await size.press('Escape');

  // In the lane a key is dragged along the frames.
  await page.getByRole('combobox', { name: 'What the strip shows' }).click();
  await page.getByRole('option', { name: 'Size' }).click();
  await expect(page.locator('.MuiMenu-root')).toHaveCount(0);
  const lane = page.getByRole('group', { name: /Size over the crossing/ });
  const key = lane.getByRole('button', { name: 'Size 300, frame 60' });
  const [box, whole] = [(await key.boundingBox())!, (await lane.boundingBox())!];
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + (whole.width * 10) / 89, y, { steps: 5 });
  await page.mouse.up();
  await expect(lane.getByRole('button', { name: 'Size 300, frame 70' })).toBeVisible();
  // The first key's way to it is eased: its handle is pulled.
  await lane.getByRole('button', { name: 'Size 150, frame 20' }).click();
  const handle = lane.getByRole('button', { name: 'First handle of the way from frame 20' });
  const grip = (await handle.boundingBox())!;
  await page.mouse.move(grip.x + 6, grip.y + 6);
  await page.mouse.down();
  await page.mouse.move(grip.x + 60, grip.y - 4, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await keysOf(page, 'size'))[0].ease).toHaveLength(4);
  const [x1, y1] = (await keysOf(page, 'size'))[0].ease;
  expect(x1).toBeGreaterThan(0.5);
  expect(y1).toBeGreaterThan(0);
  await page.keyboard.press('Control+z');
  await lane.getByRole('button', { name: 'Size 300, frame 70' }).click();
  await page.keyboard.press('Delete');
  await expect(lane.getByRole('button', { name: /frame 70/ })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  expect((await keysOf(page, 'size')).map(({ frame }) => frame)).toEqual([20, 60]);

  // On the picture a corner scales, and the middle is taken elsewhere.
  await page.getByRole('button', { name: 'Remove all keys' }).click();
  await saved(page);
  const frameOf = page.getByRole('group', { name: 'Frame of what moves' });
  const corner = (await frameOf.getByLabel('Corner 3').boundingBox())!;
  const middle = (await frameOf.getByLabel('Middle').boundingBox())!;
  const [mx, my] = [middle.x + middle.width / 2, middle.y + middle.height / 2];
  const [cx, cy] = [corner.x + corner.width / 2, corner.y + corner.height / 2];
  await page.mouse.move(cx, cy);
  await page.mouse.down();
  await page.mouse.move((cx + mx) / 2, (cy + my) / 2, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  expect(Math.abs((await keysOf(page, 'size'))[0].value - 50)).toBeLessThan(1);
  await page.mouse.move(mx, my);
  await page.mouse.down();
  await page.mouse.move(mx + 60, my, { steps: 6 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await page.mouse.move(mx, my);
  await page.mouse.down();
  await page.mouse.move(mx + 60, my, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  expect((await keysOf(page, 'place'))[0].value).toBeGreaterThan(60);

  // Scaled about a still point, that stays where it is: here the upper left corner.
  await page.getByRole('button', { name: 'Remove all keys' }).click();
  await saved(page);
  const centreOf = async (label: string) => {
    const at = (await frameOf.getByLabel(label).boundingBox())!;
    return [at.x + at.width / 2, at.y + at.height / 2] as const;
  };
  const [upper, lower] = [await centreOf('Corner 1'), await centreOf('Corner 3')];
  await page.mouse.move(...(await centreOf('Still point')));
  await page.mouse.down();
  await page.mouse.move(...upper, { steps: 4 });
  await page.mouse.up();
  await page.mouse.move(...lower);
  await page.mouse.down();
  await page.mouse.move((lower[0] + upper[0]) / 2, (lower[1] + upper[1]) / 2, { steps: 6 });
  await page.mouse.up();
  await saved(page);
  expect(Math.abs((await keysOf(page, 'size'))[0].value - 50)).toBeLessThan(1);
  const after = await centreOf('Corner 1');
  expect(Math.hypot(after[0] - upper[0], after[1] - upper[1])).toBeLessThan(2);

  // The whole crossing's speed is that of all its shots.
  await page.getByRole('combobox', { name: 'What moves' }).click();
  await page.getByRole('option', { name: 'The whole picture' }).click();
  await page.getByRole('textbox', { name: 'Speed of all shots' }).fill('250');
  await page.getByRole('textbox', { name: 'Speed of all shots' }).press('Enter');
  await saved(page);
  const ramps = Object.values((await storedCrossing(page, doorId)).document.layers).map(({ ramp }) => ramp);
  expect(ramps.length).toBeGreaterThan(1);
  for (const ramp of ramps) expect(ramp).toEqual([70, 250]);
  await page.getByRole('button', { name: 'Remove ramp' }).click();
  await page.getByRole('combobox', { name: 'What moves' }).click();
  await page.getByRole('option', { name: /^Outgoing/ }).click();

  // Worked out: at the end nothing of the outgoing shot is left.
  await page.getByRole('button', { name: 'Remove all keys' }).click();
  await page.getByLabel('From frame').fill('30');
  await page.getByLabel('To frame').fill('80');
  await page.getByLabel('To frame').press('Enter');
  await page.getByRole('button', { name: 'Push in through the opening' }).click();
  await expect.poll(async () => (await keysOf(page, 'size')).map(({ frame }) => frame)).toEqual([30, 80]);
  expect((await keysOf(page, 'size'))[1].value).toBeGreaterThan(300);
  await saved(page);
  await page.reload();
  await openCrossing(page, doorId);
  await jump(page, 30);
  await page.keyboard.press('.');
  await shownFrame(page, 80);
  await page.keyboard.press(',');
  await shownFrame(page, 30);
  // Before anything is open there is nothing to push through; that is said.
  await page.getByRole('button', { name: /5 Move/ }).click();
  await page.getByLabel('From frame').fill('2');
  await page.getByLabel('To frame').fill('8');
  await page.getByLabel('To frame').press('Enter');
  await page.getByRole('button', { name: 'Push in through the opening' }).click();
  await expect(page.getByText(/nothing of this shot is cut away yet/)).toBeVisible();
});

test('a leaf swings by keys, colours are matched once they have been seen, a corner is pulled, keys are copied', async ({
  page,
}) => {
  test.setTimeout(90_000);
  const id = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e41';
  const rows = async () => Object.values((await storedCrossing(page, id)).document.moves);
  const of = async (channel: string, owner: string) =>
    (await rows())
      .filter((row) => row.channel === channel && row.ownerId.endsWith(owner))
      .map(({ frame, value }) => [frame, value])
      .sort((a, b) => a[0] - b[0]);
  await openCrossing(page, id);
  await page.getByRole('button', { name: /5 Move/ }).click();
  const mover = page.getByRole('combobox', { name: 'What moves' });
  await mover.click();
  await page.getByRole('option', { name: 'Leaf: Left leaf' }).click();
  const letGo = async () => {
    await expect(page.locator('.MuiMenu-root')).toHaveCount(0);
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  };
  await letGo();
  await jump(page, 40);
  const swing = page.getByRole('textbox', { name: 'Swing' });
  await expect(swing).toHaveValue('105');
  await swing.fill('30');
  await swing.press('Enter');
  await saved(page);
  expect(await of('swing', '44')).toEqual([
    [14, 0],
    [26, 105],
    [40, 30],
  ]);
  // The keys of one leaf are put in for the other.
  await page.getByRole('combobox', { name: 'What the strip shows' }).click();
  await page.getByRole('option', { name: 'Swing' }).click();
  await expect(page.locator('.MuiMenu-root')).toHaveCount(0);
  await page.getByRole('button', { name: 'Swing 30, frame 40' }).click();
  await page.keyboard.press('Control+c');
  await mover.click();
  await page.getByRole('option', { name: 'Leaf: Right leaf' }).click();
  await letGo();
  await page.keyboard.press('Control+v');
  await saved(page);
  expect(await of('swing', '45')).toContainEqual([40, 30]);

  // What is offered is seen, and taken only when it is.
  await mover.click();
  await page.getByRole('option', { name: /Outgoing/ }).click();
  await page.getByText('Colour, in light').click();
  await page.getByRole('button', { name: 'Match to the other shot' }).click();
  await expect(page.getByText(/Shown in the picture: exposure −/)).toBeVisible({ timeout: 30_000 });
  expect(await of('exposure', '43')).toEqual([]);
  await page.getByRole('button', { name: 'Take it' }).click();
  await saved(page);
  const [[, exposure]] = await of('exposure', '43');
  expect(exposure).toBeLessThan(-0.5);
  await expect(page.getByRole('textbox', { name: 'Exposure' })).toHaveValue(String(exposure));

  // With Alt a corner goes alone.
  await jump(page, 0);
  const corner = page.getByRole('group', { name: 'Frame of what moves' }).getByLabel('Corner 1');
  const box = (await corner.boundingBox())!;
  await page.keyboard.down('Alt');
  await page.mouse.move(box.x + 6, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + 46, box.y + 36, { steps: 5 });
  await page.mouse.up();
  await page.keyboard.up('Alt');
  await saved(page);
  const [[, across]] = await of('upper-left', '43');
  expect(across).toBeGreaterThan(40);
  expect(await of('size', '43')).toHaveLength(2);
  await page.reload();
  await openCrossing(page, id);
  expect(await of('upper-left', '43')).toHaveLength(1);
});

test('shots beneath cover the opening of a pull back, a layer follows another, a blur’s point is dragged', async ({
  page,
}) => {
  test.setTimeout(90_000);
  const [{ id }] = (
    (await (await page.request.get('/api/crossings')).json()) as { id: string; plan: string }[]
  ).filter(({ plan }) => plan === 'pull-back');
  await openCrossing(page, id);
  const held = async () => (await storedCrossing(page, id)).document;
  const of = (document: Awaited<ReturnType<typeof held>>, role: string) =>
    Object.values(document.layers).find((layer) => layer.role === role)!;
  await page.getByRole('button', { name: /5 Move/ }).click();
  await page.getByRole('combobox', { name: 'Shots beneath' }).click();
  await page.getByRole('option', { name: 'cover the opening' }).click();
  await page.getByRole('button', { name: 'Pull back out of it' }).click();
  const sizes = async (role: string) => {
    const pulled = await held();
    return Object.values(pulled.moves)
      .filter(({ channel, ownerId }) => channel === 'size' && ownerId === of(pulled, role).id)
      .sort((a, b) => a.frame - b.frame)
      .map(({ value }) => value);
  };
  await expect.poll(() => sizes('outgoing')).toHaveLength(2);
  const [above, beneath] = [await sizes('incoming'), await sizes('outgoing')];
  expect(beneath[0] / beneath[1]).toBeCloseTo(above[0] / above[1], 6);

  // One that follows: by how far is asked once it does; the other then no longer offers to follow it.
  const mover = page.getByRole('combobox', { name: 'What moves' });
  await mover.click();
  await page.getByRole('option', { name: /Outgoing/ }).click();
  await page.getByRole('button', { name: 'Remove all keys' }).click();
  await page.getByText('Follow another layer').click();
  await page.getByRole('combobox', { name: 'Moves with' }).click();
  await page.getByRole('option', { name: /Incoming/ }).click();
  const share = page.getByRole('textbox', { name: 'Share of its movement' });
  await share.fill('25');
  await share.press('Enter');
  await saved(page);
  const following = await held();
  expect(of(following, 'outgoing')).toMatchObject({
    followsId: of(following, 'incoming').id,
    followShare: 25,
  });
  await mover.click();
  await page.getByRole('option', { name: /Incoming/ }).click();
  await expect(page.getByText('Follow another layer')).toHaveCount(0);

  await page.getByRole('button', { name: 'Towards', exact: true }).click();
  const centre = page.getByLabel('Centre of blur towards a point');
  const box = (await centre.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 90, box.y + box.height / 2 + 40, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  const blurs = Object.values((await held()).moves).filter(({ channel }) => channel === 'blur-towards');
  expect(blurs.some(({ second, third }) => second < -80 && third > 40)).toBe(true);
  // Each is one step back.
  for (let k = 0; k < 5; k++) await page.keyboard.press('Control+z');
  await saved(page);
  expect(of(await held(), 'outgoing').followsId).toBeNull();
});
