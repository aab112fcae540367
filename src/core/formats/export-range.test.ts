import { cutAt } from '../compose/cut';
import { matteOf, noPictures } from '../compose/layer-matte';
import { cutOutAt } from '../compose/scene';
import { applyChanges, documentOf } from '../document/document';
import { putMark, setCrossing, setLayer } from '../actions/layer-actions';
import { plainCrossing, plainLayer, plainOutline, plainPose, poseId } from '../document/tables';
import type { Shot } from '../model/shot';
import { MatteScratch } from '../matte/matte';
import { exportSize, shotAlone, stretchesBetweenMarks, stretchOf } from './export-range';

const [width, height] = [160, 91];
const shot: Shot = {
  ...{ id: 's', name: 'Gate', width, height, rotation: 0, rate: { num: 50, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
};
const shots = { s: shot };
const box = [20, 10, 90, 12, 88, 70, 22, 66];
const start = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width: 1920, height: 1080 },
      ...{ rateNum: 25, rateDen: 1, length: 50 },
    },
  ],
  layer: [{ ...plainLayer, id: 't', role: 'outgoing', shotId: 's', position: 0 }],
  outline: [
    {
      ...{
        ...plainOutline,
        id: 'o',
        layerId: 't',
        cutsLayerId: null,
        name: 'Gap',
        kind: 'loop',
        position: 0,
      },
      ...{ sweptSide: 'right', points: ['a', 'b', 'c', 'd'], featherInside: 4 },
    },
  ],
  pose: [10, 30].map((frame) => ({
    ...{ ...plainPose, id: poseId('o', frame), outlineId: 'o', frame, origin: 'by hand', onward: 'linear' },
    coordinates: [0, 2, 4, 6].flatMap((k) => [box[k] + frame, box[k + 1], 0, 0, 0, 0]),
  })),
});
const marked = applyChanges(
  start,
  [
    { id: 'm2', frame: 31, kind: 'closes' as const, name: 'Closes' },
    { id: 'm1', frame: 12, kind: 'opens' as const, name: 'Opens' },
    { id: 'm0', frame: 12, kind: 'mark' as const, name: 'Also' },
  ].map((mark) => putMark(start, mark)),
);

test('a stretch is from in to out, all, or between marks, with handles beyond', () => {
  const played = applyChanges(marked, setCrossing(marked, { inFrame: 5, outFrame: 40 }));
  const of = (range: Parameters<typeof stretchOf>[2], handles = 0) => {
    const { from, to } = stretchOf(played, shots, range, handles);
    return [from, to];
  };
  expect(of({ of: 'played' }, 3)).toEqual([2, 43]);
  expect(of({ of: 'whole' }, 8)).toEqual([-8, 57]);
  expect(of({ of: 'marks', fromId: 'm1', toId: 'm2' })).toEqual([12, 31]);
  // Marks may have changed places since they were chosen.
  expect(of({ of: 'marks', fromId: 'm2', toId: 'm1' })).toEqual([12, 31]);
  expect(() => of({ of: 'marks', fromId: 'gone', toId: 'm2' })).toThrow('is gone');
  // Two on one frame have nothing between them.
  expect(stretchesBetweenMarks(played).map(({ from, to }) => [from.name, to.name])).toEqual([
    ['Also', 'Closes'],
    ['Opens', 'Closes'],
  ]);
  expect(stretchesBetweenMarks(start)).toEqual([]);
});

test('sizes are even, and a part of the crossing’s', () => {
  expect(
    [1, 2, 4].map((part) => Object.values(exportSize({ width: 1919, height: 1080 }, part as 1))),
  ).toEqual([
    [1920, 1080],
    [960, 540],
    [480, 270],
  ]);
  expect(exportSize({ width: 2, height: 3 }, 4)).toEqual({ width: 2, height: 2 });
});

test('a shot alone is cut on each of its frames as in the crossing, however that places and times it', () => {
  const document = applyChanges(
    start,
    setLayer(start, 't', { offset: 12, speed: 50, turn: 8, x: 40, scale: 130, lens: -0.1 }),
  );
  const { document: alone, from, to, shotName } = stretchOf(document, shots, { of: 'traced shot' }, 9);
  expect([from, to, shotName]).toEqual([0, 59, 'Gate']);
  expect(alone.crossing).toMatchObject({ width, height: 92, rateNum: 50, length: 60 });
  const scratch = new MatteScratch();
  for (const frame of [14, 20, 29]) {
    const [scene] = cutOutAt(alone, shots, frame).layers;
    expect(scene.sourceFrame).toBe(frame);
    // Pixel for pixel; the row that makes the height even comes last.
    expect(scene.toShot.map(Math.abs)).toEqual([1, 0, 0, 1, 0, 0]);
    const crossingFrame = Array.from({ length: 200 }, (_, k) => k).find((k) => {
      const cut = cutAt(document, shots, document.layers.t, k);
      return cut.extent === 'outlined' && cut.posed[0].coordinates[0] === 20 + frame;
    });
    const cuts = [
      cutAt(alone, shots, alone.layers.t, frame),
      cutAt(document, shots, document.layers.t, crossingFrame!),
    ];
    const [own, there] = cuts.map((cut) => {
      if (cut.extent !== 'outlined') throw new Error('It is outlined there.');
      return matteOf(cut, shot, 1, scratch, noPictures).alpha;
    });
    expect(own).toEqual(there);
  }
  // An outline that cuts another layer is not the shot's own.
  const foreign = { ...document, outlines: { o: { ...document.outlines.o, cutsLayerId: 'other' } } };
  expect(shotAlone(foreign, foreign.layers.t, shot).outlines).toEqual({});
});
