import { expect, type Page } from '@playwright/test';
import { test } from './kiv';
import {
  demoCrossingId,
  newCrossing,
  openCrossing,
  saved,
  screenOf,
  shownFrame,
  storedCrossing,
} from './support';

// Which shots fit depends on all that are measured.
test.use({ alone: 'lining-up' });

/** The frame numbers that a row of the sheet shows for its shots, from the left. */
async function sourcesAt(page: Page, frame: number): Promise<string[]> {
  return page.locator(`#row-${frame} .source`).allTextContents();
}

async function layerOf(page: Page, id: string, role: string) {
  const { document } = await storedCrossing(page, id);
  return Object.values(document.layers).find((layer) => layer.role === role && layer.visible)!;
}

async function goTo(page: Page, frame: number) {
  await page.keyboard.type(String(frame));
  await page.keyboard.press('Enter');
  await shownFrame(page, frame);
}

test('a shot is slipped by its column and by keys, sped up, turned round, frozen and trimmed; the sheet proves it', async ({
  page,
}) => {
  const id = await newCrossing(page, 'Lining up');
  await openCrossing(page, id);
  await goTo(page, 20);
  await page.getByRole('button', { name: /2 Line up/ }).click();
  expect(await sourcesAt(page, 20)).toEqual(['20', '20']);

  // Three rows down: each frame comes three frames later. Escape gives a drag up.
  const cell = (await page.locator('#row-20 .source').nth(1).boundingBox())!;
  const [x, y] = [cell.x + cell.width / 2, cell.y + cell.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y + 50);
  await page.mouse.move(x, y + 3 * 34);
  expect(await sourcesAt(page, 20)).toEqual(['20', '17']);
  await page.mouse.up();
  expect(await sourcesAt(page, 20)).toEqual(['20', '17']);
  await shownFrame(page, 20);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y + 5 * 34);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect(await sourcesAt(page, 20)).toEqual(['20', '17']);
  await page.keyboard.press('Alt+ArrowUp');
  await page.keyboard.press('Alt+Shift+ArrowUp');
  expect(await sourcesAt(page, 20)).toEqual(['20', '28']);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  expect(await sourcesAt(page, 20)).toEqual(['20', '17']);

  // The frame in view keeps what it shows.
  const speed = page.getByRole('textbox', { name: 'Speed' });
  await speed.fill('200');
  await speed.press('Enter');
  expect(await Promise.all([19, 20, 21].map((frame) => sourcesAt(page, frame)))).toEqual([
    ['19', '15'],
    ['20', '17'],
    ['21', '19'],
  ]);
  await page.getByRole('button', { name: 'Backwards' }).click();
  expect(await Promise.all([19, 20, 21].map(async (frame) => (await sourcesAt(page, frame))[1]))).toEqual([
    '19',
    '17',
    '15',
  ]);
  await page.getByRole('button', { name: 'Backwards' }).click();
  await speed.fill('100');
  await speed.press('Enter');
  await page.getByRole('button', { name: 'Freeze from here' }).click();
  expect((await sourcesAt(page, 22))[1]).toBe('=17');
  await page.getByRole('button', { name: 'Unfreeze (17)' }).click();
  await page.getByRole('button', { name: 'Trim end here' }).click();
  expect(await Promise.all([20, 21].map(async (frame) => (await sourcesAt(page, frame))[1]))).toEqual([
    '17',
    '18',
  ]);
  // What is trimmed away is a handle.
  await expect(page.locator('#row-21 .source.spare')).toHaveText('18');
  await saved(page);
  expect(await layerOf(page, id, 'incoming')).toMatchObject({
    offset: -3,
    speed: 100,
    trimOut: 17,
    holdFrom: null,
  });
  await page.getByRole('button', { name: 'Remove trims' }).click();
  await speed.fill('20');
  await expect(page.getByText('A number from 25 to 800')).toBeVisible();
  await speed.press('Escape');

  // In, out, marks.
  await page.keyboard.press('[');
  await goTo(page, 60);
  await page.keyboard.press(']');
  await expect(page.getByText('Plays frames 20 to 60, 41 of 96.')).toBeVisible();
  await page.keyboard.press('u');
  await page.keyboard.press('t');
  await expect(page.locator('#row-60 .mark')).toHaveText(/Opens, Mark 1|Mark 1, Opens/);
  await page.getByLabel('Name of the mark at frame 60').first().fill('Barrow’s wheel');
  await page.keyboard.press('Enter');
  await saved(page);
  const { document } = await storedCrossing(page, id);
  expect(document.crossing).toMatchObject({ inFrame: 20, outFrame: 60 });
  expect(
    Object.values(document.marks)
      .map(({ name, frame }) => `${name} ${frame}`)
      .sort(),
  ).toContain('Opens 60');
  expect(Object.values(document.marks).some(({ name }) => name === 'Barrow’s wheel')).toBe(true);
});

