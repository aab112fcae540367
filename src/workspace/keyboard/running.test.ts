import { documentOf } from '@/core/document/document';
import { plainCrossing, plainLayer, plainOutline, plainPose, poseId } from '@/core/document/tables';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, useView } from '../view/view-store';
import { actionOf } from './shortcuts';

/** The keys as they are pressed, on the stores as the page holds them; only saving is left out. */

jest.mock('../check/checks-store', () => ({
  checksBegun: () => Promise.resolve(null),
  useChecks: { getState: () => ({ findings: [] }) },
}));
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const crossing = {
  ...{ ...plainCrossing, id: 'c', name: 'A', plan: 'pass-by' as const, width: 640, height: 360 },
  ...{ rateNum: 25, rateDen: 1, length: 60 },
};
const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 's', position: 0 };
const outline = {
  ...{ ...plainOutline, id: 'o', layerId: 'l', cutsLayerId: null, name: 'Back', kind: 'seam' as const },
  ...{ sweptSide: 'right' as const, position: 0, points: ['a', 'b'] },
};
const pose = (frame: number, x: number) => ({
  ...{ ...plainPose, id: poseId('o', frame), outlineId: 'o', frame, origin: 'by hand' as const },
  coordinates: [x, 0, 0, 0, 0, 0, x, 360, 0, 0, 0, 0],
});
const media = {
  shot: {
    ...{ id: 's', name: 'Door', width: 640, height: 360, rotation: 0, rate: { num: 25, den: 1 } },
    ...{ frameCount: 60, motion: null, colour: { matrix: 'bt709', fullRange: false } },
  },
} as unknown as ShotMedia;

beforeEach(() => {
  resetView(10, 'o');
  const document = documentOf({
    crossing: [crossing],
    layer: [layer],
    outline: [outline],
    pose: [pose(10, 100), pose(30, 300)],
  });
  useDocument.setState({ document, shots: [media], history: [], notice: null });
});

function press(key: string, held: Partial<KeyboardEvent> = {}) {
  const event = {
    ...{ key, ctrlKey: false, altKey: false, shiftKey: false, metaKey: false, getModifierState: () => false },
    ...held,
  } as unknown as KeyboardEvent;
  const action = actionOf(event);
  return action ? action() : 'no action';
}
const document = () => useDocument.getState().document!;
const view = () => useView.getState();

test('looking at what a key means does nothing: only its action does', () => {
  const before = [document(), view()];
  for (const key of ['ArrowRight', 'w', '[', 'x', 'l', '.', 'Delete'])
    actionOf({ key, getModifierState: () => false } as unknown as KeyboardEvent);
  expect([document(), view()]).toEqual(before);
});

test('frames: step, ends, poses', () => {
  press('ArrowRight');
  press('ArrowRight');
  expect(view().frame).toBe(12);
  press('ArrowLeft');
  expect(view().frame).toBe(11);
  press('n');
  expect(view().frame).toBe(30);
  press('n', { shiftKey: true });
  expect(view().frame).toBe(10);
  press('End');
  expect(view().frame).toBe(59);
  press('Home');
  expect(view().frame).toBe(0);
});

test('views and tools', () => {
  for (const [key, shown] of [
    ['p', 'plain'],
    ['k', 'cut'],
    ['m', 'matte'],
    ['r', 'result'],
    ['b', 'checkerboard'],
  ]) {
    press(key);
    expect(view().view).toBe(shown);
  }
  press('l');
  expect(view().tool).toBe('seam');
  press('o');
  expect(view().tool).toBe('loop');
  press('e', { shiftKey: true });
  expect(view().tool).toBe('box');
  press('Escape');
  expect(view().tool).toBe('edit');
});

test('poses: nudged by 1, 10 and 0.1 px, made, halved, removed; points chosen and let go', () => {
  const at = (frame: number) => document().poses.o.find((each) => each.frame === frame)?.coordinates[0];
  press('d');
  press('D', { shiftKey: true });
  press('a', { altKey: true });
  expect(at(10)).toBeCloseTo(110.9);
  press('j');
  expect(document().poses.o.map(({ frame }) => frame)).toEqual([10, 20, 30]);
  press('ArrowRight');
  press('i');
  expect(document().poses.o).toHaveLength(4);
  press('x');
  expect(document().poses.o).toHaveLength(3);
  press('a', { ctrlKey: true });
  expect([...view().points]).toEqual([0, 1]);
  press('Escape');
  expect([...view().points]).toEqual([]);
  press('f');
  expect(document().outlines.o.sweptSide).toBe('left');
});

test('lining up: in, out, slip by one and by ten, marks', () => {
  press('[');
  expect(document().crossing.inFrame).toBe(10);
  press('End');
  press('ArrowLeft');
  press(']', { getModifierState: (key) => key === 'AltGraph' });
  expect([document().crossing.inFrame, document().crossing.outFrame]).toEqual([10, 58]);
  const { offset } = document().layers.l;
  press('ArrowDown', { altKey: true });
  expect(Math.abs(document().layers.l.offset - offset)).toBe(1);
  press('ArrowUp', { altKey: true });
  press('ArrowDown', { altKey: true, shiftKey: true });
  expect(Math.abs(document().layers.l.offset - offset)).toBe(10);
  press('u');
  press('t');
  expect(Object.values(document().marks).map(({ kind }) => kind)).toEqual(['opens', 'mark']);
});

test('a key whose work is seen in a step opens it', () => {
  useView.setState({ step: 'Sound' });
  press('J', { shiftKey: true });
  expect(view().step).toBe('Trace');
});
