import type { Grade } from '@/core/colour/grade';
import { traceOn } from '@/core/actions/layer-actions';
import { documentOf } from '@/core/document/document';
import { limits } from '@/core/model/limits';
import { plainCrossing, plainLayer } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { changeChroma, chromaNow, draftChroma, dropChroma, pickColour } from '../chroma/chroma-commands';
import { useDocument } from '../document/document-store';
import { edit } from '../session/edit';
import { matchColours, noColours, showColours, takeColours } from '../move/colour-commands';
import { resetView, setView, useView } from '../view/view-store';
import { leaveOffered, offer, offeredNow, takeOffered, useOffered } from './offered';

/** Outlines from elsewhere, and what is read off the picture, taken on the stores as the page holds them. */

const mockAsked: unknown[] = [];
let mockRead: object | null = null;
jest.mock('../check/checks-store', () => ({
  checksBegun: () =>
    Promise.resolve({
      chroma: (...asked: unknown[]) => {
        mockAsked.push(asked);
        return mockRead
          ? Promise.resolve(mockRead)
          : Promise.reject(new Error('Frame 20 cannot be decoded.'));
      },
      matchColours: (...asked: unknown[]) => {
        mockAsked.push(asked);
        return Promise.resolve(mockRead);
      },
    }),
}));
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const shot: Shot = {
  ...{ id: 's', name: 'Checker', width: 640, height: 360, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 90, colour: { matrix: 'bt709', fullRange: false }, motion: null },
};
const set = { id: 'c', name: 'T', plan: 'pass-by' as const, width: 640, height: 360, length: 60 };

beforeEach(() => {
  mockAsked.length = 0;
  const layers = (['incoming', 'outgoing'] as const).map((role, position) => ({
    ...{ ...plainLayer, id: role, role, shotId: 's', position },
  }));
  const opens = { id: 'm', frame: 22, kind: 'opens' as const, name: 'Opens' };
  useDocument.setState({
    document: documentOf({
      crossing: [{ ...plainCrossing, ...set, rateNum: 25, rateDen: 1 }],
      layer: layers,
      mark: [opens],
    }),
    shots: [{ shot } as ShotMedia],
    history: [],
    notice: null,
  });
  resetView(20, null);
  leaveOffered();
});

const documentNow = () => useDocument.getState().document!;
const labels = () => useDocument.getState().history.map(({ label }) => label);
const triangle = (x: number) => [x, 10, 0, 0, 0, 0, x + 90, 10, 0, 0, 0, 0, x + 50, 80, 0, 0, 0, 0];
const poses = (...frames: number[]) => frames.map((frame) => ({ frame, coordinates: triangle(frame) }));

test('what is offered is taken as one edit, holes as holes, and is only shown on its own layer', () => {
  offer('paths.svg', [
    { name: 'Hat', kind: 'loop', poses: poses(30, 20) },
    { name: 'Gap', kind: 'loop', hole: true, poses: poses(20) },
  ]);
  expect(offeredNow()?.outlines[0].poses.map(({ frame }) => frame)).toEqual([20, 30]);
  const traceOnLayer = (id: string) => edit('Trace on', traceOn(documentNow(), id));
  traceOnLayer('incoming');
  expect([offeredNow(), takeOffered()]).toEqual([null, null]);
  traceOnLayer('outgoing');
  expect(takeOffered()).toBe('2 outlines, brought in from paths.svg. Ctrl Z takes them back.');
  const outlines = Object.values(documentNow().outlines).sort((a, b) => a.position - b.position);
  expect(outlines.map(({ name, combine, layerId }) => [name, combine, layerId])).toEqual([
    ['Hat', 'add', 'outgoing'],
    ['Gap', 'take away', 'outgoing'],
  ]);
  expect(documentNow().poses[outlines[0].id].map(({ frame, origin }) => [frame, origin])).toEqual([
    [20, 'by hand'],
    [30, 'by hand'],
  ]);
  expect([labels().at(-1), useView.getState().outlineId]).toEqual(['Bring in 2 outlines', outlines[0].id]);
  expect([takeOffered(), leaveOffered()]).toEqual([null, false]);
});

test('what is too much for one step is refused in a sentence, and stays to be left', () => {
  const many = Array.from({ length: limits.points }, (_, k) => [k / 7, k / 3, 0.1, 0.2, 0.3, 0.4]).flat();
  expect(many.length / N).toBe(limits.points);
  const frames = Math.ceil((1.2 * limits.stepLength) / (many.length * 8));
  const all = Array.from({ length: frames }, (_, frame) => ({ frame, coordinates: many }));
  offer('many.json', [{ name: 'Leaves', kind: 'loop', poses: all }]);
  expect(takeOffered()).toBeNull();
  expect(useDocument.getState().notice).toContain('too much for one step');
  expect([Object.keys(documentNow().outlines), useOffered.getState().offered?.from]).toEqual([
    [],
    'many.json',
  ]);
});

test('a picked colour keys the layer; another one widens the circle about both; settings are drafted and dropped', async () => {
  mockRead = { cb: 100.04, cr: 80, spread: 1 };
  expect(await pickColour([30, 40], false)).toBeNull();
  expect(mockAsked[0]).toEqual(['s', 20, [30, 40], useView.getState().pickRadius]);
  // Three times the spread, but eight at least.
  expect(chromaNow()).toMatchObject({ id: 'outgoing', cb: 100, cr: 80, tolerance: 8 });
  mockRead = { cb: 120, cr: 80, spread: 2 };
  await pickColour([31, 40], true);
  // From 8 beyond the one to 8 beyond the other: 36 wide about the middle.
  expect(chromaNow()).toMatchObject({ cb: 110, cr: 80, tolerance: 18 });
  draftChroma({ softness: 40 });
  expect([useView.getState().draft?.length, chromaNow()?.softness]).toEqual([1, 12]);
  changeChroma('Softness', { softness: 40 });
  expect([useView.getState().draft, chromaNow()?.softness]).toEqual([null, 40]);
  dropChroma();
  expect([chromaNow(), labels().at(-1)]).toEqual([null, 'Remove the key']);
  mockRead = null;
  expect(await pickColour([30, 40], false)).toContain('cannot be decoded');
});

test('colours are matched over the frames of the edge, shown before they are taken, and taken off again', async () => {
  const { incoming } = documentNow().layers;
  const grade: Grade = { exposure: 0.4, contrast: 110, saturation: 90, warmth: 3, tint: -2 };
  mockRead = grade;
  expect(await matchColours(incoming)).toEqual(grade);
  const [, other, frames] = mockAsked[0] as [string, string, number[]];
  expect([other, frames[0], frames.at(-1), frames.length]).toEqual(['outgoing', 22, 59, 8]);
  showColours(incoming, grade);
  expect([useView.getState().draft!.length, Object.keys(documentNow().moves)]).toEqual([5, []]);
  takeColours(incoming, grade);
  const keyed = () =>
    Object.values(documentNow().moves).map(({ channel, frame, value }) => [channel, frame, value]);
  expect(keyed()).toContainEqual(['exposure', 20, 0.4]);
  // Taken again from another frame it is still the only one.
  setView({ frame: 33 });
  takeColours(incoming, { ...grade, exposure: 1 });
  expect(keyed().filter(([channel]) => channel === 'exposure')).toEqual([['exposure', 33, 1]]);
  noColours(incoming);
  expect(keyed()).toEqual([]);
  mockRead = null;
  expect(await matchColours(incoming)).toContain('no pictures on the same frames');
});
