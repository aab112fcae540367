import { sceneAt } from '../compose/scene';
import { voicesOf } from '../sound/voice';
import { applyChanges, documentOf } from './document';
import {
  type CrossingDocument,
  edgeId,
  type LayerRow,
  plainCrossing,
  plainEdge,
  plainLayer,
  plainOutline,
  plainPiece,
  plainPose,
  poseId,
} from './tables';
import { setLayer } from '../actions/layer-actions';
import type { Shot } from '../model/shot';
import { framesUsed, remainingMotion, withRemaining } from './shortened';

const [width, height] = [160, 90];
const shotOf = (id: string, frameCount: number, rate = 25): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: rate, den: 1 }, frameCount },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null },
});
const shots = { out: shotOf('out', 200), in: shotOf('in', 300, 50), matte: shotOf('matte', 120) };

const box = [20, 10, 90, 12, 88, 70, 22, 66];
const start = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by', width, height, rateNum: 25, rateDen: 1 },
      length: 40,
    },
  ],
  layer: [
    { ...plainLayer, id: 'i', role: 'incoming', shotId: 'in', position: 0, offset: 120 },
    {
      ...{ ...plainLayer, id: 't', role: 'outgoing', shotId: 'out', position: 1, offset: 70 },
      ...{ matteId: 'matte', matteFrom: 55 },
    },
  ],
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
      ...{ sweptSide: 'right', points: ['a', 'b', 'c', 'd'], shutter: 180 },
    },
  ],
  pose: [66, 80, 104].map((frame) => ({
    ...{ ...plainPose, id: poseId('o', frame), outlineId: 'o', frame, origin: 'by hand', onward: 'eased' },
    coordinates: [0, 2, 4, 6].flatMap((k) => [box[k] + frame, box[k + 1], 1, -1, 2, 2]),
  })),
  edge: [70, 90].map((frame) => ({
    ...{ ...plainEdge, id: edgeId('o', frame), outlineId: 'o', frame, onward: 'linear' },
    featherInside: frame / 10,
  })),
  stroke: [
    { id: 's', outlineId: 'o', frame: 80, position: 0, mark: 'this', radius: 9, path: [20, 20, 40, 40] },
  ],
  piece: [
    {
      ...{ ...plainPiece, id: 'p', name: 'Steps', track: 0, source: 'shot', sourceId: 'in', start: 0 },
      ...{ inSample: 100 * 960, length: 9600 },
    },
    {
      ...{ ...plainPiece, id: 'q', name: 'As it runs', track: 1, source: 'layer', sourceId: 't', start: 0 },
      ...{ inSample: 0, length: 1 },
    },
  ],
});
const set = (settings: Partial<LayerRow>) => applyChanges(start, setLayer(start, 't', settings));

/** What is seen at a frame, with the frames of shots counted from what remains. */
function seen(document: CrossingDocument, table: typeof shots, frame: number, gone: Record<string, number>) {
  return sceneAt(document, table, frame, { view: 'result', traced: null }).layers.map((draw) => ({
    ...draw,
    sourceFrame: draw.sourceFrame - (gone[draw.shotId] ?? 0),
    mixed: draw.mixed === null ? null : Math.round(1e9 * draw.mixed),
    cut:
      draw.cut.extent === 'outlined' && draw.cut.ready
        ? { ...draw.cut, ready: { ...draw.cut.ready, frame: draw.cut.ready.frame - (gone.matte ?? 0) } }
        : draw.cut,
  }));
}

test.each<[string, Partial<LayerRow>]>([
  ['as it runs', {}],
  ['mixed between frames', { speed: 60, betweens: 'mixed' }],
  ['backwards, held', { reverse: true, offset: 110, holdFrom: 84 }],
  ['ramped and trimmed', { ramp: [0, 100, 12, 300, 30, 50], rampAt: 3, trimIn: 75, trimOut: 140 }],
])('%s, a crossing of parts shows and sounds as that of the whole', (_, settings) => {
  const document = set(settings);
  const remaining = Object.fromEntries(
    Object.keys(shots).map((id) => {
      const [first, last] = framesUsed(document, shots, id)!;
      expect(last - first).toBeLessThan(shots[id as 'in'].frameCount - 50);
      return [id, { first, count: last - first + 1 }];
    }),
  );
  const gone = Object.fromEntries(Object.entries(remaining).map(([id, { first }]) => [id, first]));
  const parts = Object.fromEntries(
    Object.entries(shots).map(([id, shot]) => [id, { ...shot, frameCount: remaining[id].count }]),
  ) as typeof shots;
  const short = withRemaining(document, shots, remaining);
  let outlined = 0;
  for (let frame = 0; frame < document.crossing.length; frame++) {
    const there = seen(short, parts, frame, {});
    expect(there).toEqual(seen(document, shots, frame, gone));
    outlined += there.filter(({ cut }) => cut.extent === 'outlined').length;
  }
  expect(outlined).toBeGreaterThan(10);
  expect(short.strokes.s.frame).toBe(80 - gone.out);
  const [own, whole] = [
    voicesOf({ document: short, shots: parts, coverage: [] } as never),
    voicesOf({ document, shots, coverage: [] } as never),
  ];
  const perFrame = { p: 960, q: 1920 };
  own.forEach(({ piece, placeOf }, k) => {
    const lost = (piece.id === 'p' ? gone.in : gone.out) * perFrame[piece.id as 'p'];
    for (const sample of [0, 4800, 30_000])
      expect(placeOf(sample)).toBeCloseTo(whole[k].placeOf(sample) - lost, 6);
  });
});

test('what hangs on all of a shot keeps it whole', () => {
  expect(framesUsed(set({ steady: 40 }), shots, 'out')).toBeNull();
  const uneven = { ...shots, out: { ...shots.out, frameTimes: [0, 40_000, 90_000] } };
  expect(framesUsed(start, uneven, 'out')).toBeNull();
  // 70 to 109 are shown; the first pose lies before. Of the matte 15 to 54; of the other shot two frames for one.
  expect(framesUsed(start, shots, 'out')).toEqual([66, 110]);
  expect(framesUsed(start, shots, 'matte')).toEqual([15, 55]);
  expect(framesUsed(start, shots, 'in')).toEqual([100, 199]);
});

test('the movement of a part is the whole’s, from its first frame on', () => {
  const frames = Array.from({ length: 200 * 6 }, (_, k) => k);
  const crosser = {
    ...{ kind: 'across' as const, opens: 40, closes: 90, direction: 1 as const, speed: 20 },
    ...{ top: 0, bottom: 1, reach: 1 },
  };
  const looks = Array.from({ length: 17 * 3 }, (_, k) => k);
  const motion = remainingMotion({ frames, crosser, looks }, { first: 60, count: 25 });
  expect(motion.frames).toHaveLength(25 * 6);
  expect(motion.frames.slice(0, 8)).toEqual([0, 0, 1, 0, 0, 0, 366, 367]);
  expect([motion.crosser?.opens, motion.crosser?.closes]).toEqual([0, 24]);
  expect(motion.looks).toEqual([15, 16, 17, 18, 19, 20, 21, 22, 23]);
  expect(remainingMotion({ frames, crosser, looks }, { first: 61, count: 9 }).looks).toBeUndefined();
  expect(remainingMotion({ frames, crosser, looks }, { first: 95, count: 9 }).crosser).toBeNull();
});
