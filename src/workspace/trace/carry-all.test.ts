import { documentOf } from '@/core/document/document';
import { type OutlineRow, plainLayer, plainOutline, plainPose, poseId } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, setView, useView } from '../view/view-store';
import { carriedTogether, carryAllOn } from './carry-all';

/** All outlines of a layer on the stores as the page holds them; carrying itself is told to the test. */

const mockAsked: { outlineId: string | null; frame: number; direction: number }[] = [];
const mockKept: string[][] = [];
let mockStops = 0;
let mockStopAt = Infinity;
let mockUnder: object | null = null;
jest.mock('./carry-store', () => ({
  useCarry: { getState: () => ({ under: mockUnder }) },
  timesStopped: () => mockStops,
  keepGathered: (gathered: { outlineId: string }[]) =>
    mockKept.push(gathered.map(({ outlineId }) => outlineId)),
  carryOn: (direction: number, gathered?: { outlineId: string | null }[]) => {
    const { useView: view } = jest.requireActual<typeof import('../view/view-store')>('../view/view-store');
    const { outlineId, frame } = view.getState();
    mockAsked.push({ outlineId, frame, direction });
    gathered?.push({ outlineId });
    if (mockAsked.length === mockStopAt) mockStops++;
    // As carrying does, it leaves the frame.
    view.setState({ frame: frame + 9 });
    return Promise.resolve(`9 frames from ${frame}.`);
  },
}));
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const shot = {
  ...{ id: 's', name: 'Trolley', width: 1000, height: 360, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 80, constantRate: true },
} as unknown as Shot;
const crossing = {
  ...{ id: 'c', name: 'T', plan: 'bridge' as const, width: 1000, height: 360, rateNum: 25, rateDen: 1 },
  ...{
    length: 60,
    inFrame: 0,
    outFrame: null,
    blend: 'display' as const,
    moveShutter: 0,
    blurBorder: 'extend' as const,
  },
};
const outline = (id: string, position: number, rest: Partial<OutlineRow> = {}): OutlineRow => ({
  ...{ ...plainOutline, id, layerId: 'l', cutsLayerId: null, name: id.toUpperCase(), kind: 'seam' },
  ...{ sweptSide: 'left', position, points: ['p', 'q'], ...rest },
});
const pose = (outlineId: string, frame: number) => ({
  ...{ ...plainPose, id: poseId(outlineId, frame), outlineId, frame },
  ...{ origin: 'by hand' as const, onward: 'linear' as const },
  coordinates: [400, 0, 0, 0, 0, 0, 400, 360, 0, 0, 0, 0],
});

beforeEach(() => {
  mockAsked.length = 0;
  mockKept.length = 0;
  mockUnder = null;
  mockStopAt = Infinity;
  const layer = { ...plainLayer, id: 'l', role: 'passing' as const, shotId: 's', position: 0, offset: 10 };
  const outlines = [
    outline('front', 0),
    outline('back', 1),
    outline('held', 2, { locked: true }),
    outline('part', 3, { subjectId: 'front' }),
    outline('later', 4),
  ];
  const poses = ['front', 'back', 'held', 'part'].flatMap((id) => [pose(id, 12), pose(id, 20)]);
  useDocument.setState({
    document: documentOf({
      crossing: [crossing],
      layer: [layer],
      outline: outlines,
      pose: [...poses, pose('later', 40)],
    }),
    shots: [{ shot } as ShotMedia],
    history: [],
  });
  resetView(5, 'back');
});

test('all outlines that have a line here are carried from this frame, one after the other, and the hand gets its own back', async () => {
  expect(carriedTogether().map(({ id }) => id)).toEqual(['front', 'back']);
  expect(await carryAllOn(-1)).toBe('FRONT: 9 frames from 5. BACK: 9 frames from 5.');
  expect(mockAsked).toEqual([
    { outlineId: 'front', frame: 5, direction: -1 },
    { outlineId: 'back', frame: 5, direction: -1 },
  ]);
  expect(useView.getState()).toMatchObject({ frame: 5, outlineId: 'back' });
  // As one edit.
  expect(mockKept).toEqual([['front', 'back']]);
});

test('stopped in the middle, the others are left; with one outline it is as ever', async () => {
  mockStopAt = 1;
  await carryAllOn(1);
  expect(mockAsked.map(({ outlineId }) => outlineId)).toEqual(['front']);
  expect(mockKept).toEqual([['front']]);
  expect(useView.getState()).toMatchObject({ frame: 5, outlineId: 'back' });
  mockAsked.length = 0;
  // On the frame on which only one has a line the hand stays where carrying took it.
  setView({ frame: 30, outlineId: 'later' });
  expect(await carryAllOn(1)).toBe('9 frames from 30.');
  expect(mockAsked).toHaveLength(1);
  expect(useView.getState().frame).toBe(39);
});

test('while something is being carried nothing is moved, and another crossing that is opened meanwhile is left alone', async () => {
  mockUnder = { what: 'Carrying on', share: 0.5 };
  await carryAllOn(1);
  expect(mockAsked).toEqual([{ outlineId: 'back', frame: 5, direction: 1 }]);
  mockUnder = null;
  mockAsked.length = 0;
  setView({ frame: 5, outlineId: 'back' });
  const carrying = carryAllOn(1);
  useDocument.setState({ document: documentOf({ crossing: [{ ...crossing, id: 'other' }] }) });
  expect(await carrying).toBeNull();
  expect(mockAsked).toHaveLength(1);
  expect(mockKept).toEqual([]);
});
