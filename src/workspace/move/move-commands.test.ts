import { documentOf } from '@/core/document/document';
import { moveId, plainCrossing, plainLayer } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import { sourceAt } from '@/core/time/frame-table';
import { isSoundRamp } from '@/core/time/ramp';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { resetView, setView, useView } from '../view/view-store';
import {
  changeMove,
  copySelectedKeys,
  dragApart,
  dragKeys,
  dragValue,
  goToMoveKey,
  keysInHand,
  moverAt,
  pasteKeys,
  removeSelectedKeys,
  rest,
  runOn,
  togetherWith,
  toggleMoveKey,
  typeMove,
} from './move-commands';
import {
  changeSpeedHere,
  dragSpeedKeys,
  noRamp,
  rampedLayer,
  remedyRamp,
  runReadyRamp,
  speedKeyId,
  toggleSpeedKey,
} from './ramp-commands';

/** What a person does to keys of moves and of the speed, on the stores as the page holds them. */

jest.mock('../check/checks-store', () => ({ checksBegun: () => Promise.resolve(null) }));
Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const shot = {
  ...{ id: 's', name: 'Window', width: 1280, height: 720, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 90, colour: { matrix: 'bt709', fullRange: false }, motion: null },
} as Shot;
const set = { id: 'c', name: 'T', plan: 'pass-by' as const, width: 1280, height: 720, length: 60 };

beforeEach(() => {
  const layers = (['incoming', 'outgoing'] as const).map((role, position) => ({
    ...{ ...plainLayer, id: role, role, shotId: 's', position },
  }));
  const opens = { id: 'm', frame: 24, kind: 'opens' as const, name: 'Opens' };
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
  setView({ step: 'Move', moverId: 'outgoing' });
});

const documentNow = () => useDocument.getState().document!;
const labels = () => useDocument.getState().history.map(({ label }) => label);
const keys = (ownerId = 'outgoing') =>
  Object.values(documentNow().moves)
    .filter((move) => move.ownerId === ownerId)
    .map(({ channel, frame, value, second }) => [channel, frame, value, second])
    .sort((a, b) => Number(a[1]) - Number(b[1]));
const select = (...frames: number[]) =>
  setView({ moveKeys: new Set(frames.map((frame) => moveId('outgoing', 'size', frame))) });

test('a change makes a key on the frame; the same again makes none, and a draft is not kept', () => {
  changeMove({ size: [140] }, true);
  expect(useView.getState().draft).toHaveLength(1);
  expect(keys()).toEqual([]);
  changeMove({ size: [140] });
  expect([keys(), useView.getState().draft]).toEqual([[['size', 20, 140, 0]], null]);
  changeMove({ size: [140] });
  changeMove({ place: [12.3456, -7] });
  expect(keys()).toEqual([
    ['size', 20, 140, 0],
    ['place', 20, expect.closeTo(12.3456, 1), -7],
  ]);
  expect(labels()).toHaveLength(2);
  expect(labels()[0]).toContain('outgoing');
  // What no key can be stays within its bounds.
  changeMove({ size: [1e9] });
  expect(Number(keys()[0][2])).toBeLessThan(1e6);
});

test('a number that is typed makes a key though it is what it was; one that holds everywhere says so', () => {
  typeMove('opacity', [100]);
  expect([keys(), useDocument.getState().notice]).toEqual([[['opacity', 20, 100, 0]], null]);
  setView({ frame: 40 });
  typeMove('opacity', [0]);
  expect(keys().map(([, frame, value]) => [frame, value])).toEqual([
    [20, 100],
    [40, 0],
  ]);
  expect(moverAt(20)?.opacity).toBe(100);
  typeMove('turn', [4]);
  expect(useDocument.getState().notice).toContain('Turn is the same on every frame now');
});

test('keys of a push are taken, retimed and copied as one, those of shots that go along too', () => {
  for (const owner of ['outgoing', 'incoming'])
    for (const frame of [10, 30]) {
      setView({ moverId: owner, frame });
      typeMove('place', [frame, 0]);
      typeMove('size', [100 + frame]);
    }
  setView({ moverId: 'outgoing' });
  const taken = togetherWith(moveId('outgoing', 'size', 30));
  expect([...taken].sort()).toEqual(
    ['incoming', 'outgoing'].flatMap((owner) =>
      (['place', 'size'] as const).map((channel) => moveId(owner, channel, 30)),
    ),
  );
  dragKeys(taken, 5, false);
  const framesOf = (owner: string) => keys(owner).map(([channel, frame]) => `${channel} ${frame}`);
  for (const owner of ['outgoing', 'incoming'])
    expect(framesOf(owner).sort()).toEqual(['place 10', 'place 35', 'size 10', 'size 35']);
  expect(copySelectedKeys()).toBe(true);
  setView({ frame: 50 });
  expect(pasteKeys()).toBeNull();
  expect(framesOf('incoming')).toContain('size 50');
  expect(framesOf('outgoing')).toContain('place 50');
  // One that stands alone is taken alone.
  typeMove('opacity', [30]);
  const alone = moveId('outgoing', 'opacity', 50);
  expect([...togetherWith(alone)]).toEqual([alone]);
});

