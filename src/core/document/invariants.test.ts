import { applyChanges, documentOf } from './document';
import { changeRow, type RowChange } from './edit';
import { inconsistencyOf, inconsistencyOfWhole } from './invariants';
import { hasOwnIds, namedBy, tablesNaming, withIdsRenamed } from './references';
import {
  edgeId,
  moveId,
  plainCrossing,
  plainEdge,
  plainLayer,
  plainOutline,
  plainPiece,
  plainPose,
  poseId,
  type Table,
  tables,
} from './tables';
import { tableNames } from './document';

const crossing = {
  ...{ ...plainCrossing, id: 'c', name: 'A', plan: 'pass-by' as const, width: 64, height: 36 },
  ...{ rateNum: 25, rateDen: 1, length: 40 },
};
const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 's', position: 0 };
const outline = {
  ...{ ...plainOutline, id: 'o', layerId: 'l', cutsLayerId: null, name: 'Door', kind: 'loop' as const },
  ...{ sweptSide: 'left' as const, position: 0, points: ['a', 'b', 'c'] },
};
const part = { ...outline, id: 'p', subjectId: 'o', position: 1 };
const pose = {
  ...{ ...plainPose, id: poseId('o', 4), outlineId: 'o', frame: 4, origin: 'by hand' as const },
  coordinates: new Array<number>(18).fill(1),
};
const key = {
  ...{ id: moveId('l', 'size', 3), ownerId: 'l', channel: 'size' as const, frame: 3 },
  ...{ onward: 'linear' as const, ease: [], value: 100, second: 0, third: 0 },
};
const swing = { ...key, id: moveId('o', 'swing', 3), ownerId: 'o', channel: 'swing' as const, value: 20 };
const piece = {
  ...{ ...plainPiece, id: 'k', name: 'Steps', track: 0, source: 'layer' as const, sourceId: 'l' },
  ...{ start: 0, inSample: 0, length: 100 },
};
const whole = applyChanges(
  documentOf({ crossing: [crossing], layer: [layer], outline: [outline, part], pose: [pose] }),
  [changeRow('move', null, key), changeRow('move', null, swing), changeRow('piece', null, piece)],
);

/** Why the document does not hold together after a change; the whole says the same as what was touched. */
function brokenBy(...changes: RowChange[]): string | null {
  const after = applyChanges(whole, changes);
  const why = inconsistencyOf(after, changes);
  expect(inconsistencyOfWhole(after) === null).toBe(why === null);
  return why;
}

test('a document that holds together does, and each way of breaking it is named', () => {
  expect(inconsistencyOfWhole(whole)).toBeNull();
  const remake = <T extends 'outline' | 'layer' | 'move' | 'piece'>(table: T, row: object, change: object) =>
    brokenBy(changeRow(table, row as never, { ...row, ...change } as never));
  expect(remake('outline', outline, { name: 'Gate' })).toBeNull();
  // References.
  expect(remake('outline', outline, { layerId: 'gone' })).toBe('An outline needs its layer.');
  expect(remake('outline', outline, { cutsLayerId: 'gone' })).toBe('An outline needs its layer.');
  expect(remake('outline', part, { subjectId: 'gone' })).toMatch(/names another that is not there/);
  expect(brokenBy(changeRow('outline', outline, null))).toMatch(/needs its outline/);
  expect(brokenBy(changeRow('layer', layer, null))).toMatch(/needs its layer/);
  const stroke = { id: 'x', outlineId: 'gone', frame: 0, position: 0, mark: 'this' as const, radius: 3 };
  expect(brokenBy(changeRow('stroke', null, { ...stroke, path: [1, 2] }))).toBe(
    'A stroke needs its outline.',
  );
  // Circles.
  expect(remake('outline', outline, { subjectId: 'p' })).toBe('An outline cannot be a part of itself.');
  expect(remake('layer', layer, { followsId: layer.id })).toBe('A layer cannot follow one that follows it.');
  expect(remake('layer', layer, { followsId: 'gone' })).toMatch(/names another that is not there/);
  // Ids that are made of other fields.
  const askew = { ...pose, id: poseId('o', 5), frame: 6 };
  expect(brokenBy(changeRow('pose', null, askew))).toMatch(/not made from what it is of/);
  const edge = { id: edgeId('o', 9), outlineId: 'o', frame: 9, onward: 'linear' as const, ...plainEdge };
  expect(brokenBy(changeRow('edge', null, edge))).toBeNull();
  expect(brokenBy(changeRow('edge', null, { ...edge, factors: [1] }))).toMatch(/a factor for each point/);
  // Points, hinges, keys, ramps, fades.
  expect(remake('outline', outline, { points: ['a', 'b'] })).toBe(
    'Every pose of an outline has the same points.',
  );
  expect(remake('outline', outline, { hinge: 'z' })).toMatch(/hangs by a side/);
  expect(remake('outline', outline, { kind: 'seam' })).toMatch(/can have a key of its swing/);
  expect(remake('move', key, { value: 5000 })).toMatch(/out of range: 1 to 2000/);
  expect(remake('layer', layer, { ramp: [9, 100, 3, 50] })).toMatch(/keys are whole frames that ascend/);
  expect(remake('piece', piece, { fadeIn: 200 })).toMatch(/fades lie within it/);
  expect(remake('piece', piece, { sourceId: 'gone' })).toBe('A layer’s sound needs its layer.');
});

test('what a table names comes before it, and rows are renamed with all that names them', () => {
  for (const target of tableNames)
    for (const table of tablesNaming(target).filter((each) => each !== target))
      // A key of a move names whatever moves.
      if (table !== 'move')
        expect([table, tableNames.indexOf(target) < tableNames.indexOf(table)]).toEqual([table, true]);
  expect(tableNames.filter(hasOwnIds)).toEqual([
    'crossing',
    'layer',
    'outline',
    'stroke',
    'piece',
    'mark',
    'decision',
  ]);
  const renamed = (id: string) => `${id}${id}`;
  expect(withIdsRenamed('pose', pose, renamed)).toEqual({ ...pose, id: poseId('oo', 4), outlineId: 'oo' });
  expect(withIdsRenamed('move', swing, renamed)).toEqual({
    ...swing,
    id: moveId('oo', 'swing', 3),
    ownerId: 'oo',
  });
  expect(withIdsRenamed('outline', part, renamed)).toEqual({
    ...part,
    id: 'pp',
    layerId: 'll',
    subjectId: 'oo',
  });
  const ids = (table: Table, row: object) => namedBy(table, row as never).map(({ id }) => id);
  expect(ids('layer', layer)).toEqual(['s']);
  expect(ids('piece', piece)).toEqual(['l']);
  expect(Object.keys(tables)).toHaveLength(11);
});
