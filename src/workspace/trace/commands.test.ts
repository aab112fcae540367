import { documentOf } from '@/core/document/document';
import { plainPose, plainLayer, plainOutline, poseId, type PoseRow } from '@/core/document/tables';
import { numbersPerPoint as N } from '@/core/model/choices';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import {
  changeOutline,
  deleteOutlineInHand,
  finishDrawing,
  flipSide,
  nudge,
  removeSelectedPoints,
} from './commands';
import { goTo, goToPose, jumpTo, selectTo, step } from '../session/go-to';
import { currentCoordinates } from '../session/in-hand';
import { useDocument } from '../document/document-store';
import {
  align,
  copyOutline,
  duplicate,
  joinWith,
  mirror,
  pasteOutline,
  putAt,
  removeSelectedPoses,
  reverse,
  runOnward,
  scaleAndTurn,
  shiftSelectedPoses,
  split,
  spreadSelectedPoses,
} from './outline-commands';
import {
  copyPoseHere,
  halve,
  pastePoseHere,
  poseHere,
  removePoseHere,
  smoothTracks,
  thinOutPoses,
} from './pose-commands';
import { resetView, setView, useView } from '../view/view-store';

/** What a person does by key or button, on the stores as the page holds them; only saving is left out. */

const shot = {
  ...{ id: 's', name: 'Door', width: 640, height: 360, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 80, constantRate: true },
} as unknown as Shot;
const crossing = {
  ...{ id: 'c', name: 'T', plan: 'pass-by' as const, width: 640, height: 360, rateNum: 25, rateDen: 1 },
  ...{
    length: 60,
    inFrame: 0,
    outFrame: null,
    blend: 'display' as const,
    moveShutter: 0,
    blurBorder: 'extend' as const,
  },
};
const outline = {
  ...{ ...plainOutline, id: 'o', layerId: 'l', cutsLayerId: null, name: 'Back', kind: 'seam' as const },
  ...{ sweptSide: 'right' as const, position: 0, points: ['a', 'b', 'c'] },
};
const seamAt = (x: number) => [x, -5, 0, 0, 0, 60, x + 20, 180, 0, -60, 0, 60, x, 365, 0, -60, 0, 0];
const pose = (frame: number, coordinates: number[]): PoseRow => ({
  ...{
    id: poseId('o', frame),
    outlineId: 'o',
    frame,
    ...plainPose,
    origin: 'by hand',
    onward: 'linear',
    coordinates,
  },
});
/** The shot's frame 10 is the crossing's first. */
const offset = 10;
const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 's', position: 0, offset };

const kept = new Map<string, string>();
Object.assign(globalThis, {
  localStorage: {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
  },
});

beforeEach(() => {
  const poses = [20, 30, 40].map((frame) => pose(frame, seamAt(100 + 5 * frame)));
  useDocument.setState({
    document: documentOf({ crossing: [crossing], layer: [layer], outline: [outline], pose: poses }),
    shots: [{ shot } as ShotMedia],
    history: [],
  });
  resetView(10, null);
  kept.clear();
});

const posesNow = (id = 'o') => useDocument.getState().document!.poses[id];
const framesNow = () => posesNow().map(({ frame }) => frame);
const labels = () =>
  useDocument
    .getState()
    .history.filter(({ undone }) => !undone)
    .map(({ label }) => label);

test('frames are gone to by number, by steps and by timecode, never out of the crossing', () => {
  const at = () => useView.getState().frame;
  expect(jumpTo('+12')).toBeNull();
  expect(at()).toBe(22);
  jumpTo('-40');
  expect(at()).toBe(0);
  jumpTo('59');
  step(5);
  expect(at()).toBe(59);
  expect(jumpTo('00:00:01:05')).toBeNull();
  expect(at()).toBe(30);
  expect(jumpTo('00:00:01:31')).toMatch(/\S/);
  expect(at()).toBe(30);
  goToPose(-1);
  expect(at()).toBe(20);
  goToPose(1);
  expect(at()).toBe(30);
  expect(useView.getState().playing).toBe(false);
});

test('moving makes a pose by itself; undone, all is as it was, and nothing else was touched', async () => {
  const before = posesNow();
  goTo(15);
  const between = currentCoordinates()!;
  nudge(3, -1);
  expect(framesNow()).toEqual([20, 25, 30, 40]);
  const made = posesNow()[1];
  expect([made.coordinates[0], made.coordinates[1]]).toEqual([between[0] + 3, between[1] - 1]);
  expect(labels()).toEqual(['Move outline, frame 15']);
  setView({ points: new Set([1]) });
  nudge(10, 0);
  expect(posesNow()[1].coordinates[N]).toBeCloseTo(between[N] + 13, 9);
  expect(posesNow()[1].coordinates[0]).toBe(made.coordinates[0]);
  await useDocument.getState().undo();
  await useDocument.getState().undo();
  expect(posesNow()).toEqual(before);
  await useDocument.getState().redo();
  expect(posesNow()[1]).toEqual(made);
});

