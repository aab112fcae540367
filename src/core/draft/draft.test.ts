import type { Passage } from '../begin/passage';
import { passageThrough } from '../begin/passage';
import { shownSourceFrame } from '../compose/source-frames';
import { applyChanges, documentOf, layersInOrder, playedRange } from '../document/document';
import { changeRow, type RowChange } from '../document/edit';
import { tracedLayer } from '../document/plans';
import {
  type CrossingDocument,
  plainCrossing,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
} from '../document/tables';
import type { Crosser, Shot, ShotMotion } from '../model/shot';
import { inAndOut, relaid, slipped } from './decide';
import { type Decision, decisionsInOrder, noteDecision, undoneDecision } from './decisions';
import { planFor } from './plan-for';
import { timesOfTrace } from './trace-times';

const shot = (id: string, frameCount: number): Shot => ({
  ...{
    id,
    name: id,
    width: 1280,
    height: 720,
    rotation: 0,
    rate: { num: 25, den: 1 },
    frameCount,
    motion: null,
  },
  colour: { matrix: 'bt709', fullRange: false },
});
const shots = { a: shot('a', 96), b: shot('b', 60) };
const passBy: CrossingDocument = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width: 1280, height: 720 },
      ...{ rateNum: 25, rateDen: 1, length: 96 },
    },
  ],
  layer: [
    { ...plainLayer, id: 'in', role: 'incoming', shotId: 'b', position: 0 },
    { ...plainLayer, id: 'out', role: 'outgoing', shotId: 'a', position: 1 },
  ],
});
const marked = (opens: number, closes: number) =>
  applyChanges(passBy, [
    changeRow('mark', null, { id: 'o', kind: 'opens', frame: opens, name: 'Opens' }),
    changeRow('mark', null, { id: 'q', kind: 'closes', frame: closes, name: 'Closes' }),
  ]);

const passage: Passage = {
  direction: 1,
  speed: 30,
  opens: 12,
  closes: 60,
  seenOn: [15, 20, 25, 30, 35, 40],
  way: 0.7,
};
const motion = (kind: Crosser['kind'] | null): ShotMotion => ({
  frames: [],
  crosser: kind && { kind, opens: 4, closes: 30, direction: 0, speed: 0, top: 0, bottom: 1, reach: 0.4 },
});

test('what passes in the outgoing shot is a pass-by, in the incoming one only an arrival; what only moves opens', () => {
  const nothing = { motion: null, passage: null };
  const passing = { motion: motion('opens'), passage };
  expect(planFor(passing, passing)).toMatchObject({ plan: 'pass-by', sure: 'sure' });
  expect(planFor(nothing, passing)).toMatchObject({ plan: 'arrival', sure: 'sure' });
  expect(planFor({ motion: motion('opens'), passage: { ...passage, way: 0.3 } }, nothing)).toMatchObject({
    plan: 'opening',
    sure: 'likely',
  });
  expect(planFor({ motion: null, passage: { ...passage, way: 0.3 } }, nothing)?.sure).toBe('likely');
  expect(planFor({ motion: null, passage: { ...passage, seenOn: [3, 4] } }, nothing)?.sure).toBe('likely');
  expect(planFor({ motion: motion(null), passage: null }, nothing)).toBeNull();
  // What moves all the time opens nothing.
  const street = motion('opens');
  const always = { ...street, crosser: { ...street.crosser!, closes: 640 } };
  expect(planFor({ motion: always, passage: null }, nothing)).toBeNull();
});

test('laid out as an arrival the layers change places, and the crossing is as long as what is traced then', () => {
  const changes = relaid(passBy, 'arrival', shots)!;
  const after = applyChanges(passBy, changes);
  expect(layersInOrder(after).map(({ id, keeps }) => [id, keeps])).toEqual([
    ['out', false],
    ['in', true],
  ]);
  expect(tracedLayer(after)?.id).toBe('in');
  expect(after.crossing).toMatchObject({ plan: 'arrival', length: 60 });
  // A length of somebody's own stays.
  const shorter = { ...passBy, crossing: { ...passBy.crossing, length: 80 } };
  expect(applyChanges(shorter, relaid(shorter, 'arrival', shots)!).crossing.length).toBe(80);
  expect(relaid(passBy, 'bridge', shots)).toBeNull();
  const drawn = { ...passBy, outlines: { o: { ...plainOutline, id: 'o' } as never } };
  expect(relaid(drawn, 'arrival', shots)).toBeNull();
});

test('what is played begins a second before the opening and ends a second after the closing, within the crossing', () => {
  expect(inAndOut(passBy, 40, 60)).toEqual([15, 85]);
  expect(inAndOut(passBy, 10, 90)).toEqual([0, 95]);
});

test.each([
  [40, 90, 100, false],
  [20, 90, 77, false],
  [2, 90, 61, false],
])('a shot of 60 frames seen from frame %i to the end has pictures throughout', (opens, closes, most) => {
  const document = marked(opens, closes);
  const decided = slipped(document, shots)!;
  const after = applyChanges(document, decided.changes);
  const { speed, holdFrom } = after.layers.in;
  expect(speed).toBeLessThanOrEqual(most);
  expect(speed > 50).toBe(true);
  expect(holdFrom).toBeNull();
  for (let frame = Math.max(0, opens - 5); frame <= playedRange(after)[1]; frame++)
    expect([frame, shownSourceFrame(after, after.layers.in, shots.b, frame) !== null]).toEqual([frame, true]);
});

