import { coverage } from '../matte/coverage';
import { MatteScratch, meanAlpha } from '../matte/matte';
import { flattenOutline, regionOf } from '../outline';
import { addPoint, deleteOutline, removePoints, setOutline, setPoseAndOffset } from './actions';
import { applyChanges, documentOf, strokesOf } from '../document/document';
import {
  type CrossingDocument,
  plainPose,
  type OutlineRow,
  plainLayer,
  plainOutline,
  type PoseRow,
  poseId,
} from '../document/tables';
import { keyEdge, removeEdgeKey, setEdge, setEdgeOnward } from './edge-actions';
import { inverseChanges, type RowChange } from '../document/edit';
import { setMove } from './move-actions';
import {
  joinSeams,
  looseOutline,
  mirrorOutline,
  moveInOrder,
  movePoses,
  placeOutline,
  reverseOutline,
  setCombine,
  splitOutline,
  spreadPoses,
} from './outline-actions';
import { drawSubject, partsOf, redrawSubject, strokeRow } from './subject-actions';
import { numbersPerPoint as N } from '../model/choices';

const crossing = {
  ...{ id: 'c', name: 'T', plan: 'pass-by' as const, width: 200, height: 120 },
  ...{
    rateNum: 25,
    rateDen: 1,
    length: 60,
    inFrame: 0,
    outFrame: null,
    blend: 'display' as const,
    moveShutter: 0,
    blurBorder: 'extend' as const,
  },
};
const row = (id: string, kind: 'seam' | 'loop', points: number, position: number): OutlineRow => ({
  ...plainOutline,
  ...{ id, layerId: 'l', cutsLayerId: null, name: id, kind, sweptSide: 'right', position },
  points: Array.from({ length: points }, (_, k) => `${id}${k}`),
});
const pose = (outlineId: string, frame: number, places: [number, number][]): PoseRow => ({
  ...{ id: poseId(outlineId, frame), outlineId, frame, ...plainPose, origin: 'by hand', onward: 'linear' },
  coordinates: places.flatMap(([x, y], k) => [x, y, 0, k === 0 ? 0 : -4, k === 1 ? 2 : 0, 4]),
});
const start = documentOf({
  crossing: [crossing],
  layer: [{ ...plainLayer, id: 'l', role: 'outgoing', shotId: 's', position: 0 }],
  outline: [
    { ...row('a', 'seam', 3, 0), factors: [1, 2, 3] },
    row('b', 'seam', 2, 1),
    row('h', 'loop', 4, 2),
  ],
  pose: [
    ...[10, 20, 26].map((frame) =>
      pose('a', frame, [
        [60 + frame, -5],
        [64 + frame, 50],
        [58 + frame, 70],
      ]),
    ),
    ...[10, 18].map((frame) =>
      pose('b', frame, [
        [62 + frame, 125],
        [57 + frame, 72],
      ]),
    ),
    pose('h', 10, [
      [20, 20],
      [80, 20],
      [80, 90],
      [20, 90],
    ]),
  ],
});
/** Applies an edit, and makes sure that undoing it leads back. */
function done(document: CrossingDocument, changes: RowChange[]): CrossingDocument {
  const after = applyChanges(document, changes);
  expect(withoutEmpty(applyChanges(after, inverseChanges(changes)))).toEqual(withoutEmpty(document));
  return after;
}
/** An outline that has lost its last pose or key is as one that never had any. */
function withoutEmpty({ poses, edges, ...rest }: CrossingDocument) {
  const kept = (lists: object) =>
    Object.fromEntries(Object.entries(lists).filter(([, list]) => list.length > 0));
  return { ...rest, poses: kept(poses), edges: kept(edges) };
}
let n = 0;
const newId = () => `new-id-${n++}`;

/** Share of the frame that an outline cuts at a frame on which it is posed. */
function covered(document: CrossingDocument, id: string, frame: number): number {
  const outline = document.outlines[id];
  const { coordinates } = document.poses[id].find((each) => each.frame === frame)!;
  const line = flattenOutline(coordinates, outline.kind === 'loop');
  const alpha = new Uint8Array(200 * 120);
  coverage(
    regionOf(line, outline.kind, outline.sweptSide, 200, 120).polygon,
    200,
    120,
    alpha,
    new MatteScratch(),
  );
  return meanAlpha(alpha);
}

