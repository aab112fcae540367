import type { CarriedPose } from '../carry/carry-poses';
import { nextByHand, putCarried, putSettled, unsurePoses, unsureStretches } from './carry-actions';
import { type CrossingDocument, plainPose, poseId, type PoseRow } from '../document/tables';
import { inverseChanges } from '../document/edit';
import type { Origin } from '../model/choices';

const row = (frame: number, origin: Origin, rest: Partial<PoseRow> = {}): PoseRow => ({
  ...plainPose,
  id: poseId('o', frame),
  outlineId: 'o',
  frame,
  origin,
  coordinates: [frame, 0, 0, 0, 0, 0],
  ...rest,
});
const carried = (frame: number): CarriedPose => ({
  frame,
  coordinates: [100 + frame, 0, 0, 0, 0, 0],
  doubt: 0.7,
  unsure: 'alike',
  offBy: [3],
});
const poses = [
  row(10, 'by hand'),
  row(11, 'carried', { doubt: 0.2 }),
  row(12, 'settled'),
  row(20, 'by hand'),
];
const document = { poses: { o: poses } } as unknown as CrossingDocument;

test('carried poses take no place of one by hand or settled, keep their way on, and are taken back as one', () => {
  const kept = { poses: { o: [poses[0], row(11, 'carried', { onward: 'smooth' }), ...poses.slice(2)] } };
  const changes = putCarried(kept as unknown as CrossingDocument, 'o', [10, 11, 12, 13].map(carried));
  expect(changes.map(({ after }) => (after as PoseRow).frame)).toEqual([11, 13]);
  expect(changes[0].after).toMatchObject({
    origin: 'carried',
    onward: 'smooth',
    unsure: 'alike',
    offBy: [3],
  });
  expect(inverseChanges(changes).map(({ after }) => (after as PoseRow | null)?.frame ?? null)).toEqual([
    null,
    11,
  ]);
});

test('a settled pose is sure, whatever it was before', () => {
  const [change] = putSettled(document, 'o', [{ frame: 11, coordinates: [1, 2, 0, 0, 0, 0] }]);
  expect(change.after).toMatchObject({ origin: 'settled', unsure: null, doubt: 0, offBy: [] });
  expect(change.before).toMatchObject({ origin: 'carried', doubt: 0.2 });
});

test('unsure poses come worst first; what was carried is no end to carry to', () => {
  const list = [
    row(1, 'carried', { unsure: 'soft', doubt: 0.6 }),
    row(2, 'carried'),
    row(3, 'carried', { unsure: 'leap', doubt: 0.9 }),
  ];
  expect(unsurePoses(list).map(({ frame }) => frame)).toEqual([3, 1]);
  expect(nextByHand(poses, 10, 1)?.frame).toBe(12);
  expect(nextByHand(poses, 12, -1)?.frame).toBe(10);
  expect(nextByHand(poses, 20, 1)).toBeNull();
});

test('unsure poses on frames that follow each other are one stretch, told by its worst', () => {
  const unsure = (frame: number, doubt: number) => row(frame, 'carried', { unsure: 'soft', doubt });
  const list = [
    unsure(2, 0.6),
    unsure(3, 0.8),
    row(4, 'carried'),
    unsure(7, 0.9),
    unsure(9, 0.7),
    unsure(10, 0.5),
  ];
  const told = unsureStretches(list).map(({ from, to, worst }) => [from, to, worst.frame]);
  expect(told).toEqual([
    [7, 7, 7],
    [2, 3, 3],
    [9, 10, 9],
  ]);
  expect(unsureStretches([row(1, 'by hand')])).toEqual([]);
});