test('one that is far too short is frozen at its end, and says so', () => {
  const document = marked(10, 90);
  const decided = slipped(document, { ...shots, b: shot('b', 20) })!;
  expect(applyChanges(document, decided.changes).layers.in).toMatchObject({ speed: 100, holdFrom: 19 });
  expect(decided).toMatchObject({ sure: 'likely', what: '“b” is frozen at its end' });
});

describe('a decision is undone alone', () => {
  const decision = (what: string): Decision => ({ step: 'Trace', what, basis: '', sure: 'sure' });
  const edits: { changes: RowChange[] }[] = [];
  let document = passBy;
  const decide = (id: string, what: string, changes: RowChange[]) => {
    edits.push({ changes: [...changes, noteDecision(document, decision(what), id)] });
    document = applyChanges(document, edits[edits.length - 1].changes);
  };
  const outline = {
    ...{ ...plainOutline, id: 'o', layerId: 'out', name: 'Seam 1', kind: 'seam' as const },
    ...{ sweptSide: 'right' as const, position: 0, points: ['p', 'q'], cutsLayerId: null },
  };
  const pose = (frame: number, x: number) => ({
    ...{ ...plainPose, id: poseId('o', frame), outlineId: 'o', frame, origin: 'carried' as const },
    ...{ onward: 'linear' as const, coordinates: Array.from({ length: 12 }, () => x) },
  });
  decide('range', 'Plays', [
    changeRow('crossing', passBy.crossing, { ...passBy.crossing, inFrame: 5, outFrame: 70 }),
  ]);
  decide('begun', 'Begun', [changeRow('outline', null, outline), changeRow('pose', null, pose(10, 10))]);
  decide('carried', 'Carried', [
    changeRow('pose', null, pose(11, 11)),
    changeRow('pose', null, pose(12, 12)),
  ]);

  decide('soft', 'Soft', [changeRow('outline', outline, { ...outline, featherInside: 4 })]);

  const undo = (id: string, of = document) => {
    const undone = undoneDecision(of, edits, id);
    return undone && { ...undone, after: applyChanges(of, undone.changes) };
  };

  test('whatever came after it', () => {
    const { after, along } = undo('range')!;
    expect(along).toEqual([]);
    expect(after.crossing).toMatchObject({ inFrame: 0, outFrame: null });
    expect(after.poses.o).toHaveLength(3);
    expect(decisionsInOrder(after).map(({ id }) => id)).toEqual(['begun', 'carried', 'soft']);
  });

  test('with those that rest on it', () => {
    const { after, along } = undo('begun')!;
    expect(along.map(({ id }) => id)).toEqual(['carried', 'soft']);
    expect(after.outlines).toEqual({});
    expect(after.poses.o ?? []).toEqual([]);
    expect(undo('carried')!.along).toEqual([]);
    expect(after.crossing.inFrame).toBe(5);
  });

  test('what was put right by hand since stays; what rests on that is not undone', () => {
    const own = { ...pose(12, 99), origin: 'by hand' as const };
    const corrected = applyChanges(document, [changeRow('pose', pose(12, 12), own)]);
    expect(undo('carried', corrected)!.after.poses.o.map(({ frame }) => frame)).toEqual([10, 12]);
    expect(undo('begun', corrected)).toBeNull();
    expect(undo('nobody')).toBeNull();
  });
});

test('a trace that leaves the picture at both ends says when it opens and closes; one that ends within does not', () => {
  const at = (frame: number, x: number) => ({
    frame,
    coordinates: [x, 0, 0, 0, 0, 0, x - 20, 720, 0, 0, 0, 0],
  });
  const poses = [-30, 10, 300, 1290, 1310].map((x, k) => at(k + 4, x));
  expect(timesOfTrace(poses, 1280)).toEqual({ opens: 5, closes: 7 });
  expect(timesOfTrace(poses.slice(1, 4), 1280)).toEqual({ opens: null, closes: null });
  expect(timesOfTrace([], 1280)).toEqual({ opens: null, closes: null });
});

test('of edges seen on many frames those make a passage that go on evenly with the ground behind them', () => {
  const seen = (frame: number, x: number, groundLeft: boolean, clear = 0.8) => ({
    ...{ frame, clear, groundLeft },
    points: [
      [x, 0],
      [x - 40, 720],
    ] as [number, number][],
  });
  const course = [6, 10, 14, 18, 22].map((frame) => seen(frame, 30 * (frame - 4), true));
  const stray = [
    // Something else, that stands, that goes the other way, and that is not clear.
    ...[6, 10, 14, 18].map((frame) => seen(frame, 800, true)),
    ...[6, 10, 14].map((frame) => seen(frame, 900 - 30 * frame, true)),
    ...[6, 10, 14, 18, 22, 26].map((frame) => seen(frame, 20 * frame, false, 0.2)),
  ];
  const found = passageThrough([...stray, ...course], 1280, 'trailing')!;
  expect(found.looks).toEqual(course);
  expect(found).toMatchObject({ direction: 1, speed: 30, opens: 4 });
  // Its last row reaches the right border 40 px after its first.
  expect(found.closes).toBe(48);
  expect(passageThrough(course, 1280, 'leading')).toBeNull();
  expect(passageThrough(stray, 1280, 'trailing')).toBeNull();
});
