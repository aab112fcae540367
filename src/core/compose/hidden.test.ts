import { applyChanges, documentOf } from '../document/document';
import {
  type CrossingDocument,
  type LayerRow,
  plainCrossing,
  plainLayer,
  plainOutline,
} from '../document/tables';
import { setCrossing, setLayer } from '../actions/layer-actions';
import { setMove } from '../actions/move-actions';
import type { Shot } from '../model/shot';
import { cutOutAt, sceneAt } from './scene';

/** What lies under a shot that covers all is left out of a scene, and only that. */

const [width, height] = [160, 90];
const shotOf = (id: string, own: Partial<Shot> = {}): Shot => ({
  ...{ id, name: id, width, height, rotation: 0, rate: { num: 25, den: 1 }, frameCount: 60 },
  ...{ colour: { matrix: 'bt709', fullRange: false }, motion: null, ...own },
});
const shots = { top: shotOf('top'), below: shotOf('below'), small: shotOf('small', { width: 80 }) };
const start = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pass-by' as const, width, height, length: 50 },
      ...{ rateNum: 25, rateDen: 1 },
    },
  ],
  layer: [
    { ...plainLayer, id: 'b', role: 'incoming', shotId: 'below', position: 0 },
    { ...plainLayer, id: 't', role: 'outgoing', shotId: 'top', position: 1 },
  ],
});
const set = (settings: Partial<LayerRow>) => applyChanges(start, setLayer(start, 't', settings));
const move = (...key: [channel: Parameters<typeof setMove>[2], value: number, second?: number]) =>
  applyChanges(start, setMove(start, 't', key[0], 0, key[1], key[2]));
const seen = (document: CrossingDocument, frame = 20) =>
  sceneAt(document, shots, frame, { view: 'result', traced: null }).layers.map(({ layerId }) => layerId);

test.each<[string, CrossingDocument]>([
  ['as it was filmed', start],
  ['mirrored', set({ flip: true })],
  ['enlarged', set({ scale: 130, x: 8 })],
  ['enlarged so far that turned it covers', set({ scale: 250, turn: 12 })],
  ['filled from another shape', set({ shotId: 'small' })],
])('%s a shot hides what is below', (_, document) => {
  expect(seen(document)).toEqual(['t']);
});

test.each<[string, CrossingDocument]>([
  ['smaller', set({ scale: 99 })],
  ['shifted', set({ x: 1 })],
  ['turned', set({ turn: 2 })],
  ['pixel for pixel and narrower', set({ shotId: 'small', fit: 'exact' })],
  ['through a lens', set({ lens: -0.1 })],
  ['faded', move('opacity', 99)],
  ['with a corner pulled', move('upper-left', 3, 2)],
  ['mixed of two frames', set({ betweens: 'mixed', speed: 60 })],
  [
    'keyed by a colour',
    {
      ...start,
      chromas: {
        t: { id: 't', cb: 90, cr: 90, tolerance: 9, softness: 9, grow: 0, clean: 0, spill: 0 },
      },
    },
  ],
  ['cut by a picture', set({ matteId: 'below' })],
])('%s it does not', (_, document) => {
  expect(seen(document, 21)).toEqual(['b', 't', ...(document.layers.t.betweens === 'mixed' ? ['t'] : [])]);
});

test('smeared by an open shutter, with an outline, or hidden itself, it does not; other views are not touched', () => {
  const moving = applyChanges(start, [
    ...setMove(start, 't', 'place', 10, 0, 0),
    ...setMove(start, 't', 'place', 30, 60, 0),
    ...setMove(start, 't', 'size', 0, 200),
    ...setCrossing(start, { moveShutter: 180 }),
  ]);
  expect(seen(moving)).toEqual(['b', 't']);
  const outline = {
    ...{ ...plainOutline, id: 'o', layerId: 't', cutsLayerId: null, name: 'Gap', kind: 'loop' as const },
    ...{ sweptSide: 'right' as const, position: 0, points: ['a', 'b', 'c'] },
  };
  const pose = {
    ...{ id: 'o@0', outlineId: 'o', frame: 0, origin: 'by hand' as const, onward: 'linear' as const },
    ...{ unsure: null, doubt: 0, offBy: [] },
    coordinates: [10, 10, 0, 0, 0, 0, 90, 10, 0, 0, 0, 0, 50, 80, 0, 0, 0, 0],
  };
  const held = { ...outline, beforeFirst: 'hold' as const, afterLast: 'hold' as const };
  expect(seen({ ...start, outlines: { o: held }, poses: { o: [pose] } })).toEqual(['b', 't']);
  expect(seen(set({ visible: false }))).toEqual(['b']);
  const both = sceneAt(start, shots, 20, { view: 'overlay', traced: 't' });
  expect(both.layers).toHaveLength(2);
});

test('a cut-out is of its own role, whatever covers it in the result', () => {
  const arrival = applyChanges(start, setCrossing(start, { plan: 'arrival' }));
  expect(seen(arrival)).toEqual(['t']);
  expect(cutOutAt(arrival, shots, 20).layers.map(({ layerId }) => layerId)).toEqual(['b']);
  expect(cutOutAt(start, shots, 20).layers.map(({ layerId }) => layerId)).toEqual(['t']);
});
