import { Bezier } from 'bezier-js';
import { plainPose, type PoseRow } from '../document/tables';
import type { Side } from '../model/choices';
import {
  flattenOutline,
  inBetween,
  insertPoint,
  nearestOnOutline,
  regionOf,
  removePoint,
  segmentCubic,
  shapeAt,
} from '.';

const pose: number[] = [
  [40, -20, 0, 0, 10, 60],
  [120, 300, -30, -80, 30, 80],
  [60, 760, 5, -90, 0, 0],
].flat();

/** Winding number by angle sum: independent of the region's own walk. */
function windsAround(polygon: readonly number[], x: number, y: number): boolean {
  let angle = 0;
  for (let i = 0; i < polygon.length; i += 2) {
    const j = (i + 2) % polygon.length;
    const [ax, ay, bx, by] = [polygon[i] - x, polygon[i + 1] - y, polygon[j] - x, polygon[j + 1] - y];
    angle += Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
  }
  return Math.abs(angle) > Math.PI;
}

test('an added point leaves the shape as it was, in open and closed outlines', () => {
  for (const [segment, closed] of [
    [0, false],
    [1, false],
    [2, true],
  ] as const) {
    const more = insertPoint(pose, segment, 0.37);
    const reference = new Bezier([...segmentCubic(pose, segment)]);
    for (const t of [0.05, 0.2, 0.37, 0.6, 0.95]) {
      const half = t <= 0.37 ? segment : segment + 1;
      const local = t <= 0.37 ? t / 0.37 : (t - 0.37) / 0.63;
      const { x, y } = new Bezier([...segmentCubic(more, half)]).get(local);
      expect(Math.hypot(x - reference.get(t).x, y - reference.get(t).y)).toBeLessThan(0.01);
    }
    // Taking it out again finds the curve that was there.
    const back = removePoint(more, segment + 1, closed);
    const refitted = flattenOutline(back, closed);
    for (let i = 0; i < refitted.length; i += 2) {
      expect(nearestOnOutline(pose, closed, refitted[i], refitted[i + 1]).distance).toBeLessThan(1);
    }
  }
});

test('a seam sweeps the same side whichever way it was drawn, and runs past the frame by itself', () => {
  const inside = [300, 100, 340, 400, 320, 600];
  const backwards = [320, 600, 340, 400, 300, 100];
  const points = [
    [10, 10],
    [10, 715],
    [250, 350],
    [400, 350],
    [1270, 5],
    [1270, 715],
  ];
  const leftOfScreen = [true, true, true, false, false, false];
  const swept = (line: number[], side: Side) =>
    points.map(([x, y]) => windsAround(regionOf(line, 'seam', side, 1280, 720).polygon, x, y));
  // Walking down the screen, the right hand is on the screen's left.
  expect(swept(inside, 'right')).toEqual(leftOfScreen);
  expect(swept(backwards, 'left')).toEqual(leftOfScreen);
  expect(swept(inside, 'left')).toEqual(leftOfScreen.map((x) => !x));
  expect(swept(backwards, 'right')).toEqual(leftOfScreen.map((x) => !x));
  // Across: everything above.
  const across = regionOf([-50, 300, 1400, 380], 'seam', 'left', 1280, 720).polygon;
  expect(points.map(([x, y]) => windsAround(across, x, y))).toEqual([true, false, false, false, true, false]);
});

test('an end outside the frame that points back inwards does not run through the picture', () => {
  const hooked = [600, -40, 640, 360, 660, 800, 700, 780];
  const { polygon } = regionOf(hooked, 'seam', 'right', 1280, 720);
  expect(windsAround(polygon, 100, 700)).toBe(true);
  expect(windsAround(polygon, 1200, 700)).toBe(false);
  expect(windsAround(polygon, 1200, 20)).toBe(false);
});

test('in-betweens of a turn keep the size', () => {
  const square = [0, 0, 100, 0, 100, 200, 0, 200].flatMap((v, i, all) =>
    i % 2 ? [] : [v, all[i + 1], 0, 0, 0, 0],
  );
  const turned = square.map((value, i) => {
    if (i % 6 > 1) return 0;
    const [x, y] = i % 6 === 0 ? [value, square[i + 1]] : [square[i - 1], value];
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    return i % 6 === 0 ? c * x - s * y + 40 : s * x + c * y;
  });
  for (const fraction of [0.25, 0.5, 0.75]) {
    const p = inBetween(square, turned, fraction);
    const side = Math.hypot(p[6] - p[0], p[7] - p[1]);
    expect(Math.abs(side / 100 - 1)).toBeLessThan(0.005);
  }
  inBetween(square, turned, 1).forEach((value, i) => expect(value).toBe(turned[i]));
});

test('empty before the first pose, full after the last, the pose itself on its frame', () => {
  const row = (frame: number, x: number): PoseRow => ({
    id: `o@${frame}`,
    outlineId: 'o',
    frame,
    ...plainPose,
    origin: 'by hand',
    onward: 'linear',
    coordinates: pose.map((v, i) => (i % 6 === 0 ? v + x : v)),
  });
  const poses = [row(10, 0), row(20, 100)];
  expect(shapeAt(poses, 9)).toEqual({ state: 'empty' });
  expect(shapeAt(poses, 21)).toEqual({ state: 'full' });
  expect(shapeAt(poses, 10)).toMatchObject({ state: 'posed', coordinates: pose });
  const middle = shapeAt(poses, 15);
  expect(middle.state === 'in-between' && middle.coordinates[0]).toBeCloseTo(90, 9);
  expect(flattenOutline(pose, false).slice(0, 2)).toEqual([40, -20]);
});

test('a point that is taken away leaves no handle longer than the line that was there', () => {
  // Both directions are nearly one: the best lengths are millions of px.
  const seam = [
    ...[-240, 1032.6667, 7, 8, 0, 6, -297.3333, -297, 1, 0, 3, 6],
    ...[338, -167, 5, 0, 7, 5, 46, 542, 7, 5, 2, 2],
  ];
  const left = removePoint(seam, 2, false);
  expect(Math.max(...left.map(Math.abs))).toBeLessThan(1700);
});