test('reversing keeps what is cut; mirroring cuts the mirror image', () => {
  const reversed = done(start, reverseOutline(start, 'a'));
  expect(covered(reversed, 'a', 20)).toBeCloseTo(covered(start, 'a', 20), 4);
  expect(reversed.outlines.a).toMatchObject({
    sweptSide: 'left',
    points: ['a2', 'a1', 'a0'],
    factors: [3, 2, 1],
  });
  const mirrored = done(start, mirrorOutline(start, 'a', 200));
  expect(covered(mirrored, 'a', 20)).toBeCloseTo(covered(start, 'a', 20), 4);
  expect(mirrored.poses.a[0].coordinates[0]).toBe(130);
});

test('a seam is split at a point and joined again; a loop is split between two points', () => {
  const parted = done(start, splitOutline(start, 'a', new Set([1]), newId));
  const second = Object.values(parted.outlines).find(({ name }) => name === 'a, part 2')!;
  expect([parted.outlines.a.points, second.points].map((points) => points.length)).toEqual([2, 2]);
  expect(parted.poses[second.id].map(({ frame }) => frame)).toEqual([10, 20, 26]);
  expect(second.factors).toEqual([2, 3]);
  expect(splitOutline(start, 'a', new Set([0]), newId)).toEqual([]);
  const joined = done(start, joinSeams(start, 'a', 'b'));
  expect(joined.outlines.b).toBeUndefined();
  expect(joined.poses.a.map(({ frame }) => frame)).toEqual([10, 18, 20, 26]);
  // The end of a lay by the end of b: b is walked the other way.
  expect(joined.poses.a[0].coordinates.filter((_, i) => i % N === 1)).toEqual([-5, 50, 70, 72, 125]);
  expect(new Set(joined.outlines.a.points).size).toBe(5);
  expect(joined.outlines.a.factors).toEqual([1, 2, 3, 1, 1]);
  const halves = done(start, splitOutline(start, 'h', new Set([0, 2]), newId));
  const other = Object.values(halves.outlines).find(({ name }) => name === 'h, part 2')!;
  expect(covered(halves, 'h', 10) + covered(halves, other.id, 10)).toBeCloseTo(covered(start, 'h', 10), 2);
  expect(splitOutline(start, 'h', new Set([0, 1]), newId)).toEqual([]);
  expect(joinSeams(start, 'a', 'h')).toEqual([]);
});

test('outlines change their order and their way to combine, and are put in elsewhere', () => {
  const order = (document: CrossingDocument) =>
    Object.values(document.outlines)
      .sort((p, q) => p.position - q.position)
      .map(({ id }) => id);
  expect(order(done(start, moveInOrder(start, 'h', -1)))).toEqual(['a', 'h', 'b']);
  expect(moveInOrder(start, 'a', -1)).toEqual([]);
  const holding = done(start, setCombine(start, 'h', 'take away')).outlines.h;
  expect(holding).toMatchObject({ beforeFirst: 'empty', afterLast: 'empty' });
  const more = done(start, placeOutline(start, 'l', looseOutline(start, 'a')!, 'copy'));
  expect(more.outlines.copy).toMatchObject({ position: 3, points: ['a0', 'a1', 'a2'] });
  expect(more.poses.copy.map(({ id }) => id)).toEqual(['copy@10', 'copy@20', 'copy@26']);
});

test('poses are spread evenly and moved, never onto others', () => {
  const even = done(start, spreadPoses(start, 'a', 10, 26));
  expect(even.poses.a.map(({ frame }) => frame)).toEqual([10, 18, 26]);
  expect(even.poses.a[1].coordinates).toEqual(start.poses.a[1].coordinates);
  const later = done(
    start,
    movePoses(
      start,
      'a',
      new Map([
        [10, 20],
        [20, 21],
      ]),
    ),
  );
  expect(later.poses.a.map(({ frame, coordinates }) => [frame, coordinates[0]])).toEqual([
    [20, 70],
    [21, 80],
    [26, 86],
  ]);
  expect(movePoses(start, 'a', new Map([[20, 26]]))).toEqual([]);
  expect(movePoses(start, 'a', new Map([[10, -1]]))).toEqual([]);
});

