import { applyChanges, documentOf } from '../document/document';
import { type CrossingDocument, plainLayer } from '../document/tables';
import { inverseChanges, type RowChange } from '../document/edit';
import { inconsistencyOf } from '../document/invariants';
import { shapeAt } from '../outline';
import { setOutline, setPose } from './actions';
import { drawSubject, partsAt, partsOf } from './subject-actions';
import { putCarriedSubject } from './subject-course';

/** Parts and holes that come and go while a subject is carried: which outlines there are then, and on which frames. */

const crossing = {
  ...{ id: 'c', name: 'T', plan: 'pass-by' as const, width: 400, height: 300, rateNum: 25, rateDen: 1 },
  ...{
    length: 60,
    inFrame: 0,
    outFrame: null,
    blend: 'display' as const,
    moveShutter: 0,
    blurBorder: 'extend' as const,
  },
};
const layer = { ...plainLayer, id: 'l', role: 'outgoing' as const, shotId: 's', position: 0 };
let n = 0;
const newId = () => `new-id-${n++}`;

function done(document: CrossingDocument, changes: RowChange[]): CrossingDocument {
  const after = applyChanges(document, changes);
  expect(inconsistencyOf(after, changes)).toBeNull();
  // An outline that has lost its last pose is as one that never had any.
  const bare = ({ outlines, poses }: CrossingDocument) => ({
    outlines,
    poses: Object.fromEntries(Object.entries(poses).filter(([, list]) => list.length > 0)),
  });
  expect(bare(applyChanges(after, inverseChanges(changes)))).toEqual(bare(document));
  return after;
}

const square = (x: number, points = 4) =>
  Array.from({ length: points }, (_, k) => [x + 9 * (k % 2), 10 + 9 * (k >> 1), 0, 0, 0, 0]).flat();
const loops = [square(10), square(60), square(14, 3)].map((coordinates, k) => ({
  coordinates,
  hole: k === 2,
}));
const subject = {
  ...{
    id: 'man',
    layerId: 'l',
    cutsLayerId: null,
    name: 'Man',
    kind: 'loop' as const,
    sweptSide: 'right' as const,
  },
};
const empty = documentOf({ crossing: [crossing], layer: [layer] });
const drawn = applyChanges(empty, drawSubject(empty, subject, 10, loops, newId));
const [arm, gap] = partsOf(drawn, 'man').map(({ id }) => id);

const part = (id: string, x: number, points = 4, hole = false) => ({
  id,
  coordinates: square(x, points),
  hole,
});
const carried = (frame: number, parts: ReturnType<typeof part>[]) => ({
  ...{ frame, coordinates: square(frame), doubt: 0, unsure: null, offBy: [], parts },
});
const put = (document: CrossingDocument, poses: ReturnType<typeof carried>[]) =>
  done(document, putCarriedSubject(document, 'man', poses, newId));
/** Frames on which a part's outline is there, of 8 to 24. */
const seenOn = (document: CrossingDocument, id: string) =>
  Array.from({ length: 17 }, (_, k) => 8 + k).filter(
    (frame) => 'coordinates' in shapeAt(document.poses[id] ?? [], frame, document.outlines[id]),
  );
const frames = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, k) => from + k);
/** A coat's tail is there from frame 14 to 17, the arm until 15; the gap stays. */
const course = frames(11, 20).map((frame) =>
  carried(frame, [
    ...(frame <= 15 ? [part(arm, 60 + frame)] : []),
    part(gap, 14, 3, true),
    ...(frame >= 14 && frame <= 17 ? [part('began on 14, 0', 90 + frame, 5)] : []),
  ]),
);

test('a part that leaves ends, one that comes to be is an outline with the look of the rest for as long as it is there', () => {
  const soft = applyChanges(drawn, setOutline(drawn, 'man', { featherOutside: 6, shutter: 180 }));
  const after = put(soft, course);
  expect(seenOn(after, arm)).toEqual(frames(10, 15));
  expect(after.outlines[arm].afterLast).toBe('empty');
  expect(seenOn(after, gap)).toEqual(frames(10, 20));
  const [tail, ...others] = partsOf(after, 'man').filter(({ id }) => id !== arm && id !== gap);
  expect(others).toEqual([]);
  expect(tail).toMatchObject({ name: 'Man, part 3', combine: 'add', featherOutside: 6, shutter: 180 });
  expect(tail.points).toHaveLength(5);
  expect(seenOn(after, tail.id)).toEqual(frames(14, 17));
  expect(after.poses[tail.id].map(({ origin }) => origin)).toEqual(Array(4).fill('carried'));
  // From there on only what is there is taken along.
  expect(partsAt(after, 'man', 18).map(({ id }) => id)).toEqual([gap]);
  expect(partsAt(after, 'man', 15).map(({ id }) => id)).toEqual([arm, gap, tail.id]);
  // Where the subject itself goes no further, they are held with it.
  expect(partsAt(drawn, 'man', 40).map(({ id }) => id)).toEqual([arm, gap]);
});

test('carried again, nothing is there twice, and a part of only carried poses that is gone leaves no outline', () => {
  const once = put(drawn, course);
  const again = put(once, course);
  expect(Object.keys(again.outlines)).toHaveLength(4);
  const without = put(
    again,
    frames(11, 20).map((frame) => carried(frame, [part(arm, 60 + frame), part(gap, 14, 3, true)])),
  );
  expect(partsOf(without, 'man').map(({ id }) => id)).toEqual([arm, gap]);
  expect(seenOn(without, arm)).toEqual(frames(10, 20));
});

test('a part that is away for some frames in the middle goes on as an outline of its own', () => {
  const whole = put(
    drawn,
    frames(11, 20).map((frame) => carried(frame, [part(arm, 60 + frame), part(gap, 14, 3, true)])),
  );
  const hidden = put(
    whole,
    frames(13, 15).map((frame) => carried(frame, [part(gap, 14, 3, true)])),
  );
  expect(seenOn(hidden, arm)).toEqual(frames(10, 12));
  const [rest] = partsOf(hidden, 'man').filter(({ id }) => id !== arm && id !== gap);
  expect(seenOn(hidden, rest.id)).toEqual(frames(16, 20));
  expect(hidden.poses[rest.id][0].coordinates).toEqual(square(76));
  expect(rest.name).not.toBe(hidden.outlines[arm].name);
});

test('what a hand has made stays: of the subject with all its parts, of a part by itself, and of one that is locked', () => {
  const posed = applyChanges(drawn, setPose(drawn, 'man', 14, square(200)));
  const after = put(posed, course);
  expect(after.poses.man.find(({ frame }) => frame === 14)).toMatchObject({ origin: 'by hand' });
  expect(after.poses[arm].some(({ frame }) => frame === 14)).toBe(false);
  const own = applyChanges(drawn, setPose(drawn, arm, 17, square(222)));
  const there = partsAt(put(own, course), 'man', 17).map(({ coordinates }) => coordinates);
  expect(there).toContainEqual(square(222));
  const locked = applyChanges(drawn, setOutline(drawn, arm, { locked: true }));
  expect(put(locked, course).poses[arm]).toHaveLength(1);
});
