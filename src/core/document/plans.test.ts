import { cutAt } from '../compose/cut';
import { sceneAt } from '../compose/scene';
import { coverageAt } from '../compose/coverage-curve';
import { placementOf, shownScale } from '../compose/placement';
import { applyAffine } from '../geometry/affine';
import { MatteScratch } from '../matte/matte';
import { applyChanges, documentOf } from './document';
import { changeRow } from './edit';
import { drawFirsts, firstsOf } from '../actions/first-outlines';
import { layOut, nextOutline, tracedLayer } from './plans';
import { plainPose, type OutlineRow, plainLayer, plainOutline, type PoseRow, poseId } from './tables';
import type { Shot } from '../model/shot';

const crossing = {
  id: 'c',
  name: 'Test',
  plan: 'bridge' as const,
  width: 64,
  height: 36,
  rateNum: 25,
  rateDen: 1,
  length: 40,
  inFrame: 0,
  outFrame: null,
  blend: 'display' as const,
  moveShutter: 0,
  blurBorder: 'extend' as const,
};
const shot = (id: string, rest: Partial<Shot> = {}): Shot => ({
  id,
  name: id,
  width: 64,
  height: 36,
  rotation: 0,
  rate: { num: 25, den: 1 },
  frameCount: 50,
  colour: { matrix: 'bt709', fullRange: false },
  motion: null,
  ...rest,
});
const seam = (id: string, cutsLayerId: string | null, position: number): OutlineRow => ({
  ...plainOutline,
  id,
  layerId: 'passing',
  cutsLayerId,
  name: id,
  kind: 'seam',
  sweptSide: 'left',
  position,
  points: ['a', 'b'],
});
const pose = (outlineId: string, frame: number, x: number): PoseRow => ({
  id: poseId(outlineId, frame),
  outlineId,
  frame,
  ...plainPose,
  origin: 'by hand',
  onward: 'linear',
  coordinates: [x, -5, 0, 0, 0, 0, x, 41, 0, 0, 0, 0],
});
const ids = ['incoming', 'passing', 'outgoing'];
let n = 0;
const layers = layOut(
  'bridge',
  { incoming: 'in', passing: 'by', outgoing: 'out' },
  { in: 50, by: 50, out: 1 },
  () => ids[n++],
);
const shots = { in: shot('in'), by: shot('by'), out: shot('out', { frameCount: 1 }) };

test('the layers of a plan', () => {
  expect(() => layOut('bridge', { outgoing: 'a', incoming: 'b' }, {}, () => 'x')).toThrow(
    'needs the passing shot',
  );
  // A still is held for good.
  expect(layers.map(({ role, holdFrom }) => [role, holdFrom])).toEqual([
    ['incoming', null],
    ['passing', null],
    ['outgoing', 0],
  ]);
});

test('a bridge: the front edge cuts the outgoing shot, the back edge the passing one, each where it was traced', () => {
  const empty = documentOf({ crossing: [crossing], layer: layers });
  expect(tracedLayer(empty)?.role).toBe('passing');
  expect(nextOutline(empty, 'passing')).toEqual({
    purpose: 'front edge',
    name: 'Front edge',
    cutsLayerId: 'outgoing',
  });
  // The passing object runs leftwards: front edge from 64 to 0 in frames 5 to 21, its back edge 10 frames later.
  // With y down, left of a line drawn downward is the side of the greater x.
  const poses = [pose('front', 5, 64), pose('front', 21, 0), pose('back', 15, 64), pose('back', 31, 0)];
  const document = documentOf({
    crossing: [crossing],
    layer: layers,
    outline: [{ ...seam('front', 'outgoing', 0), purpose: 'front edge' }, seam('back', null, 1)],
    pose: poses,
  });
  expect(nextOutline(document, 'passing')).toEqual({
    purpose: 'back edge',
    name: 'Back edge',
    cutsLayerId: null,
  });
  const seenAt = (frame: number) =>
    sceneAt(document, shots, frame, { view: 'result', traced: null }).layers.map(({ role }) => role);
  // What lies under a shot that covers all is left out.
  expect(seenAt(3)).toEqual(['outgoing']);
  expect(seenAt(13)).toEqual(['passing', 'outgoing']);
  expect(seenAt(18)).toEqual(['incoming', 'passing', 'outgoing']);
  expect(seenAt(25)).toEqual(['incoming', 'passing']);
  expect(seenAt(33)).toEqual(['incoming']);
  const scratch = new MatteScratch();
  expect([4, 23, 32].map((frame) => coverageAt(document, shots, frame, scratch))).toEqual([
    0,
    expect.closeTo(0.5, 2),
    1,
  ]);
  // The outgoing shot shown twice as large and mirrored: the edge stays where it is in the crossing.
  const large = {
    ...document,
    layers: { ...document.layers, outgoing: { ...layers[2], scale: 200, flip: true } },
  };
  const cut = cutAt(large, shots, large.layers.outgoing, 13);
  if (cut.extent !== 'outlined') throw new Error('The front edge is not there.');
  const [{ outline, coordinates }] = cut.posed;
  const back = placementOf(crossing, large.layers.outgoing, shots.out, 0);
  expect(applyAffine(back, coordinates[0], coordinates[1])).toEqual([
    expect.closeTo(32, 9),
    expect.closeTo(-5, 9),
  ]);
  expect(outline.sweptSide).toBe('right');
});