test('a change of shape goes for all poses, or those chosen, as an offset', () => {
  const shifted = start.poses.a[1].coordinates.map((value, i) => (i === 0 ? value + 7 : value));
  const all = done(
    start,
    setPoseAndOffset(start, 'a', 20, shifted, () => true),
  );
  expect(all.poses.a.map(({ coordinates }) => coordinates[0])).toEqual([77, 87, 93]);
  expect(all.poses.a.map(({ coordinates }) => coordinates[6])).toEqual([74, 84, 90]);
  // On a frame without a pose none is made: the in-between moves with its neighbours.
  const between = start.poses.a[0].coordinates.map(
    (value, i) => value + (i % N === 0 ? 5 : 0) + (i % N === 0 ? 5 : 0),
  );
  const two = done(
    start,
    setPoseAndOffset(start, 'a', 15, between, (frame) => frame < 21),
  );
  expect(two.poses.a.map(({ frame }) => frame)).toEqual([10, 20, 26]);
});

test('edges are keyed, changed on their keys, and lose them; points take their factors along', () => {
  const plain = done(start, setEdge(start, 'a', 12, { featherInside: 9 }));
  expect([plain.outlines.a.featherInside, plain.edges.a]).toEqual([9, undefined]);
  const keyed = done(plain, keyEdge(plain, 'a', 12));
  const two = done(keyed, setEdge(keyed, 'a', 22, { featherInside: 19, factors: [1, 1, 5] }));
  expect(two.edges.a.map(({ frame, featherInside }) => [frame, featherInside])).toEqual([
    [12, 9],
    [22, 19],
  ]);
  const held = done(two, setEdgeOnward(two, 'a', 12, 'hold'));
  expect(held.edges.a[0].onward).toBe('hold');
  const more = done(two, addPoint(two, 'a', 1, 0.25, 'x'));
  expect(more.outlines.a.factors).toEqual([1, 2, 2.25, 3]);
  expect(more.edges.a[1].factors).toEqual([1, 1, 2, 5]);
  const less = done(more, removePoints(more, 'a', new Set([0])));
  expect(less.edges.a[1].factors).toEqual([1, 2, 5]);
  const one = done(two, removeEdgeKey(two, 'a', 12));
  const gone = done(one, removeEdgeKey(one, 'a', 22));
  expect([gone.outlines.a.featherInside, gone.edges.a]).toEqual([19, []]);
});

test('a leaf keeps hanging by its side however it is walked, and as long as the side is there', () => {
  const hung = done(start, setOutline(start, 'h', { hinge: 'h3' }));
  const swinging = done(hung, setMove(hung, 'h', 'swing', 4, 30));
  const side = ({ outlines, poses }: CrossingDocument) => {
    const { hinge, points } = outlines.h;
    if (hinge === null) return null;
    const k = points.indexOf(hinge);
    return [k, (k + 1) % points.length].map((point) => poses.h[0].coordinates[point * N]);
  };
  // From the lower left corner to the upper left one.
  expect(side(hung)).toEqual([20, 20]);
  expect(side(done(hung, reverseOutline(hung, 'h')))).toEqual([20, 20]);
  const finer = done(hung, addPoint(hung, 'h', 0, 0.5, 'more'));
  expect(side(finer)).toEqual([20, 20]);
  const without = done(swinging, removePoints(swinging, 'h', new Set([3])));
  expect(without.outlines.h.hinge).toBeNull();
  const [part, other] = Object.values(
    done(hung, splitOutline(hung, 'h', new Set([1, 3]), newId)).outlines,
  ).filter(({ kind }) => kind === 'loop');
  expect([part.hinge, other.hinge]).toEqual([null, null]);
  // The keys of its swing go with it.
  expect(Object.values(done(swinging, deleteOutline(swinging, 'h')).moves)).toEqual([]);
});