test('for all poses or the selected ones a move is an offset; elsewhere they stay', () => {
  setView({ scope: 'all' });
  nudge(7, 0);
  expect(posesNow().map(({ coordinates }) => coordinates[0])).toEqual([207, 257, 307]);
  setView({ scope: 'this' });
  goTo(18);
  selectTo(31);
  expect(useView.getState()).toMatchObject({ range: [18, 31], scope: 'selected', frame: 31 });
  nudge(0, 4);
  // Crossing frames 18 to 31 show 28 to 41: the poses at 30 and 40.
  expect(posesNow().map(({ coordinates }) => coordinates[1])).toEqual([-5, -1, -1]);
  expect(labels()[1]).toBe('Move outline, frames 18 to 31');
});

test('the longest gap is halved again and again; what is not needed is thinned out; a range is smoothed', () => {
  for (const wanted of [25, 35, 22, 27]) {
    expect(halve()).toBeNull();
    expect(useView.getState().frame).toBe(wanted - offset);
  }
  expect(framesNow()).toEqual([20, 22, 25, 27, 30, 35, 40]);
  expect(thinOutPoses(0.5)).toMatch(/^5 poses removed/);
  expect(framesNow()).toEqual([20, 40]);
  expect(thinOutPoses(0.5)).toMatch(/No pose can be removed/);
  expect(smoothTracks()).toMatch(/five poses/);
  for (let frame = 21; frame < 30; frame++) {
    goTo(frame - offset);
    nudge(frame % 2, 0);
  }
  goTo(13);
  selectTo(16);
  expect(smoothTracks()).toMatch(/^3 poses are smoothed/);
  expect(labels().at(-1)).toBe('Smooth Back, frames 13 to 16');
  setView({ range: [50, 52] });
  expect(smoothTracks()).toMatch(/No selected pose/);
});

test('poses on selected frames are moved, spread and taken away together, unless something is in the way', () => {
  goTo(8);
  selectTo(31);
  expect(shiftSelectedPoses(-1)).toBeNull();
  expect(framesNow()).toEqual([19, 29, 39]);
  expect(useView.getState().range).toEqual([7, 30]);
  setView({ range: [19, 19] });
  expect(shiftSelectedPoses(10)).toMatch(/in the way/);
  expect(shiftSelectedPoses(3)).toBeNull();
  setView({ range: [7, 30] });
  expect(spreadSelectedPoses()).toBeNull();
  expect(framesNow()).toEqual([19, 29, 39]);
  expect(spreadSelectedPoses()).toMatch(/evenly already/);
  expect(removeSelectedPoses()).toMatch(/remove the outline/);
  setView({ range: [10, 20], scope: 'selected' });
  runOnward('eased');
  expect(posesNow().map(({ onward }) => onward)).toEqual(['linear', 'eased', 'linear']);
  expect(removeSelectedPoses()).toBeNull();
  expect(framesNow()).toEqual([19, 39]);
});

test('a locked outline is left alone by all that would change its poses, and says so', () => {
  useDocument
    .getState()
    .edit('Lock', [{ table: 'outline', id: 'o', before: outline, after: { ...outline, locked: true } }]);
  const before = posesNow();
  setView({ points: new Set([1]) });
  goTo(15);
  copyPoseHere();
  for (const act of [
    poseHere,
    halve,
    smoothTracks,
    pastePoseHere,
    removeSelectedPoints,
    () => thinOutPoses(1),
  ])
    expect(act()).toMatch(/Back is locked/);
  goTo(10);
  expect(removePoseHere()).toMatch(/Back is locked/);
  nudge(1, 1);
  // What goes round the poses one by one is stopped at the store, with the same sentence.
  setView({ range: [8, 22], points: new Set([1]) });
  for (const act of [
    reverse,
    mirror,
    split,
    flipSide,
    () => shiftSelectedPoses(1),
    removeSelectedPoses,
    deleteOutlineInHand,
  ]) {
    useDocument.getState().clearNotice();
    setView({ outlineId: 'o', points: new Set([1]) });
    act();
    expect([act.name, useDocument.getState().notice]).toEqual([
      act.name,
      'Back is locked. Unlock it in Trace.',
    ]);
  }
  finishDrawing('seam', seamAt(300));
  const other = useView.getState().outlineId!;
  setView({ outlineId: 'o' });
  joinWith(other);
  expect(useDocument.getState().notice).toBe('Back is locked. Unlock it in Trace.');
  expect(posesNow()).toBe(before);
  // Its name and its softness are no part of its line.
  changeOutline('Rename', { name: 'Her back', featherInside: 4 });
  expect(useDocument.getState().document!.outlines.o).toMatchObject({ name: 'Her back', featherInside: 4 });
});