test('outlines stay on their frames when the traced shot is slipped, and both shots are seen at once', async ({
  page,
}) => {
  await openCrossing(page);
  await goTo(page, 26);
  const covered = (frame: number) =>
    page.locator(`#row-${frame} [aria-label^="Covered"]`).getAttribute('aria-label');
  const before = await covered(26);
  await page.getByRole('button', { name: 'Take the column of the outgoing shot in hand' }).click();
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.locator('#row-27 [aria-label^="Covered"]')).toHaveAttribute('aria-label', before!);
  await page.keyboard.press('Control+z');
  await saved(page);
  for (const name of ['Overlay', 'Difference', 'Beside', 'Split']) {
    await page.keyboard.press('v');
    await expect(
      page.getByRole('toolbar', { name: 'Both shots' }).getByRole('button', { name }),
    ).toHaveAttribute('aria-pressed', 'true');
  }
  await page.getByRole('slider', { name: 'Place of the split line' }).focus();
  await page.keyboard.press('Home');
  await expect(page.getByRole('slider', { name: 'Place of the split line' })).toHaveValue('0');
  await page.keyboard.press('r');
  await expect(page.getByRole('toolbar', { name: 'Both shots' })).toHaveCount(0);
});

test('Kiv measures the movement, proposes the frames, finds what does not match, and mends it', async ({
  page,
}) => {
  await openCrossing(page, demoCrossingId);
  await page.getByRole('button', { name: /2 Line up/ }).click();
  await page.getByRole('button', { name: 'Measure the movement' }).click();
  // The trailing edge comes away from the border in frame 42 of the shot and is gone after 88: 12 and 58 here.
  await expect(page.getByText(/Proposed: opens at/)).toHaveText(/opens at 1[123] ?, closes at 5[789]/, {
    timeout: 90_000,
  });
  await expect(page.getByText('They do.')).toBeVisible({ timeout: 90_000 });
  await goTo(page, 12);
  await page.keyboard.press('y');
  await expect(page.locator('.mark', { hasText: 'Opens' })).toBeVisible();

  // The hidden shot has no column until it is in hand.
  await page.getByRole('button', { name: 'Take Nursery, by hand in hand' }).click();
  const findings = page.getByRole('list', { name: 'Findings' });
  await expect(findings).toContainText(/moves the opposite way to the other shot/, {
    timeout: 90_000,
  });
  await expect(findings).toContainText('times as fast as the other shot');
  await expect(findings).toContainText('is unsteady');
  await expect(findings).toContainText('has no picture on');
  await findings.getByRole('button', { name: 'Mirror it' }).click();
  await expect(findings).not.toContainText('the opposite way');
  await findings.getByRole('button', { name: /Run it at \d/ }).click();
  await expect(findings).not.toContainText('times as fast');
  const steady = findings.getByRole('button', { name: /Steady it/ });
  while (await steady.isVisible()) await steady.click();
  await expect(page.getByText(/strays [\d.]+ px, [\d.]+ px steadied; \d+ % cropped/)).toBeVisible();
  const freeze = findings.getByRole('button', { name: 'Freeze last frame' });
  if (await freeze.isVisible()) await freeze.click();
  await expect(page.getByText('They do.')).toBeVisible();

  // Of all footage that is measured the pond fits best in its own place, the nursery goes the other way; what is not can be.
  await page.getByRole('button', { name: /1 Shots/ }).click();
  await page
    .getByRole('list', { name: 'Layers' })
    .getByRole('button', { name: 'Lily pond, night', exact: true })
    .click();
  await page.getByRole('button', { name: 'Try other shots…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Try other shots as the incoming shot' });
  const fitting = dialog.getByRole('list', { name: 'Shots by how well they fit' }).getByRole('listitem');
  const nursery = fitting.filter({ hasText: 'Nursery, by hand' });
  await expect(nursery).toContainText('goes the opposite way: mirror it');
  await expect(fitting.first()).toContainText('Nursery, by hand');
  await expect(dialog.getByRole('button', { name: /^Measure \d+ shots$/ })).toBeVisible();
  // Three more beside the one that is there, and no fourth; all of them show the frame that is asked for.
  const pictures = dialog.getByRole('list', { name: 'Side by side' });
  await expect(pictures.getByRole('listitem')).toHaveCount(4);
  await expect(pictures.getByRole('listitem').first()).toContainText('In the crossing now');
  await expect(fitting.nth(3).getByRole('checkbox')).toBeDisabled();
  await fitting.nth(2).getByRole('checkbox').uncheck();
  await expect(pictures.getByRole('listitem')).toHaveCount(3);
  await expect(fitting.nth(3).getByRole('checkbox')).toBeEnabled();
  await dialog.getByRole('slider', { name: 'Crossing frame' }).focus();
  await page.keyboard.press('End');
  for (let k = 0; k < 25; k++) await page.keyboard.press('ArrowLeft');
  const shown = Number(await dialog.getByRole('slider').inputValue());
  await expect(pictures).toHaveAttribute('data-shown-frame', String(shown));
  const looks = await Promise.all(
    ['Lily pond, night', 'Nursery, by hand'].map((name) =>
      pictures.getByRole('img', { name: `The crossing with “${name}”` }).screenshot(),
    ),
  );
  expect(looks[0].equals(looks[1])).toBe(false);
  // What plays goes on in all of them; a slip by hand is used as it is, in one step.
  await dialog.getByRole('button', { name: 'Play (Space)' }).click();
  await expect(pictures).not.toHaveAttribute('data-shown-frame', String(shown));
  const slip = pictures.getByRole('textbox', { name: /^Shot frame on frame \d+$/ }).first();
  await slip.fill('900');
  await slip.press('Enter');
  await expect(pictures).toContainText(/A whole number from 0 to \d+/);
  await slip.fill('20');
  await slip.press('Enter');
  await expect(pictures).toContainText('Slipped by hand');
  const label = await slip.evaluate((input: HTMLInputElement) => input.labels![0].textContent);
  const opens = Number(/\d+/.exec(label)![0]);
  await dialog.getByRole('button', { name: 'Use Nursery, by hand' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole('combobox', { name: 'Shot', exact: true })).toHaveText('Nursery, by hand');
  await goTo(page, opens);
  expect(await sourcesAt(page, opens)).toContain('20');
  // As it was, for the other tests.
  const undo = page.getByRole('button', { name: 'Undo' });
  while (await undo.isEnabled()) await undo.click();
  await saved(page);
});

test('plans lay out their layers: an opening with a loop, a bridge with both edges, an arrival', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New crossing' }).click();
  await page.getByRole('radio', { name: 'bridge' }).click();
  for (const [label, shot] of [
    ['Outgoing shot', 'Gardener with barrow'],
    ['Passing shot', 'Trolley with crates'],
    ['Incoming shot', 'Lily pond, night'],
  ]) {
    await page.getByRole('radiogroup', { name: label }).getByRole('radio', { name: shot }).click();
  }
  await page.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByTestId('picture')).toHaveAttribute('data-shown-frame', /\d/, { timeout: 30_000 });
  const id = page.url().split('/').pop()!;
  const { document } = await storedCrossing(page, id);
  const roles = Object.values(document.layers)
    .sort((a, b) => b.position - a.position)
    .map(({ role }) => role);
  expect(roles).toEqual(['outgoing', 'passing', 'incoming']);
  await page.getByRole('button', { name: /1 Shots/ }).click();
  const layers = page.getByRole('list', { name: 'Layers' });
  await expect(layers.getByRole('listitem').nth(1)).toContainText('traced');
  await layers.getByRole('button', { name: 'Hide the outgoing shot' }).click();
  await layers.getByRole('button', { name: 'Show only the incoming shot' }).click();
  await layers.getByRole('button', { name: 'Show all layers' }).click();
  await layers.getByRole('button', { name: 'Show the outgoing shot' }).click();
  await layers.getByRole('button', { name: 'Lily pond, night' }).click();
  await page.getByRole('textbox', { name: 'Scale' }).fill('150');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Over 100 %: the picture is enlarged')).toBeVisible();
  await page.getByRole('button', { name: 'Remove layer' }).click();
  await expect(layers.getByRole('listitem')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await saved(page);

  // The one on the shelf: the crates cover the gardener, and uncover the pond.
  await openCrossing(page, demoCrossingId.replace('1e01', '1e21'));
  for (const [frame, covered] of [
    [20, '0.0'],
    [66, '100.0'],
  ] as const) {
    await goTo(page, frame);
    await expect(page.locator(`#row-${frame} [aria-label="Covered ${covered} %"]`)).toBeVisible();
  }
});

