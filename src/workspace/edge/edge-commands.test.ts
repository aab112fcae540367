import { documentOf } from '@/core/document/document';
import { plainCrossing, plainLayer, plainOutline, plainPose, poseId } from '@/core/document/tables';
import type { Shot } from '@/core/model/shot';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document/document-store';
import { hang, hingeOf, swingOpen } from '../move/leaf-commands';
import { resetView, setView, useView } from '../view/view-store';
import {
  blendIn,
  changeEdge,
  draftEdge,
  edgeNow,
  edgeOnward,
  setFactor,
  toggleEdgeKey,
} from './edge-commands';

/** What a person does to an edge and its keys, and to leaves, on the stores as the page holds them. */

Object.assign(globalThis, { localStorage: { getItem: () => null, setItem: () => undefined } });

const shot: Shot = {
  ...{ id: 's', name: 'Gate', width: 640, height: 360, rotation: 0, rate: { num: 25, den: 1 } },
  ...{ frameCount: 90, colour: { matrix: 'bt709', fullRange: false }, motion: null },
};
const set = { id: 'c', name: 'T', plan: 'hinged leaves' as const, width: 640, height: 360, length: 60 };
const box = [100, 60, 220, 60, 220, 300, 100, 300];

beforeEach(() => {
  const document = documentOf({
    crossing: [{ ...plainCrossing, ...set, rateNum: 25, rateDen: 1 }],
    layer: [
      { ...plainLayer, id: 'in', role: 'incoming', shotId: 's', position: 0 },
      // Its frame 30 is the crossing's 20.
      { ...plainLayer, id: 'l', role: 'outgoing', shotId: 's', position: 1, offset: 10 },
    ],
    outline: [
      {
        ...{ ...plainOutline, id: 'o', layerId: 'l', cutsLayerId: null, name: 'Left leaf', kind: 'loop' },
        ...{ sweptSide: 'right', position: 0, points: ['a', 'b', 'c', 'd'], featherInside: 4 },
      },
    ],
    pose: [
      {
        ...{ ...plainPose, id: poseId('o', 30), outlineId: 'o', frame: 30, origin: 'by hand' },
        ...{ onward: 'linear', coordinates: [0, 2, 4, 6].flatMap((k) => [box[k], box[k + 1], 0, 0, 0, 0]) },
      },
    ],
  });
  useDocument.setState({ document, shots: [{ shot } as ShotMedia], history: [], notice: null });
  resetView(20, 'o');
});

const documentNow = () => useDocument.getState().document!;
const outline = () => documentNow().outlines.o;
const keys = () =>
  (documentNow().edges.o ?? []).map(({ frame, featherInside, onward }) => [frame, featherInside, onward]);

test('without keys an edge is set for all frames; with them on the frame in view, of the shot’s own count', () => {
  changeEdge('Feather', { featherInside: 6 });
  expect([outline().featherInside, keys()]).toEqual([6, []]);
  toggleEdgeKey();
  expect(keys()).toEqual([[30, 6, 'linear']]);
  setView({ frame: 40 });
  draftEdge({ featherInside: 20 });
  expect(edgeNow(useView.getState().draft)?.featherInside).toBe(20);
  expect(keys()).toHaveLength(1);
  changeEdge('Feather', { featherInside: 20 });
  expect([keys(), useView.getState().draft]).toEqual([
    [
      [30, 6, 'linear'],
      [50, 20, 'linear'],
    ],
    null,
  ]);
  expect(outline().featherInside).toBe(6);
  setView({ frame: 30 });
  toggleEdgeKey();
  // Half-way between both.
  expect(keys()[1]).toEqual([40, 13, 'linear']);
  setView({ frame: 35 });
  edgeOnward('hold');
  expect(keys()[1]).toEqual([40, 13, 'hold']);
  setView({ frame: 30 });
  toggleEdgeKey();
  expect(keys()).toHaveLength(2);
  expect(useDocument.getState().history.at(-1)!.label).toBe('Remove the edge’s key, frame 30');
});

test('points are softened by factors, and have none where all are one again', () => {
  setView({ points: new Set([1, 2]) });
  setFactor(3);
  expect(outline().factors).toEqual([1, 3, 3, 1]);
  setView({ points: new Set([2]) });
  setFactor(1);
  expect(outline().factors).toEqual([1, 3, 1, 1]);
  setView({ points: new Set([1]) });
  setFactor(1);
  expect(outline().factors).toEqual([]);
});

test('mixing is chosen once; the same again is no edit', () => {
  blendIn('linear sRGB');
  blendIn('linear sRGB');
  expect(documentNow().crossing.blend).toBe('linear sRGB');
  expect(useDocument.getState().history.map(({ label }) => label)).toEqual(['Mix in linear light, sRGB']);
});

test('a loop is hung by a side, swings open from a frame, and is cut as any other again', () => {
  expect(hang(outline(), 'right')).toBeNull();
  // The side from the second point to the third is on the right.
  expect([outline().hinge, outline().afterLast]).toEqual(['b', 'hold']);
  expect(hingeOf(documentNow(), outline())).toBe('right');
  expect(swingOpen([outline()], 55)).toContain('not twelve frames left');
  expect(swingOpen([outline()], 20)).toBeNull();
  const swings = Object.values(documentNow().moves).map(({ channel, frame, value }) => [
    channel,
    frame,
    value,
  ]);
  expect(swings[0]).toEqual(['swing', 20, 0]);
  expect(swings.at(-1)![2]).toBeGreaterThan(60);
  // What is in hand stays so.
  expect(useView.getState().moverId).toBeNull();
  expect(hang(outline(), null)).toBeNull();
  expect(outline().hinge).toBeNull();
  useDocument.setState({ document: { ...documentNow(), poses: {} } });
  expect(hang(outline(), 'left')).toBe('Trace the leaf on a frame first.');
});
