import type { Browser, Page } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { plainOutline, plainPose, type PoseRow } from '../src/core/document/tables';
import type { OpenedCrossing } from '../src/wire/answers';
import { type Figure, median } from './figure';

const demo = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
const [poses, points, rows] = [2000, 60, 10_000];
/** Poses of the crossing that stepping is held against: as many points, ten frames apart. */
const fewPoses = 10;
/** As many as the server answers with. */
const smallEdits = 210;

/**
 * A crossing with many poses and many rows: opening it on the server, stepping through it against the demo's handful
 * of poses, scrolling its sheet; and how long a dragged point takes to be seen in the demo.
 *
 * @param stepTimes from key to picture, ms, in the page as it stands.
 * @param longestTask of the page since it was last asked, ms.
 */
export async function benchMany(
  browser: Browser,
  origin: string,
  stepTimes: (page: Page) => Promise<number[]>,
  longestTask: (page: Page) => Promise<number>,
): Promise<Figure[]> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const id = await tracedCrossing(page, origin, poses, 1, rows);
  const fewId = await tracedCrossing(page, origin, fewPoses, 10, 96);
  const opening: number[] = [];
  for (let k = 0; k < 7; k++) {
    const start = performance.now();
    const response = await fetch(`${origin}/api/crossings/${id}`);
    await response.arrayBuffer();
    opening.push(performance.now() - start);
  }
  const open = async (page: Page, crossing: string, frame: number, rest: number) => {
    await page.goto(`${origin}/crossings/${crossing}`);
    await page.waitForSelector('[data-shown-frame]', { timeout: 60_000 });
    await page.keyboard.type(String(frame));
    await page.keyboard.press('Enter');
    await page.waitForSelector(`[data-shown-frame="${frame}"]`);
    await page.waitForTimeout(rest);
  };
  await open(page, demo, 36, 6000);
  const dragging = await dragTimes(page);
  const fewPage = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await open(fewPage, fewId, 60, 6000);
  // The coverage of so many frames is worked out, and each is looked at, for a while.
  await page.bringToFront();
  await open(page, id, 60, 50_000);
  // Turn about, so that whatever else the machine does falls on both.
  const few: number[] = [];
  const many: number[] = [];
  for (let round = 0; round < 6; round++) {
    for (const [tab, times] of [
      [fewPage, few],
      [page, many],
    ] as const) {
      await tab.bringToFront();
      await tab.waitForTimeout(1000);
      times.push(...(await stepTimes(tab)));
    }
  }
  await fewPage.close();
  await longestTask(page);
  const list = (await page.getByRole('listbox').boundingBox())!;
  await page.mouse.move(list.x + 80, list.y + 300);
  for (let k = 0; k < 100; k++) {
    await page.mouse.wheel(0, 120);
    await page.waitForTimeout(16);
  }
  const scrolling = await longestTask(page);
  await page.close();
  return [
    {
      name: `answering with ${poses} poses of ${points} points`,
      value: median(opening),
      unit: 'ms',
      atMost: 500,
    },
    {
      name: `step to a neighbour frame with ${poses} poses`,
      value: median(many),
      unit: 'ms',
      reference: { name: `with ${fewPoses}`, value: median(few) },
      atMost: 1.1,
    },
    {
      name: `longest task of the page while ${rows} rows scroll`,
      value: scrolling,
      unit: 'ms',
      atMost: 50,
    },
    {
      name: 'redrawing picture and matte while a point is dragged, 720p',
      value: median(dragging),
      unit: 'ms',
      atMost: 33,
    },
  ];
}