test('a shot put in another’s place is checked like the first, and the checks go on', async ({ page }) => {
  const id = await newCrossing(page, 'Another shot');
  await openCrossing(page, id);
  await page.keyboard.type('60');
  await page.keyboard.press('Enter');
  await shownFrame(page, 60);
  await page.keyboard.press('l');
  for (const y of [-10, 360, 730]) await page.mouse.click(...(await screenOf(page, 520, y)));
  await page.keyboard.press('Enter');
  const trolley = (await (await page.request.get('/api/shots')).json()) as { id: string; name: string }[];
  expect(trolley.map(({ name }) => name)).toContain('Trolley with crates');
  await page.getByRole('button', { name: /1 Shots/ }).click();
  await page.getByRole('button', { name: 'Take the column of the outgoing shot in hand' }).click();
  await page.getByLabel('Shot', { exact: true }).click();
  await page.getByRole('option', { name: 'Trolley with crates' }).click();
  await saved(page);
  await page.getByRole('button', { name: /7 Check/ }).click();
  // Not what was said before the exchange: it begins anew, and comes to its end.
  await expect(page.getByText('Checking every frame…')).toBeVisible();
  await expect(page.getByText('Every frame has been checked')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/shot is not part of|undefined|Cannot read/)).toBeHidden();
});

