import { layerSourceFrame, shownSourceFrame } from '@/core/compose/source-frames';
import { documentOf, marksInOrder } from '@/core/document/document';
import { type LayerRow, plainCrossing, plainLayer, plainOutline } from '@/core/document/tables';
import type { Role } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, setView, useView } from '../view/view-store';
import {
  changeLayer,
  changeMark,
  clearRange,
  freezeEnd,
  goToMark,
  layerInHand,
  markEdge,
  markFrame,
  moveInStack,
  nextLayer,
  replaceShot,
  setRangeHere,
  setSpeed,
  slip,
  swapRoles,
  takeFromStack,
  toggleFreeze,
  trimHere,
} from './lining-up';

/** What a person does to lay shots out in time, on the stores as the page holds them. */

Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const shotOf = (id: string, frameCount: number, rate = 25, width = 1280): Shot => ({
  ...{ id, name: id, width, height: 720, rotation: 0, rate: { num: rate, den: 1 }, frameCount },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
});
const shots = { gate: shotOf('gate', 90), pond: shotOf('pond', 200, 50), wide: shotOf('wide', 30, 25, 1920) };
const set = { id: 'c', name: 'T', plan: 'pass-by' as const, width: 1280, height: 720, length: 60 };
const layer = (id: string, role: Role, shotId: string, position: number): LayerRow => ({
  ...{ ...plainLayer, id, role, shotId, position },
});

beforeEach(() => {
  const outline = {
    ...{ ...plainOutline, id: 'o', layerId: 'out', cutsLayerId: null, name: 'Back', kind: 'seam' as const },
    ...{ sweptSide: 'left' as const, position: 0, points: ['a', 'b'] },
  };
  useDocument.setState({
    document: documentOf({
      crossing: [{ ...plainCrossing, ...set, rateNum: 25, rateDen: 1 }],
      layer: [layer('in', 'incoming', 'pond', 0), layer('out', 'outgoing', 'gate', 1)],
      outline: [outline],
    }),
    shots: Object.values(shots).map((shot) => ({ shot }) as ShotMedia),
    history: [],
    notice: null,
  });
  resetView(20, null);
});

const now = (id = 'in') => useDocument.getState().document!.layers[id];
const sourceAt = (id: string, frame: number) => {
  const { document } = useDocument.getState();
  const own = now(id);
  return layerSourceFrame(document!, own, shots[own.shotId as 'gate'], frame);
};
const edits = () => useDocument.getState().history.length;

test('a slip moves the shot in hand by crossing frames, whatever its rate, speed and direction', () => {
  expect(layerInHand()?.id).toBe('in');
  slip(3);
  // Three frames later: at twice the crossing's rate six of its own.
  expect(sourceAt('in', 20)).toBe(34);
  slip(-3);
  expect(now().offset).toBe(0);
  // Slower than the crossing, one step is several frames long: it moves by one of its own at least.
  changeLayer('Slow', now(), { speed: 25 });
  slip(1);
  expect(now().offset).toBe(-1);
  changeLayer('Backwards', now(), { speed: 100, reverse: true, offset: 100 });
  slip(1);
  expect(sourceAt('in', 10)).toBe(82);
  nextLayer();
  expect(layerInHand()?.id).toBe('out');
  slip(2);
  expect([sourceAt('out', 20), useDocument.getState().history.at(-1)!.label]).toEqual([
    18,
    'Slip the outgoing shot 2 frames later',
  ]);
  const before = edits();
  slip(0);
  expect(edits()).toBe(before);
});

