import { documentOf, strokesOf } from '@/core/document/document';
import { plainLayer } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import type { SubjectLoop } from '@/core/subject/subject-outline';
import type { Stroke } from '@/core/subject/strokes';
import type { CutLoop, SubjectAsked } from '@/render/subject-cutter';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, setView, useView } from '../view/view-store';
import { changeOutline } from './commands';
import { goTo } from '../session/go-to';
import { keepOtherSide } from './outline-commands';
import { changeBrush, nextMark, paint, takeBrush, usePainting } from './painting';

/** Strokes on the stores as the page holds them; in the worker's place something answers as the test wants. */

const mockAsked: { frame: number; asked: SubjectAsked; answer: (loops: CutLoop[]) => void }[] = [];
jest.mock('./carry-store', () => {
  const carrier = {
    subject: (_shot: string, frame: number, asked: SubjectAsked) =>
      new Promise<CutLoop[]>((answer) => mockAsked.push({ frame, asked, answer })),
  };
  return { carrierNow: () => carrier, carrierBegun: () => Promise.resolve(carrier) };
});

const shot = {
  ...{ id: 's', name: 'Door', width: 1000, height: 360, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 80, constantRate: true },
} as unknown as Shot;
const crossing = {
  ...{ id: 'c', name: 'T', plan: 'pass-by' as const, width: 1000, height: 360, rateNum: 25, rateDen: 1 },
  ...{
    length: 60,
    inFrame: 0,
    outFrame: null,
    blend: 'display' as const,
    moveShutter: 0,
    blurBorder: 'extend' as const,
  },
};
const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 's', position: 0, offset: 10 };
const plain = usePainting.getState();

Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

beforeEach(() => {
  mockAsked.length = 0;
  usePainting.setState(plain);
  useDocument.setState({
    document: documentOf({ crossing: [crossing], layer: [layer] }),
    shots: [{ shot } as ShotMedia],
    history: [],
  });
  resetView(5, null);
});

const over = (mark: Stroke['mark'] = 'this'): Stroke => ({ mark, radius: 8, path: [10, 10, 60, 60] });
const loop = (x: number, points = 3, hole = false): SubjectLoop => ({
  coordinates: Array.from({ length: points }, (_, k) => [x + 20 * k, 30 * (k % 2), 0, 0, 0, 0]).flat(),
  hole,
});
const documentNow = () => useDocument.getState().document!;
const outlines = () => Object.values(documentNow().outlines);
/** Lets what is asked for go out, or what was answered come in. */
const settled = () => new Promise((done) => setTimeout(done));
const answered = async (loops: CutLoop[]) => {
  await settled();
  mockAsked.shift()!.answer(loops);
  await settled();
};

test('a first stroke makes an outline, each further one asks with all of its frame and makes it anew', async () => {
  paint(over());
  await answered([loop(0), loop(200, 4, true)]);
  const [main, hole] = outlines();
  expect(main).toMatchObject({ name: 'Subject 1', kind: 'loop', painted: true });
  expect(hole).toMatchObject({ subjectId: main.id, combine: 'take away' });
  expect(useView.getState().outlineId).toBe(main.id);
  expect(documentNow().poses[main.id].map(({ frame }) => frame)).toEqual([15]);
  paint(over('not this'));
  await settled();
  expect(mockAsked[0].asked).toMatchObject({ prior: null, becomes: { as: 'loop' } });
  expect(mockAsked[0].asked.strokes.map(({ mark }) => mark)).toEqual(['this', 'not this']);
  await answered([loop(4, 5)]);
  expect(outlines()).toHaveLength(1);
  expect(outlines()[0].points).toHaveLength(5);
  expect(strokesOf(documentNow(), main.id)).toHaveLength(2);
  expect(useDocument.getState().history.map(({ label }) => label)).toEqual([
    'Paint Subject 1, frame 5',
    'Paint Subject 1, frame 5',
  ]);
});

test('strokes painted faster than they are answered are taken in their order', async () => {
  paint(over());
  paint(over('not this'));
  await settled();
  expect(usePainting.getState().waiting).toHaveLength(2);
  expect(mockAsked).toHaveLength(1);
  await answered([loop(0)]);
  await answered([loop(7)]);
  expect(usePainting.getState().waiting).toHaveLength(0);
  expect(documentNow().poses[outlines()[0].id][0].coordinates[0]).toBe(7);
});