test('a cut of a timeline becomes a crossing: its shots are found by name, and lie in time as it has them', async ({
  page,
}) => {
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 25 });
  const clip = (name: string, start: number, frames: number, effects: object[] = []) => ({
    ...{ OTIO_SCHEMA: 'Clip.1', name, effects },
    source_range: { OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(frames) },
  });
  const slow = { OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 0.5 };
  const children = [
    clip('gone.mp4', 0, 10),
    clip('gardener.mp4', 20, 40),
    clip('Lily pond, night', 30, 100, [slow]),
  ];
  const track = { OTIO_SCHEMA: 'Track.1', kind: 'Video', children };
  const otio = JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    tracks: { OTIO_SCHEMA: 'Stack.1', children: [track] },
  });
  await page.goto('/');
  await page.getByRole('button', { name: 'New crossing' }).click();
  const file = page.getByLabel('Timeline file');
  await file.setInputFiles({
    name: 'letter.edl',
    mimeType: 'text/plain',
    buffer: Buffer.from('Dear editor'),
  });
  await expect(
    page.getByText('This is neither an OpenTimelineIO timeline nor a CMX 3600 list.'),
  ).toBeVisible();
  await file.setInputFiles({ name: 'film.otio', mimeType: 'application/json', buffer: Buffer.from(otio) });
  await expect(page.getByText('90 frames, the cut on frame 40')).toBeVisible();
  await page.getByRole('combobox', { name: 'Cut in film.otio' }).click();
  await page.getByRole('option', { name: /gone.mp4 → gardener.mp4/ }).click();
  await expect(page.getByText('Not among the footage: gone.mp4.')).toBeVisible();
  await page.getByRole('combobox', { name: 'Cut in film.otio' }).click();
  await page.getByRole('option', { name: /gardener.mp4 → Lily pond, night/ }).click();
  await page.getByRole('button', { name: 'Create' }).click();
  await page.waitForURL(/crossings\/[0-9a-f-]{36}/);
  const { document } = await storedCrossing(page, page.url().split('/').pop()!);
  const layerOf = (role: string) => Object.values(document.layers).find((layer) => layer.role === role);
  expect(document.crossing.length).toBe(90);
  expect(layerOf('outgoing')).toMatchObject({ offset: 20, speed: 100 });
  // At half speed 20 frames run by before the cut: on frame 40 it shows frame 30.
  expect(layerOf('incoming')).toMatchObject({ offset: 10, speed: 50, reverse: false });
  expect(Object.values(document.marks)).toMatchObject([{ frame: 40, name: 'Cut' }]);
});

