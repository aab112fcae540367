import { randomUUID } from 'node:crypto';
import type { Channel } from '../src/core/model/channels';
import { changeRow, inverseChanges, type RowChange } from '../src/core/document/edit';
import { applyChanges } from '../src/core/document/document';
import type { CrossingDocument } from '../src/core/document/tables';
import { setLayer } from '../src/core/actions/layer-actions';
import { setMove } from '../src/core/actions/move-actions';
import type { OpenedCrossing } from '../src/wire/answers';
import { origin, stepTimes, withApp } from './app';
import { type Figure, median } from './figure';

/** Stepping and playing with both layers moving, blurred, straightened or mixed, against the same crossing at rest. */

const id = '6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e01';
const rounds = 3;
const ways = ['rest', 'moving', 'blurred', 'straightened', 'mixed'] as const;
type Way = (typeof ways)[number];

export function benchMoving(): Promise<Figure[]> {
  return withApp(async (browser) => {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const none = () => Object.fromEntries(ways.map((way) => [way, []])) as unknown as Record<Way, number[]>;
    const [times, shown] = [none(), none()];
    for (let round = 0; round < rounds; round++)
      for (const what of ways) {
        const { document } = await opened();
        const changes = changesOf(document, what);
        if (changes.length > 0) await commit(changes);
        await page.goto(`${origin}/crossings/${id}`);
        await page.waitForSelector('[data-shown-frame]', { timeout: 60_000 });
        await page.waitForTimeout(4000);
        await stepTimes(page);
        times[what].push(...(await stepTimes(page)));
        await page.keyboard.press('Space');
        await page.waitForTimeout(5280);
        const dropped = Number.parseInt((await page.getByTestId('dropped').textContent()) ?? '', 10);
        shown[what].push(132 - dropped);
        await page.keyboard.press('Space');
        await page.goto('about:blank');
        if (changes.length > 0) await commit(inverseChanges(changes));
      }
    const reference = { name: 'at rest', value: median(times.rest) };
    const frames = (what: Way) => 132 / median(shown[what]);
    const played = { name: 'at rest', value: frames('rest') };
    const unit = 'times real time';
    return [
      { name: 'step, both layers moving', value: median(times.moving), unit: 'ms', reference, atMost: 1.3 },
      { name: 'step, with blur of it', value: median(times.blurred), unit: 'ms', reference, atMost: 2.5 },
      { name: 'step, both straightened', value: median(times.straightened), unit: 'ms', reference },
      { name: 'step, both at 60 %, mixed', value: median(times.mixed), unit: 'ms', reference },
      { name: 'a frame played, both moving', value: frames('moving'), unit, reference: played, atMost: 1.3 },
      { name: 'a frame played, with blur', value: frames('blurred'), unit, reference: played, atMost: 2.5 },
      { name: 'a frame played, straightened', value: frames('straightened'), unit, reference: played },
      { name: 'a frame played, mixed', value: frames('mixed'), unit, reference: played },
    ];
  });
}

async function opened(): Promise<OpenedCrossing> {
  return (await (await fetch(`${origin}/api/crossings/${id}`)).json()) as OpenedCrossing;
}

async function commit(changes: readonly RowChange[]) {
  const { revision } = await opened();
  const edit = { id: randomUUID(), label: 'Bench', changes };
  const body = JSON.stringify({ requestId: randomUUID(), baseRevision: revision, kind: 'do', edit });
  const answer = await fetch(`${origin}/api/crossings/${id}/commits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin },
    body,
  });
  if (!answer.ok) throw new Error(await answer.text());
}

/** Both visible layers pushed and shifted all along, some 8 px a frame; or straightened; or slowed and mixed. */
function changesOf(document: CrossingDocument, way: Way): RowChange[] {
  const layers = Object.values(document.layers).filter(({ visible }) => visible);
  if (way === 'rest') return [];
  if (way === 'straightened') return layers.flatMap(({ id }) => setLayer(document, id, { lens: -0.2 }));
  if (way === 'mixed')
    return layers.flatMap(({ id }) => setLayer(document, id, { speed: 60, betweens: 'mixed' }));
  let changed = document;
  const all: RowChange[] = [];
  const put = (changes: RowChange[]) => {
    changed = applyChanges(changed, changes);
    all.push(...changes);
  };
  const last = document.crossing.length - 1;
  for (const layer of layers)
    for (const [channel, frame, value, second] of [
      ['size', 0, 120, 0],
      ['size', last, 190, 0],
      ['place', 0, -100, 20],
      ['place', last, 120, -30],
    ] as [Channel, number, number, number][])
      put(setMove(changed, layer.id, channel, frame, value, second, { onward: 'linear' }));
  if (way === 'blurred')
    put([changeRow('crossing', document.crossing, { ...document.crossing, moveShutter: 360 })]);
  return all;
}