test('on a later frame a stroke corrects the points that are there, from where the outline lies', async () => {
  paint(over());
  await answered([loop(0)]);
  const [{ id, points }] = outlines();
  goTo(9);
  paint(over('not this'));
  await settled();
  expect(mockAsked[0]).toMatchObject({ frame: 19, asked: { becomes: { as: 'pose', kind: 'loop' } } });
  expect(mockAsked[0].asked.prior!.coordinates).toHaveLength(3 * N);
  expect(mockAsked[0].asked.strokes).toHaveLength(1);
  await answered([loop(50)]);
  expect(outlines()[0].points).toEqual(points);
  expect(documentNow().poses[id].map(({ frame, coordinates }) => [frame, coordinates[0]])).toEqual([
    [15, 0],
    [19, 50],
  ]);
});

test('a hole goes into what is known on a later frame, and is corrected with the rest', async () => {
  paint(over());
  await answered([loop(0), loop(200, 4, true)]);
  const [main, hole] = outlines();
  goTo(9);
  paint(over());
  await settled();
  const { prior, becomes } = mockAsked[0].asked;
  expect(prior!.parts).toMatchObject([{ id: hole.id, hole: true }]);
  expect(becomes).toMatchObject({ as: 'pose', parts: prior!.parts });
  await answered([loop(50), { ...loop(260, 4, true), id: hole.id }]);
  const placed = (id: string) => documentNow().poses[id].map((pose) => [pose.frame, pose.coordinates[0]]);
  expect([placed(main.id), placed(hole.id)]).toEqual([
    [
      [15, 0],
      [19, 50],
    ],
    [
      [15, 200],
      [19, 260],
    ],
  ]);
  // Another stroke closes it, and what it finds beside it gets an outline for that frame.
  paint(over());
  await answered([loop(50), { ...loop(400), id: '' }]);
  expect(placed(hole.id)).toEqual([[15, 200]]);
  expect(documentNow().outlines[hole.id].afterLast).toBe('empty');
  const [, , part] = outlines();
  expect(part).toMatchObject({
    subjectId: main.id,
    combine: 'add',
    beforeFirst: 'empty',
    afterLast: 'empty',
  });
  expect(placed(part.id)).toEqual([[19, 400]]);
});

test('what cannot be used is said on its frame, and changes nothing', async () => {
  paint(over('not this'));
  await settled();
  expect(mockAsked).toHaveLength(0);
  expect(usePainting.getState().says).toMatchObject({ source: 15, text: /first/ });
  paint(over());
  await answered([]);
  expect(usePainting.getState().says!.text).toMatch(/Nothing stands out/);
  expect(outlines()).toEqual([]);
  paint(over());
  await answered([loop(0)]);
  const before = documentNow();
  paint(over('not this'));
  await answered([]);
  expect(usePainting.getState().says!.text).toMatch(/nothing of the subject would be left/);
  expect(documentNow()).toBe(before);
  changeOutline('Lock', { locked: true });
  paint(over());
  await settled();
  expect(mockAsked).toHaveLength(0);
  expect(usePainting.getState().says!.text).toMatch(/locked/);
  // An answer that comes when its outline is gone, or another crossing is open, is let go.
  changeOutline('Unlock', { locked: false });
  paint(over());
  await settled();
  useDocument.setState({ document: documentOf({ crossing: [{ ...crossing, id: 'd' }], layer: [layer] }) });
  await answered([loop(9)]);
  expect(outlines()).toEqual([]);
});

test('another subject is begun when it is asked for; one may become a seam', async () => {
  paint(over());
  await answered([loop(0)]);
  usePainting.setState({ anew: true, becomes: 'right' });
  paint(over());
  await settled();
  expect(mockAsked[0].asked).toMatchObject({ prior: null, becomes: { as: 'right' } });
  await answered([loop(300)]);
  expect(outlines().map(({ name, kind, sweptSide }) => [name, kind, sweptSide])).toEqual([
    ['Subject 1', 'loop', 'right'],
    ['Subject 2', 'seam', 'left'],
  ]);
  expect(usePainting.getState().anew).toBe(false);
});

test('the brush is taken onto the shot’s picture, turned over, and kept within its bounds', () => {
  for (const view of ['result', 'overlay'] as const) {
    setView({ view, tool: 'edit' });
    takeBrush();
    expect(useView.getState()).toMatchObject({ tool: 'brush', view: 'plain' });
  }
  setView({ view: 'cut' });
  takeBrush();
  expect(useView.getState().view).toBe('cut');
  nextMark();
  expect(usePainting.getState().mark).toBe('not this');
  nextMark();
  expect(usePainting.getState().mark).toBe('open');
  nextMark();
  expect(usePainting.getState().mark).toBe('this');
  for (const by of [1, -1] as const) {
    for (let k = 0; k < 40; k++) changeBrush(by);
    expect(usePainting.getState().size).toBe(by > 0 ? 0.08 : 0.002);
  }
  expect(documentNow().layers.l.keeps).toBe(false);
  keepOtherSide();
  expect(documentNow().layers.l.keeps).toBe(true);
});