test('what is too much for one step is not begun, and says so', () => {
  const { edit } = useDocument.getState();
  const rows = Array.from({ length: 20_001 }, (_, k) => pose(100 + k, seamAt(0)));
  const before = posesNow();
  expect(
    edit(
      'Far too much',
      rows.map((after) => ({ table: 'pose', id: after.id, before: null, after })),
    ),
  ).toBe(false);
  expect(useDocument.getState().notice).toMatch(/20001 rows at once; one step holds 20000/);
  const points = Array.from({ length: 2001 }, (_, k) => `p${k}`);
  expect(
    edit('Many points', [{ table: 'outline', id: 'o', before: outline, after: { ...outline, points } }]),
  ).toBe(false);
  expect(useDocument.getState().notice).toMatch(/holds 2000 points at most/);
  const large = Array.from({ length: 90 }, (_, k) =>
    pose(200 + k, Array(12_000).fill(-123456.123456789) as number[]),
  );
  const put = large.map((after) => ({ table: 'pose' as const, id: after.id, before: after, after }));
  expect(edit('Heavy', put)).toBe(false);
  expect(useDocument.getState().notice).toMatch(/too much for one step/);
  expect(posesNow()).toBe(before);
});

test('a copied pose fits outlines of as many points, also after what was copied is gone', () => {
  expect(pastePoseHere()).toMatch(/Copy a pose first/);
  const copied = currentCoordinates()!;
  copyPoseHere();
  finishDrawing('loop', [...seamAt(50)]);
  goTo(30);
  expect(pastePoseHere()).toBeNull();
  const id = useView.getState().outlineId!;
  expect(posesNow(id).map(({ frame }) => frame)).toEqual([20, 40]);
  expect(posesNow(id)[1].coordinates).toEqual(copied);
  finishDrawing('seam', seamAt(300).slice(0, 2 * N));
  expect(pastePoseHere()).toBe('The copied pose has 3 points and Seam 2 has 2; copy the outline instead.');
  kept.set('kiv-copied-pose', '{"not": "a pose"');
  expect(pastePoseHere()).toMatch(/Copy a pose first/);
});

test('a new seam sweeps the lesser side; flipped, it sweeps the other; its last points are not taken', () => {
  finishDrawing('seam', seamAt(80).slice(0, 2 * N));
  const drawn = () => useDocument.getState().document!.outlines[useView.getState().outlineId!];
  // Walking down the screen, the left of the frame lies on the right hand.
  expect(drawn()).toMatchObject({ kind: 'seam', sweptSide: 'right', name: 'Seam 2' });
  flipSide();
  expect(drawn().sweptSide).toBe('left');
  setView({ points: new Set([0]) });
  expect(removeSelectedPoints()).toMatch(/A seam needs two points/);
  expect(removePoseHere()).toMatch(/only pose/);
  deleteOutlineInHand();
  expect(Object.keys(useDocument.getState().document!.outlines)).toEqual(['o']);
});

test('by number: placed, scaled, turned and aligned about the middle or the pivot', () => {
  putAt(300, 200);
  const at = () => posesNow()[0].coordinates;
  expect([at()[0], at()[1]]).toEqual([290, 15]);
  setView({ pivot: [290, 15] });
  scaleAndTurn(50, 0);
  expect([at()[0], at()[1], at()[2 * N + 1]]).toEqual([290, 15, 200]);
  scaleAndTurn(100, 90);
  expect(at()[2 * N]).toBeCloseTo(105, 6);
  expect(at()[2 * N + 1]).toBeCloseTo(15, 6);
  setView({ points: new Set([0]) });
  expect(align('level')).toMatch(/Select the points/);
  setView({ points: new Set([0, 1]) });
  expect(align('level')).toBeNull();
  expect(at()[1]).toBeCloseTo(at()[N + 1], 9);
});

test('outlines are duplicated, and put into another crossing with all their poses', () => {
  duplicate();
  const copy = useView.getState().outlineId!;
  expect(posesNow(copy).map(({ coordinates }) => coordinates)).toEqual(
    posesNow().map(({ coordinates }) => coordinates),
  );
  expect(pasteOutline()).toMatch(/Copy an outline first/);
  copyOutline();
  useDocument.setState({ document: documentOf({ crossing: [{ ...crossing, id: 'd' }], layer: [layer] }) });
  resetView(0, null);
  expect(pasteOutline()).toBeNull();
  const put = useView.getState().outlineId!;
  expect(put).not.toBe(copy);
  expect(posesNow(put)).toHaveLength(3);
  kept.set('kiv-copied-outline', '{');
  expect(pasteOutline()).toMatch(/cannot be read/);
});