test('a subject goes with its strokes, parts and holes: made, redrawn and deleted, each one edit that can be undone', () => {
  const loop = (x: number, hole: boolean) => ({
    coordinates: [x, 0, x + 9, 0, x + 9, 9].flatMap((v, i, all) =>
      i % 2 === 0 ? [v, all[i + 1], 0, 0, 0, 0] : [],
    ),
    hole,
  });
  let ids = 0;
  const newId = () => `${String(++ids).padStart(8, '0')}-0000-4000-8000-000000000000`;
  const stroke = { mark: 'this' as const, radius: 8, path: [0, 0, 0.5, 0, 1, 0, 30.04, 0] };
  const subject = { id: 'w', layerId: 'l', cutsLayerId: null, name: 'Subject', kind: 'loop' as const };
  const loops = [loop(0, false), loop(40, false), loop(3, true)];
  const drawing = drawSubject(start, { ...subject, sweptSide: 'left' }, 4, loops, newId);
  const drawn = done(start, drawing);
  const painting = strokeRow(drawn, 'w', 4, stroke, newId());
  const painted = done(drawn, [painting]);
  expect(strokesOf(painted, 'w').map(({ path, position }) => [path, position])).toEqual([[[0, 0, 30, 0], 0]]);
  expect(partsOf(painted, 'w').map(({ name, combine, afterLast }) => [name, combine, afterLast])).toEqual([
    ['Subject, part 2', 'add', 'full'],
    ['Subject, hole 1', 'take away', 'empty'],
  ]);
  const redrawn = done(painted, redrawSubject(painted, 'w', 4, [loop(1, false)], newId));
  expect(partsOf(redrawn, 'w')).toEqual([]);
  expect(redrawn.outlines.w.points).not.toEqual(painted.outlines.w.points);
  expect(redrawn.poses.w[0].coordinates[0]).toBe(1);
  const deleting = deleteOutline(painted, 'w');
  const gone = done(painted, deleting);
  expect([gone.strokes, gone.outlines]).toEqual([start.strokes, start.outlines]);
  expect(done(gone, inverseChanges(deleting))).toEqual(painted);
});

test('what is said of each point goes along when an outline is walked the other way or parted', () => {
  const [first] = start.poses.a;
  const unsure = { ...first, offBy: [1, 2, 3] };
  const document = { ...start, poses: { ...start.poses, a: [unsure, ...start.poses.a.slice(1)] } };
  expect(applyChanges(document, reverseOutline(document, 'a')).poses.a[0].offBy).toEqual([3, 2, 1]);
  const parted = applyChanges(
    document,
    splitOutline(document, 'a', new Set([1]), () => 'part-two'),
  );
  expect([parted.poses.a[0].offBy, parted.poses['part-two'][0].offBy]).toEqual([
    [1, 2],
    [2, 3],
  ]);
});

test('a seam that is joined with copies of itself has every point’s id once', () => {
  let document = start;
  for (const id of ['copy', 'again']) {
    const copy = placeOutline(document, 'l', looseOutline(start, 'b')!, id);
    document = applyChanges(document, copy);
    document = applyChanges(document, joinSeams(document, 'b', id));
  }
  const { points } = document.outlines.b;
  expect(points).toHaveLength(6);
  expect(new Set(points).size).toBe(6);
});

test('a copy is no part of the subject that it was copied from; parts go on with the seam that theirs was joined to', () => {
  const outlines = {
    ...start.outlines,
    h: { ...start.outlines.h, subjectId: 'b' },
    // As a document of an earlier version may have it.
    a: { ...start.outlines.a, subjectId: 'a' },
  };
  const document = { ...start, outlines };
  const copied = applyChanges(document, placeOutline(document, 'l', looseOutline(document, 'h')!, 'copy'));
  expect(copied.outlines.copy.subjectId).toBeNull();
  expect(applyChanges(document, joinSeams(document, 'a', 'b')).outlines.h.subjectId).toBe('a');
  expect(Object.keys(applyChanges(document, deleteOutline(document, 'a')).outlines)).toEqual(['b', 'h']);
});