test('keys are made as things stand, taken away, gone to, and run on as chosen', () => {
  changeMove({ size: [120] });
  setView({ frame: 40 });
  changeMove({ size: [200] });
  setView({ frame: 30 });
  toggleMoveKey('size');
  // Half-way between 120 and 200: sizes go by factors.
  expect(keys()[1]).toEqual(['size', 30, expect.closeTo(Math.sqrt(120 * 200), 6), 0]);
  expect(goToMoveKey(1)).toBeNull();
  expect(useView.getState().frame).toBe(40);
  expect(goToMoveKey(1)).toBe('There is no key of a move after this frame.');
  setView({ frame: 30 });
  toggleMoveKey('size');
  expect(keys()).toHaveLength(2);
  setView({ frame: 25 });
  expect(keysInHand().map(({ frame }) => frame)).toEqual([20]);
  runOn('hold');
  expect(moverAt(39)?.size).toBeCloseTo(120, 9);
  select(20, 40);
  expect(removeSelectedKeys()).toBe(true);
  expect([keys(), removeSelectedKeys()]).toEqual([[], false]);
});

test('keys are shifted, drawn apart, dragged in value, copied to another layer, and put at rest', () => {
  for (const [frame, size] of [
    [10, 110],
    [20, 150],
    [30, 200],
  ]) {
    setView({ frame });
    changeMove({ size: [size] });
  }
  select(20, 30);
  const held = useView.getState().moveKeys;
  dragKeys(held, 5, true);
  expect(keys().map(([, frame]) => frame)).toEqual([10, 20, 30]);
  dragKeys(held, 5, false);
  expect(keys().map(([, frame]) => frame)).toEqual([10, 25, 35]);
  expect([...useView.getState().moveKeys]).toEqual(
    [25, 35].map((frame) => moveId('outgoing', 'size', frame)),
  );
  // They do not leave the crossing.
  dragKeys(useView.getState().moveKeys, 500, false);
  expect(keys().map(([, frame]) => frame)).toEqual([10, 49, 59]);
  dragKeys(useView.getState().moveKeys, -24, false);
  select(10, 25, 35);
  // The last one ten frames later: those between go along by their share, the first stays.
  dragApart(useView.getState().moveKeys, moveId('outgoing', 'size', 35), 10, false);
  expect(keys().map(([, frame]) => frame)).toEqual([10, 31, 45]);
  dragValue(moveId('outgoing', 'size', 10), 80, false);
  expect(keys()[0]).toEqual(['size', 10, 80, 0]);
  const before = labels().length;
  dragValue(moveId('outgoing', 'size', 10), 80, false);
  expect(labels()).toHaveLength(before);
  select(31, 45);
  expect(copySelectedKeys()).toBe(true);
  setView({ moverId: 'incoming', frame: 3 });
  expect(pasteKeys()).toBeNull();
  expect(keys('incoming').map(([, frame, value]) => [frame, value])).toEqual([
    [3, 150],
    [17, 200],
  ]);
  setView({ step: 'Trace' });
  expect(pasteKeys()).toBe(false);
  setView({ step: 'Move' });
  rest();
  expect([keys('incoming'), keys()]).toEqual([[], expect.any(Array)]);
  expect(keys()).toHaveLength(3);
});

test('speed keys leave the frame on screen as it is; dragged ones stay within and give way; the whole takes all along', () => {
  const ramp = () => [...rampedLayer()!.ramp];
  const shown = () => sourceAt(rampedLayer()!, documentNow().crossing, shot, useView.getState().frame);
  const before = shown();
  changeSpeedHere(200);
  expect([ramp(), shown()]).toEqual([[20, 200], before]);
  setView({ frame: 40 });
  toggleSpeedKey();
  expect(ramp()).toEqual([20, 200, 40, 200]);
  const later = shown();
  expect(later).toBe(before + 40);
  changeSpeedHere(50);
  expect([ramp(), shown()]).toEqual([[20, 200, 40, 50], later]);
  changeSpeedHere(50);
  expect(shown()).toBe(later);
  dragSpeedKeys(rampedLayer()!, new Set([20]), 20, false);
  expect(ramp()).toEqual([40, 200]);
  expect([...useView.getState().moveKeys]).toEqual([speedKeyId(40)]);
  dragSpeedKeys(rampedLayer()!, new Set([40]), 500, false);
  expect(ramp()).toEqual([59, 200]);
  toggleSpeedKey();
  expect(removeSelectedKeys()).toBe(true);
  expect(isSoundRamp(ramp())).toBe(true);
  const last = shown();
  noRamp();
  expect([ramp(), shown()]).toEqual([[], last]);
  expect(runReadyRamp(10, 12)).toBe(
    'A ramp needs at least four frames. Set the first and the last frame farther apart.',
  );
  setView({ moverId: 'c' });
  const loss = runReadyRamp(10, 40);
  if (!loss || typeof loss === 'string') throw new Error('Nothing is missed.');
  expect(loss.says).toContain('have no picture');
  const [incoming, outgoing] = [documentNow().layers.incoming, documentNow().layers.outgoing];
  expect(incoming.ramp).toEqual([10, 100, 20, 340, 30, 340, 40, 100]);
  expect([outgoing.ramp, outgoing.rampAt, useView.getState().lane]).toEqual([incoming.ramp, 25, 'speed']);
  expect(labels().at(-1)).toContain('whole crossing');
  const frozen = loss.remedies.find(({ does }) => does === 'Freeze the last frames')!;
  remedyRamp(frozen);
  expect([documentNow().layers.incoming.holdFrom, labels().at(-1)]).toEqual([89, frozen.does]);
});