test('another speed and direction keep the frame in view; a freeze holds it; an end is held where it is', () => {
  const seen = () => sourceAt('in', 20);
  expect(seen()).toBe(40);
  setSpeed(now(), { speed: 33.333 });
  expect([seen(), now().speed]).toEqual([40, 33.33]);
  setSpeed(now(), { reverse: true });
  expect([seen(), sourceAt('in', 30)]).toEqual([40, expect.any(Number)]);
  expect(sourceAt('in', 30)).toBeLessThan(40);
  expect(toggleFreeze(now())).toBeNull();
  expect([now().holdFrom, sourceAt('in', 50)]).toEqual([40, 40]);
  toggleFreeze(now());
  expect(now().holdFrom).toBeNull();
  setView({ frame: 59 });
  changeLayer('Past its end', now('out'), { offset: 60 });
  expect(toggleFreeze(now('out'))).toBe(
    'The shot has no picture on this frame. Go to a frame that shows it, then freeze.',
  );
  freezeEnd(now('out'));
  const { document } = useDocument.getState();
  expect(shownSourceFrame(document!, now('out'), shots.gate, 59)).toBe(89);
});

test('trims keep something of the shot; in and out keep their order', () => {
  expect(trimHere('start')).toBeNull();
  expect(now().trimIn).toBe(40);
  setView({ frame: 10 });
  expect(trimHere('end')).toBe('That would leave nothing of the shot. Trim on a frame farther inside it.');
  setView({ frame: 30 });
  expect([trimHere('end'), now().trimOut]).toEqual([null, 60]);
  expect([setRangeHere('out'), useDocument.getState().document!.crossing.outFrame]).toEqual([null, 30]);
  setView({ frame: 31 });
  expect(setRangeHere('in')).toContain('would lie after the out point');
  // On the last frame the out is that of the crossing, however long it becomes.
  setView({ frame: 59 });
  setRangeHere('out');
  expect(useDocument.getState().document!.crossing.outFrame).toBeNull();
  setView({ frame: 12 });
  setRangeHere('in');
  clearRange();
  expect(useDocument.getState().document!.crossing.inFrame).toBe(0);
});

test('marks: those of the edge are there once and move; others are numbered, gone to, renamed and taken away', () => {
  const marks = () =>
    marksInOrder(useDocument.getState().document!).map(({ name, frame }) => `${name} ${frame}`);
  markEdge(11, 40);
  markFrame('mark', 20);
  markFrame('mark', 25);
  markFrame('opens', 13);
  expect(marks()).toEqual(['Opens 13', 'Mark 1 20', 'Mark 2 25', 'Closes 40']);
  markEdge(14, 41);
  expect(marks()).toEqual(['Opens 14', 'Mark 1 20', 'Mark 2 25', 'Closes 41']);
  expect([goToMark(1), useView.getState().frame]).toEqual([null, 25]);
  setView({ frame: 41 });
  expect(goToMark(1)).toBe('There is no mark after this frame.');
  const [, first] = marksInOrder(useDocument.getState().document!);
  changeMark(first, { name: 'Hat' });
  markFrame('mark', 25);
  expect(marks()).toEqual(['Opens 14', 'Hat 20', 'Closes 41']);
  changeMark({ ...first, name: 'Hat' }, null);
  expect(marks()).toHaveLength(2);
});

test('another shot leaves outlines where they are and says so; layers with outlines stay; roles and order change', () => {
  expect(replaceShot(now('out'), shots.pond)).toBeNull();
  expect(replaceShot(now('out'), shots.wide)).toContain('“wide” is 1920 × 720, “pond” was 1280 × 720');
  expect(now('out')).toMatchObject({ shotId: 'wide', trimIn: null, holdFrom: null });
  expect(takeFromStack(now('out'))).toContain('has outlines');
  swapRoles(now('in'), now('out'));
  expect([now('in').role, now('out').role, now('in').position]).toEqual(['outgoing', 'incoming', 1]);
  moveInStack(now('in'), -1);
  expect([now('in').position, now('out').position]).toEqual([0, 1]);
  const before = edits();
  moveInStack(now('in'), -1);
  expect(edits()).toBe(before);
  expect(takeFromStack(now('in'))).toBeNull();
  expect(takeFromStack(now('out'))).toBe('A crossing needs one layer at least.');
});