test('lines along what is straight turn a shot level and undo its lens; slowed, its frames are mixed', async ({
  page,
}) => {
  const id = await newCrossing(page, 'Levelled');
  await openCrossing(page, id);
  const outgoing = async () =>
    Object.values((await storedCrossing(page, id)).document.layers).find(({ role }) => role === 'outgoing')!;
  await page.getByRole('button', { name: /1 Shots/ }).click();
  await page.getByText('Gardener with barrow').first().click();
  await page.getByRole('button', { name: 'Level, straighten…' }).click();
  // A post that leans: from (400, 100) to (420, 600), 2.29°; a press twice ends its line.
  const press = async (x: number, y: number) => page.mouse.click(...(await screenOf(page, x, y)));
  await press(400, 100);
  await press(420, 600);
  await press(420, 600);
  const turn = page.getByRole('button', { name: /^Turn by/ });
  await expect(turn).toHaveText(/Turn by [+−]2\.\d+°/);
  await turn.click();
  await saved(page);
  expect(Math.abs((await outgoing()).turn)).toBeCloseTo((Math.atan(20 / 500) * 180) / Math.PI, 0);
  expect((await outgoing()).scale).toBeGreaterThan(104);
  await expect(page.getByRole('button', { name: 'Level and upright' })).toBeDisabled();

  // Taken back, then an edge that bows outwards near the top, ended by key.
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Remove last point' }).click();
  for (const [x, y] of [
    [100, 120],
    [640, 80],
    [1180, 120],
  ])
    await press(x, y);
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Lines bow by 1\d\.\d px/)).toBeVisible();
  await page.getByRole('button', { name: 'Straighten', exact: true }).click();
  await saved(page);
  const { lens } = await outgoing();
  expect(lens).toBeLessThan(-0.05);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('group', { name: 'Level and straighten' })).toHaveCount(0);
  // A lens beyond what can be is refused where it is typed.
  const field = page.getByRole('textbox', { name: 'Lens' });
  await field.fill('-90');
  await expect(page.getByText(/A number from .70 to 50/)).toBeVisible();
  await field.press('Escape');
  await page.getByRole('button', { name: /2 Line up/ }).click();
  await page.getByRole('button', { name: 'Take Gardener with barrow in hand' }).click();
  await page.getByRole('textbox', { name: 'Speed' }).fill('50');
  await page.getByRole('textbox', { name: 'Speed' }).press('Enter');
  await page.getByRole('combobox', { name: 'Between two frames' }).click();
  await page.getByRole('option', { name: 'A mix of both' }).click();
  await saved(page);
  expect((await outgoing()).betweens).toBe('mixed');
  await expect(page.getByTitle('Mixed with the next frame').first()).toBeVisible();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  await page.reload();
  expect(await outgoing()).toMatchObject({ lens, betweens: 'nearest', speed: 100 });
});