/** A crossing of the demo's shots, `length` frames long, with an outline that has `count` poses, `apart` frames apart. */
export async function tracedCrossing(
  page: Page,
  origin: string,
  count: number,
  apart: number,
  length: number,
): Promise<string> {
  const shots = (await (await fetch(`${origin}/api/shots`)).json()) as { id: string; name: string }[];
  const shot = (name: string) => shots.find((each) => each.name.startsWith(name))!.id;
  const post = async <T>(address: string, data: object) => {
    const response = await page.request.post(`${origin}${address}`, { data });
    if (!response.ok()) throw new Error(await response.text());
    return (await response.json()) as T;
  };
  const { id } = await post<{ id: string }>('/api/crossings', {
    ...{ name: 'Many poses', plan: 'pass-by' },
    ...{ outgoingShotId: shot('Gardener'), incomingShotId: shot('Lily') },
  });
  const opened = (await (await fetch(`${origin}/api/crossings/${id}`)).json()) as OpenedCrossing;
  const { crossing, layers } = opened.document;
  const layer = Object.values(layers).find(({ role }) => role === 'outgoing')!;
  const outlineId = randomUUID();
  const outline = {
    ...{ ...plainOutline, id: outlineId, layerId: layer.id, cutsLayerId: null, name: 'Many', kind: 'seam' },
    ...{ sweptSide: 'right', position: 0, featherInside: 7, featherOutside: 7 },
    points: Array.from({ length: points }, (_, k) => `p${k}`),
  };
  const pose = (frame: number): PoseRow => ({
    ...plainPose,
    ...{ id: `${outlineId}@${frame}`, outlineId, frame, origin: 'by hand', onward: 'linear' },
    coordinates: Array.from({ length: points }, (_, k) => [
      300 + 5 * frame + 20 * Math.sin(k / 5 + frame / 9),
      -10 + (740 * k) / (points - 1),
      ...[-0.5, -4.1, 0.5, 4.1],
    ]).flat(),
  });
  const change = <R extends { id: string }>(table: string, before: R | null, after: R) => ({
    ...{ table, id: after.id, before, after },
  });
  // In parts, as one answer of the server takes only so many bytes.
  const edits = [
    [
      change('crossing', crossing, { ...crossing, length }),
      change('outline', null, outline),
      change('pose', null, pose(0)),
    ],
    ...Array.from({ length: Math.ceil(count / 100) }, (_, part) =>
      Array.from({ length: Math.min(100, count - part * 100) }, (_, k) => (part * 100 + k) * apart)
        .filter((frame) => frame > 0)
        .map((frame) => change('pose', null, pose(frame))),
    ),
  ];
  for (const [baseRevision, changes] of edits.entries())
    await post(`/api/crossings/${id}/commits`, {
      ...{ requestId: randomUUID(), baseRevision, kind: 'do' },
      edit: { id: randomUUID(), label: 'Many poses', changes },
    });
  // Work goes on in small edits: the newest of them come along when the crossing is opened.
  for (let k = 0, name = outline.name; k < smallEdits; k++) {
    const after = { ...outline, name: `Many, ${k}` };
    await post(`/api/crossings/${id}/commits`, {
      ...{ requestId: randomUUID(), baseRevision: edits.length + k, kind: 'do' },
      edit: { id: randomUUID(), label: 'Rename', changes: [change('outline', { ...outline, name }, after)] },
    });
    name = after.name;
  }
  return id;
}

/** From a move of the pressed pointer to the picture drawn, as the drawing worker has it, ms. */
async function dragTimes(page: Page): Promise<number[]> {
  await page.keyboard.press('z');
  await page.keyboard.press('p');
  await page.keyboard.press('k');
  await page.waitForTimeout(500);
  const board = (await page.getByTestId('picture').boundingBox())!;
  const times: number[] = [];
  // The line's middle, wherever it is: the hand feels for it along the picture's middle.
  const y = board.y + board.height / 2;
  let x = board.x + 60;
  for (; x < board.x + board.width - 60; x += 5) {
    await page.mouse.move(x, y);
    if (
      await page.evaluate(
        () =>
          document.querySelector('.konvajs-content')!.closest<HTMLElement>('[style*="cursor: move"]') !==
          null,
      )
    )
      break;
  }
  await page.mouse.down();
  for (let k = 1; k <= 30; k++) {
    await page.mouse.move(x + k, y + (k % 3));
    await page.waitForTimeout(70);
    times.push(
      Number(await page.getByTestId('picture').evaluate((picture: HTMLElement) => picture.dataset.shownMs)),
    );
  }
  await page.mouse.up();
  await page.keyboard.press('Control+z');
  return times;
}
