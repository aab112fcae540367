import { applyChanges, documentOf, layersInOrder } from '../document/document';
import { tracedLayer } from '../document/plans';
import {
  type CrossingDocument,
  moveId,
  plainCrossing,
  plainLayer,
  plainOutline,
  plainPose,
  poseId,
} from '../document/tables';
import { duplicateLayer } from './duplicate-layer';
import { traceOn } from './layer-actions';

const document: CrossingDocument = documentOf({
  crossing: [
    {
      ...{ ...plainCrossing, id: 'c', name: 'T', plan: 'pull-back' as const, width: 64, height: 36 },
      ...{ rateNum: 25, rateDen: 1, length: 50 },
    },
  ],
  layer: [
    { ...plainLayer, id: 'out', role: 'outgoing', shotId: 'a', position: 0 },
    { ...plainLayer, id: 'in', role: 'incoming', shotId: 'b', position: 1, offset: 7, scale: 120 },
  ],
  outline: [
    {
      ...{ ...plainOutline, id: 'o', layerId: 'in', cutsLayerId: 'out', name: 'Window', kind: 'loop' },
      ...{ sweptSide: 'right', position: 0, points: ['p', 'q', 'r'] },
    },
  ],
  pose: [
    {
      ...{ id: poseId('o', 3), outlineId: 'o', frame: 3, ...plainPose, origin: 'by hand', onward: 'linear' },
      coordinates: Array.from({ length: 18 }, (_, k) => k),
    },
  ],
  move: [
    {
      ...{ id: moveId('in', 'size', 5), ownerId: 'in', channel: 'size', frame: 5, value: 150, second: 0 },
      ...{ third: 0, onward: 'eased', ease: [] },
    },
  ],
});
let made = 0;
const newId = () => `n${made++}`;
const all = { time: true, place: true, keys: true, outlines: true };

test('a layer is duplicated with what is wanted of it, above or beneath', () => {
  const way = { above: true, along: all, name: 'Window 2', still: false };
  const { id, changes } = duplicateLayer(document, 'in', way, newId);
  const after = applyChanges(document, changes);
  expect(layersInOrder(after).map((layer) => layer.id)).toEqual(['out', 'in', id]);
  expect(after.layers[id]).toMatchObject({ name: 'Window 2', offset: 7, scale: 120, shotId: 'b' });
  const [copy] = Object.values(after.outlines).filter(({ layerId }) => layerId === id);
  expect(copy).toMatchObject({ name: 'Window', cutsLayerId: 'out', position: 1 });
  expect(after.poses[copy.id][0].coordinates).toEqual(document.poses.o[0].coordinates);
  expect(after.moves[moveId(id, 'size', 5)].value).toBe(150);
  expect(tracedLayer(after)?.id).toBe('in');
  const bare = { time: false, place: false, keys: false, outlines: false };
  const beneath = duplicateLayer(document, 'in', { ...way, above: false, along: bare }, newId);
  const plain = applyChanges(document, beneath.changes);
  expect(layersInOrder(plain).map((layer) => layer.id)).toEqual(['out', beneath.id, 'in']);
  expect(plain.layers[beneath.id]).toMatchObject({ offset: 0, scale: 100 });
  expect([Object.keys(plain.outlines).length, Object.keys(plain.moves).length]).toEqual([1, 1]);
});

test('tracing stays with the layer that has outlines when a shot is added, unless another is chosen', () => {
  const added = { ...plainLayer, id: 'new', role: 'incoming' as const, shotId: 'c', position: 2 };
  const more = { ...document, layers: { ...document.layers, new: added } };
  expect(tracedLayer(more)?.id).toBe('in');
  const chosen = applyChanges(more, traceOn(more, 'new'));
  expect(tracedLayer(chosen)?.id).toBe('new');
  expect(tracedLayer(applyChanges(chosen, traceOn(chosen, 'out')))?.id).toBe('out');
  // Before anything is drawn it is the one that is seen.
  const empty = {
    ...more,
    outlines: {},
    poses: {},
    layers: { ...more.layers, new: { ...added, visible: false } },
  };
  expect(tracedLayer(empty)?.id).toBe('in');
});
