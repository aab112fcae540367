import { Bezier } from 'bezier-js';
import { plainPose, plainOutline, type PoseRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { segmentCubic } from './curve';
import { edgeAt } from './edge-track';
import { mostExposures, shutterAt } from './exposures';
import { pointKindAt, reversedPose, withPointKind } from './points';
import { alignedPose, pulledPose, softlyMoved, turnedPose } from './reshape';
import { roundedCorners } from './rounding';
import { shapeAt, shapeAtMoment } from './shape';

const none = new Set<number>();
const seam = [10, 0, 0, 0, 2, 20, 30, 90, -4, -25, 4, 25, 12, 200, 3, -30, 0, 0];
const square = [0, 0, 100, 0, 100, 100, 0, 100].flatMap((value, i, all) =>
  i % 2 === 0 ? [value, all[i + 1], 0, 0, 0, 0] : [],
);

test('turning and scaling keep what a similarity keeps, and only touch what is chosen', () => {
  const turned = turnedPose(seam, none, [7, 9], { scaleX: 2, scaleY: 2, turn: Math.PI / 3 });
  const length = (c: readonly number[], s: number) => {
    const [x0, y0, x1, y1, x2, y2, x3, y3] = segmentCubic(c, s);
    return new Bezier([x0, y0, x1, y1, x2, y2, x3, y3]).length();
  };
  for (const s of [0, 1]) expect(length(turned, s) / length(seam, s)).toBeCloseTo(2, 9);
  const back = turnedPose(turned, none, [7, 9], { scaleX: 0.5, scaleY: 0.5, turn: -Math.PI / 3 });
  back.forEach((value, i) => expect(value).toBeCloseTo(seam[i], 9));
  const one = turnedPose(seam, new Set([1]), [30, 90], { scaleX: 1, scaleY: 1, turn: 1 });
  expect(one.slice(0, N)).toEqual(seam.slice(0, N));
  expect([one[N], one[N + 1]]).toEqual([30, 90]);
  expect(Math.hypot(one[N + 2], one[N + 3])).toBeCloseTo(Math.hypot(4, 25), 9);
});

test('four corners are pulled as in perspective: corners land where they are put, straight stays straight', () => {
  const to = [
    [0, 0],
    [120, 10],
    [90, 80],
    [-5, 100],
  ] as const;
  const box = [
    [0, 0],
    [100, 0],
    [100, 100],
    [0, 100],
  ] as const;
  const pulled = pulledPose(square, none, box, to);
  to.forEach(([x, y], k) => {
    expect(pulled[k * N]).toBeCloseTo(x, 6);
    expect(pulled[k * N + 1]).toBeCloseTo(y, 6);
  });
  // The crossing of the diagonals goes to the crossing of the diagonals.
  const middle = pulledPose([50, 50, 0, 0, 0, 0], none, box, to);
  const t = ((middle[0] - 0) * (80 - 0) - (middle[1] - 0) * (90 - 0)) / 100;
  expect(t).toBeCloseTo(0, 6);
  // Inside out it is not done.
  expect(
    pulledPose(square, none, box, [to[0], to[3], to[2], to[1]].slice(0, 2).concat([to[1], to[0]])),
  ).toEqual(square);
});

test('others follow softly along the line and not beyond the reach; points align', () => {
  const line = [0, 50, 100, 150, 400].flatMap((y) => [0, y, 0, 0, 0, 0]);
  const moved = softlyMoved(line, new Set([1]), 10, 0, 100, false);
  const xs = [0, 1, 2, 3, 4].map((p) => moved[p * N]);
  [5, 10, 5, 0, 0].forEach((x, p) => expect(xs[p]).toBeCloseTo(x, 9));
  // In a loop the way round counts.
  const round = softlyMoved(square, new Set([0]), 8, 0, 200, true);
  expect(round[N]).toBeCloseTo(round[3 * N] + 100, 9);
  expect(alignedPose(line, new Set([0, 1, 2]), 'level').filter((_, i) => i % N === 1)).toEqual([
    50, 50, 50, 150, 400,
  ]);
  const inLine = alignedPose(
    [0, 0, 0, 0, 0, 0, 30, 10, 0, 0, 0, 0, 40, 40, 0, 0, 0, 0],
    new Set([0, 1, 2]),
    'in line',
  );
  expect(inLine[N]).toBeCloseTo(inLine[N + 1], 9);
});

test('points convert between corners and curves; reversing twice gives the same back', () => {
  expect([0, 1, 2].map((p) => pointKindAt(seam, p))).toEqual(['free', 'smooth', 'free']);
  const corners = withPointKind(seam, new Set([0, 1, 2]), 'corner', false);
  expect(pointKindAt(corners, 1)).toBe('corner');
  const smooth = withPointKind(corners, new Set([1]), 'smooth', false);
  expect(pointKindAt(smooth, 1)).toBe('smooth');
  // Catmull and Rom: along the line between the neighbours.
  expect(smooth[N + 4] / smooth[N + 5]).toBeCloseTo((12 - 10) / 200, 9);
  expect(reversedPose(reversedPose(seam))).toEqual(seam);
});

test('rounded corners of a square are quarter circles, and shorten no side by more than half', () => {
  const { coordinates, factors } = roundedCorners(square, [1, 2, 3, 4], true, 20);
  expect(coordinates).toHaveLength(8 * N);
  expect(factors).toEqual([1, 1, 2, 2, 3, 3, 4, 4]);
  // The first point's arc is about (20, 20).
  const arc = new Bezier([...segmentCubic(coordinates, 0)]);
  for (let t = 0; t <= 1; t += 0.1) {
    const { x, y } = arc.get(t);
    expect(Math.abs(Math.hypot(x - 20, y - 20) - 20)).toBeLessThan(0.01);
  }
  const full = roundedCorners(square, [], true, 500).coordinates;
  expect(new Bezier([...segmentCubic(full, 0)]).get(0.5).x).toBeCloseTo(50 - 50 * Math.SQRT1_2, 1);
  expect(roundedCorners(seam, [], false, 0).coordinates).toBe(seam);
});

const pose = (frame: number, coordinates: number[], onward: PoseRow['onward'] = 'linear'): PoseRow => ({
  id: `o@${frame}`,
  outlineId: 'o',
  frame,
  ...plainPose,
  origin: 'by hand',
  onward,
  coordinates,
});
const coordinatesAt = (poses: PoseRow[], frame: number) => {
  const shape = shapeAt(poses, frame);
  if (!('coordinates' in shape)) throw new Error('The outline is not there.');
  return shape.coordinates;
};

test('smooth in-betweens go through the poses, never overshoot, and have no kink; hold holds', () => {
  const at = [0, 40, 44, 160, 150].map((x, k) =>
    pose(
      k * 10,
      square.map((value, i) => (i % N === 0 ? value + x : value)),
      'smooth',
    ),
  );
  const track = Array.from({ length: 401 }, (_, k) => coordinatesAt(at, k / 10)[0]);
  [0, 40, 44, 160, 150].forEach((x, k) => expect(track[k * 100]).toBeCloseTo(x, 9));
  for (let k = 1; k <= 300; k++) expect(track[k]).toBeGreaterThanOrEqual(track[k - 1] - 1e-9);
  expect(Math.max(...track)).toBeLessThanOrEqual(160 + 1e-9);
  const slopes = track.slice(1).map((x, k) => (x - track[k]) * 10);
  for (const k of [100, 200, 300]) expect(Math.abs(slopes[k] - slopes[k - 1])).toBeLessThan(0.5);
  const held = [pose(0, square, 'hold'), pose(10, seam.concat(seam.slice(0, N)))];
  expect(coordinatesAt(held, 9)).toBe(square);
});

test('eased in-betweens lie where the curve of CSS’s ease-in-out says, and keep the size of what turns', () => {
  const turned = turnedPose(square, none, [50, 50], { scaleX: 1, scaleY: 1, turn: Math.PI / 6 });
  const poses = [pose(0, square, 'eased'), pose(20, turned)];
  // cubic-bezier(0.42, 0, 0.58, 1) at its own parameter: x and y of the curve.
  const curve = new Bezier(0, 0, 0.42, 0, 0.58, 1, 1, 1);
  for (const t of [0.1, 0.3, 0.5, 0.8]) {
    const { x, y } = curve.get(t);
    const c = coordinatesAt(poses, 20 * x);
    const angle = Math.atan2(c[2 * N + 1] - c[1], c[2 * N] - c[0]) - Math.PI / 4;
    expect(angle).toBeCloseTo((y * Math.PI) / 6, 6);
    expect(Math.hypot(c[2 * N] - c[0], c[2 * N + 1] - c[1])).toBeCloseTo(Math.hypot(100, 100), 6);
  }
  // Beyond its poses an outline that came to rest stays at rest.
  expect(shapeAtMoment(poses, 20.4)[0]).toBeCloseTo(turned[0], 9);
});

test('a turning wheel keeps its size in smooth in-betweens, 30° from pose to pose', () => {
  const wheel = [0, 30, 60, 90].map((degrees, k) =>
    pose(
      k * 8,
      turnedPose(square, none, [50, 50], { scaleX: 1, scaleY: 1, turn: (degrees * Math.PI) / 180 }),
      'smooth',
    ),
  );
  for (let frame = 0; frame <= 24; frame += 0.5) {
    const c = coordinatesAt(wheel, frame);
    const diagonal = Math.hypot(c[2 * N] - c[0], c[2 * N + 1] - c[1]);
    expect(Math.abs(diagonal / Math.hypot(100, 100) - 1)).toBeLessThan(0.005);
  }
});

test('an outline is beyond its poses what it is told to be', () => {
  const poses = [pose(10, square)];
  const state = (
    frame: number,
    beforeFirst: 'empty' | 'full' | 'hold',
    afterLast: 'empty' | 'full' | 'hold',
  ) => shapeAt(poses, frame, { beforeFirst, afterLast }).state;
  expect([state(9, 'full', 'empty'), state(11, 'full', 'empty')]).toEqual(['full', 'empty']);
  expect([state(9, 'hold', 'hold'), state(11, 'empty', 'hold')]).toEqual(['in-between', 'in-between']);
});

test('the edge follows its keys: linear, smooth, held, as the first and the last beyond', () => {
  const outline = {
    ...{ ...plainOutline, featherInside: 4, factors: [1, 1, 1, 1], id: 'o', layerId: 'l', cutsLayerId: null },
    ...{
      name: 'o',
      kind: 'loop' as const,
      sweptSide: 'left' as const,
      position: 0,
      points: ['a', 'b', 'c', 'd'],
    },
  };
  const key = (frame: number, featherInside: number, onward: PoseRow['onward'], factors: number[] = []) => ({
    ...{ id: `o~${frame}`, outlineId: 'o', frame, onward, featherInside, featherOutside: 0, spread: 0 },
    ...{ roundness: 0, factors },
  });
  expect(edgeAt(outline, [], 3).featherInside).toBe(4);
  const keys = [key(10, 0, 'linear'), key(20, 10, 'hold', [1, 3, 1, 1]), key(30, 40, 'smooth')];
  const feather = (frame: number) => edgeAt(outline, keys, frame).featherInside;
  [
    [5, 0],
    [15, 5],
    [20, 10],
    [29, 10],
    [30, 40],
    [99, 40],
  ].forEach(([frame, wanted]) => expect(feather(frame)).toBeCloseTo(wanted, 9));
  expect(edgeAt(outline, keys, 15).factors).toEqual([1, 2, 1, 1]);
  const eased = [key(10, 0, 'eased'), key(20, 10, 'linear')];
  const between = [12.5, 15, 17.5].map((frame) => edgeAt(outline, eased, frame).featherInside);
  expect(between[0]).toBeLessThan(1.6);
  expect(between[1]).toBeCloseTo(5, 6);
  expect(between[0] + between[2]).toBeCloseTo(10, 6);
});

test('the shutter is parted as finely as the movement needs, up to the most there are', () => {
  const outline = { ...plainOutline, shutter: 180, phase: -90 } as Parameters<typeof shutterAt>[0];
  const going = (speed: number) => [0, 20].map((frame) => pose(frame, turnedMoved(speed * frame)));
  const turnedMoved = (x: number) => square.map((value, i) => (i % N === 0 ? value + x : value));
  const slow = shutterAt(outline, outline, going(4), 10)!;
  // Two px in half a frame: four steps of half a pixel, even about the frame.
  expect(slow.moments).toEqual([9.8125, 9.9375, 10.0625, 10.1875]);
  expect(slow.step).toBeCloseTo(0.5, 9);
  expect(shutterAt(outline, outline, going(0), 10)).toBeNull();
  expect(shutterAt({ ...outline, shutter: 0 }, outline, going(9), 10)).toBeNull();
  const fast = shutterAt(outline, outline, going(100), 10)!;
  expect(fast.moments).toHaveLength(mostExposures);
  expect(fast.step).toBeGreaterThan(0.5);
  // Beyond its ends the outline goes on as it was moving.
  expect(shapeAtMoment(going(4), -0.25)[0]).toBeCloseTo(-1, 9);
  expect(shapeAtMoment(going(4), 20.25)[0]).toBeCloseTo(81, 9);
});