test('what a bridge begins with by itself is both its edges, then what is missing; they cut as drawn ones do', () => {
  const empty = documentOf({ crossing: [crossing], layer: layers });
  const found = firstsOf(empty, 'passing').map((first, k) => ({
    ...first,
    id: `first ${k}`,
    frame: 10 + k,
    coordinates: [30, 0, 0, 0, 0, 0, 30, 36, 0, 0, 0, 0],
  }));
  const drawn = applyChanges(
    empty,
    drawFirsts(empty, 'passing', found, () => `id ${n++}`),
  );
  const meant = ({ outlines }: typeof drawn) =>
    Object.values(outlines).map(({ name, cutsLayerId, sweptSide }) => [name, cutsLayerId, sweptSide]);
  // Before the front edge ground goes under: the object's side is swept; behind the back edge the ground's is.
  expect(meant(drawn)).toEqual([
    ['Front edge', 'outgoing', 'left'],
    ['Back edge', null, 'right'],
  ]);
  expect(found.map(({ on }) => on)).toEqual(['leading', 'trailing']);
  expect(firstsOf(drawn, 'passing')).toEqual([]);
  // Names are free.
  const renamed = Object.values(drawn.outlines).map((row) =>
    changeRow('outline', row, { ...row, name: 'Crate' }),
  );
  expect(firstsOf(applyChanges(drawn, renamed), 'passing')).toEqual([]);
  const [front] = found;
  const half = applyChanges(
    empty,
    drawFirsts(empty, 'passing', [front], () => `id ${n++}`),
  );
  expect(firstsOf(half, 'passing').map(({ on }) => on)).toEqual(['trailing']);
  expect(firstsOf(empty, 'outgoing')).toEqual([]);
});

test('an arrival: nothing of the incoming shot before its first pose, all of it after the last', () => {
  const arrival = { ...crossing, plan: 'arrival' as const };
  const two = layOut('arrival', { outgoing: 'out', incoming: 'in' }, {}, () => `l${n++}`);
  const top = two[1];
  const row = { ...seam('edge', null, 0), layerId: top.id };
  const poses = [pose('edge', 10, 64), pose('edge', 20, 0)];
  const document = documentOf({ crossing: [arrival], layer: two, outline: [row], pose: poses });
  const seenAt = (frame: number) =>
    sceneAt(document, shots, frame, { view: 'result', traced: null }).layers.map(
      ({ role, cut }) => `${role} ${cut.extent}`,
    );
  expect(tracedLayer(document)).toBe(top);
  expect(seenAt(9)).toEqual([]);
  expect(seenAt(15)).toEqual(['incoming outlined']);
  expect(seenAt(25)).toEqual(['incoming none']);
  const scratch = new MatteScratch();
  expect([9, 15, 21].map((frame) => coverageAt(document, shots, frame, scratch))).toEqual([
    0,
    expect.closeTo(0.5, 2),
    1,
  ]);
});

test('placement: fill, fit, exact, shift, turn and flip, about the middle; enlarging is told', () => {
  const hd = { ...crossing, width: 1280, height: 720 };
  const small = shot('s', { width: 640, height: 480 });
  const layer = { ...plainLayer, id: 'l', role: 'incoming' as const, shotId: 's', position: 0 };
  const corner = (settings: object) =>
    applyAffine(placementOf(hd, { ...layer, ...settings }, small, 0), 0, 0);
  expect(corner({})).toEqual([0, -120]);
  expect(corner({ fit: 'fit' })).toEqual([160, 0]);
  expect(corner({ fit: 'exact', x: 10, y: -4 })).toEqual([330, 116]);
  expect(corner({ fit: 'exact', flip: true })).toEqual([960, 120]);
  const [x, y] = corner({ fit: 'exact', turn: 90 });
  expect([x, y]).toEqual([expect.closeTo(880, 9), expect.closeTo(40, 9)]);
  expect(shownScale(hd, layer, small)).toBe(200);
  expect(shownScale(hd, { ...layer, fit: 'exact', scale: 50 }, small)).toBe(50);
});
