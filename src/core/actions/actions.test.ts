import { flattenOutline, nearestOnOutline, startingCoordinates } from '../outline';
import {
  addPoint,
  deleteOutline,
  drawOutline,
  movedHandle,
  movedPoints,
  removePoints,
  removePose,
  setPose,
  smoothPoses,
} from './actions';
import { applyChanges, documentOf } from '../document/document';
import { plainLayer } from '../document/tables';

const crossing = {
  id: 'c',
  name: 'T',
  plan: 'pass-by' as const,
  width: 64,
  height: 36,
  rateNum: 25,
  rateDen: 1,
  length: 90,
  inFrame: 0,
  outFrame: null,
  blend: 'display' as const,
  moveShutter: 0,
  blurBorder: 'extend' as const,
};
const empty = documentOf({
  crossing: [crossing],
  layer: [{ ...plainLayer, id: 'l', role: 'outgoing', shotId: 's', position: 0, offset: 0 }],
});
const line = [10, 0, 0, 0, 2, 8, 14, 18, -1, -6, 1, 6, 9, 36, 3, -8, 0, 0];
const outline = {
  id: 'o',
  layerId: 'l',
  cutsLayerId: null,
  name: 'Back',
  points: ['a', 'b', 'c'],
  kind: 'seam' as const,
  sweptSide: 'left' as const,
};
const drawn = applyChanges(empty, drawOutline(empty, outline, 10, line));
const moved = applyChanges(drawn, setPose(drawn, 'o', 20, movedPoints(line, new Set([0, 2]), 5, -1)));

test('points move with their handles and no others do; handles stay in line', () => {
  expect(moved.poses.o[1].coordinates).toEqual([
    15, -1, 0, 0, 2, 8, 14, 18, -1, -6, 1, 6, 14, 35, 3, -8, 0, 0,
  ]);
  expect(movedHandle(line, { point: 1, side: 'out', mirrored: true }, [6, 0]).slice(6, 12)).toEqual([
    14,
    18,
    -Math.hypot(1, 6),
    -0,
    6,
    0,
  ]);
  expect(movedHandle(line, { point: 1, side: 'in', mirrored: false }, [6, 0]).slice(6, 12)).toEqual([
    14, 18, 6, 0, 1, 6,
  ]);
});

test('adding and removing points keeps every pose’s shape and the same points in all', () => {
  const more = applyChanges(moved, addPoint(moved, 'o', 1, 0.4, 'd'));
  expect(more.outlines.o.points).toEqual(['a', 'b', 'd', 'c']);
  more.poses.o.forEach((pose, k) => {
    expect(pose.coordinates).toHaveLength(24);
    const flat = flattenOutline(pose.coordinates, false);
    for (let i = 0; i < flat.length; i += 2) {
      expect(
        nearestOnOutline(moved.poses.o[k].coordinates, false, flat[i], flat[i + 1]).distance,
      ).toBeLessThan(0.01);
    }
  });
  const fewer = applyChanges(more, removePoints(more, 'o', new Set([1, 2])));
  expect(fewer.outlines.o.points).toEqual(['a', 'c']);
  expect(removePoints(fewer, 'o', new Set([0]))).toEqual([]);
});

test('smoothing is kept to the poses that it is asked for', () => {
  const shaky = [0, 1, 2, 3, 4, 5, 6, 7, 8].reduce(
    (document, k) =>
      applyChanges(
        document,
        setPose(document, 'o', 10 + 2 * k, movedPoints(drawn.poses.o[0].coordinates, new Set([0]), k % 2, 0)),
      ),
    drawn,
  );
  const framesOf = (takes: (frame: number) => boolean) =>
    smoothPoses(shaky, 'o', takes).map(({ after }) => after && 'frame' in after && after.frame);
  expect(framesOf(() => true)).toEqual([14, 16, 18, 20, 22]);
  expect(framesOf((frame) => frame >= 18 && frame !== 20)).toEqual([18, 22]);
  expect(framesOf((frame) => frame < 14)).toEqual([]);
});

test('poses are copied and removed; an outline goes with all its poses', () => {
  const copied = applyChanges(moved, setPose(moved, 'o', 30, startingCoordinates(moved.poses.o, 15)!));
  expect(copied.poses.o.map((pose) => pose.frame)).toEqual([10, 20, 30]);
  expect(copied.poses.o[2].coordinates[0]).toBeCloseTo(12.5, 1);
  const less = applyChanges(copied, removePose(copied, 'o', 20));
  expect(less.poses.o.map((pose) => pose.frame)).toEqual([10, 30]);
  expect(removePose(drawn, 'o', 10)).toEqual([]);
  const gone = applyChanges(less, deleteOutline(less, 'o'));
  expect([gone.outlines, gone.poses.o]).toEqual([{}, []]);
});
