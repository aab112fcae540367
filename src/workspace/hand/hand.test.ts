import { centred, fitCamera, visiblePart, zoomedAt } from '../sight/camera';
import {
  begun,
  begunOnEdge,
  finished,
  isEnough,
  pulled,
  straightTo,
  withoutLast,
  withPoint,
  withStretch,
} from './drawing';
import { bendsBy } from '@/core/compose/bends';
import { lensOf } from '@/core/geometry/lens';
import { hitOutline } from './hit';
import { sightOf } from '../sight/sight';

const crossing = { width: 1280, height: 720 };
const stage = { width: 700, height: 590 };

test('the fitted frame lies whole and centred on the pasteboard; zooming keeps the place under the pointer', () => {
  const fit = fitCamera(crossing, stage);
  expect(fit.x + (crossing.width * fit.scale) / 2).toBeCloseTo(350, 9);
  expect(fit.y).toBeGreaterThan(0);
  let camera = centred(crossing, stage, 1);
  const under = [(400 - camera.x) / camera.scale, (100 - camera.y) / camera.scale];
  for (const factor of [1.5, 3, 0.2, 40]) {
    camera = zoomedAt(camera, 400, 100, factor);
    expect((400 - camera.x) / camera.scale).toBeCloseTo(under[0], 6);
    expect((100 - camera.y) / camera.scale).toBeCloseTo(under[1], 6);
  }
  expect(camera.scale).toBeLessThanOrEqual(32);
  expect(zoomedAt(camera, 0, 0, 1e-9).scale).toBe(0.05);
});

test('the visible part holds all that is on the stage, and stays the same for small moves', () => {
  const camera = { x: -1000, y: -333, scale: 2.5 };
  const [x0, y0, x1, y1] = visiblePart(camera, stage);
  expect([x0 <= 400, y0 <= 133.2, x1 >= 680, y1 >= 369.2]).toEqual([true, true, true, true]);
  expect((x1 - x0) * (y1 - y0)).toBeLessThan(3 * 280 * 236);
  expect(visiblePart({ ...camera, x: -1003 }, stage)).toEqual([x0, y0, x1, y1]);
});

test('a drawing grows by corners and pulled curves and is taken back point by point', () => {
  let drawing = withPoint(begun('seam', 10, 20), 100, 200);
  expect(drawing.coordinates.slice(8)).toEqual([0, 0, 0, 0]);
  // Less than the least pull is still a corner.
  expect(pulled(drawing, 101, 200, 4).coordinates.slice(8)).toEqual([0, 0, 0, 0]);
  drawing = pulled(drawing, 130, 240, 4);
  expect(drawing.coordinates.slice(8)).toEqual([-30, -40, 30, 40]);
  expect(isEnough('seam', drawing.coordinates)).toBe(true);
  expect(isEnough('loop', drawing.coordinates)).toBe(false);
  expect(withoutLast(drawing)).toMatchObject({ coordinates: [10, 20, 0, 0, 0, 0] });
  expect(withoutLast(withoutLast(drawing)!)).toBeNull();
});

test('straight stretches of a line along the edge keep their corners; a stretch is taken back whole', () => {
  const corners = [
    [10, 10],
    [300, 20],
    [310, 200],
    [20, 210],
  ] as const;
  let drawing = begunOnEdge('loop', corners[0]);
  for (const k of [1, 2, 3, 0])
    drawing = withStretch(drawing, corners[k], straightTo(corners[(k + 3) % 4], corners[k]));
  const { coordinates } = finished(drawing, 1);
  const points = Array.from({ length: coordinates.length / 6 }, (_, p) =>
    coordinates.slice(6 * p, 6 * p + 2),
  );
  expect(points).toHaveLength(4);
  points.forEach(([x, y], k) => expect(Math.hypot(x - corners[k][0], y - corners[k][1])).toBeLessThan(1));
  const back = withoutLast(drawing)!;
  expect(back).toMatchObject({ presses: corners, live: [] });
  expect(withoutLast(begunOnEdge('seam', [1, 2]))).toBeNull();
});

test('the hand finds points before handles’ line, handles only of chosen points, and nothing out of reach', () => {
  const seam = [0, 0, 0, 0, 40, 0, 100, 100, 0, -60, 0, 0];
  expect(hitOutline(seam, false, new Set(), [3, 2], 8)).toEqual({ on: 'point', point: 0 });
  expect(hitOutline(seam, false, new Set([0]), [38, 1], 8)).toEqual({ on: 'handle', point: 0, side: 'out' });
  expect(hitOutline(seam, false, new Set(), [38, 1], 3)).toBeNull();
  const onLine = hitOutline(seam, false, new Set(), [65, 35], 8);
  expect(onLine).toMatchObject({ on: 'line', segment: 0 });
  expect(hitOutline(seam, false, new Set(), [20, 90], 8)).toBeNull();
});

test('what the hand presses on a bent picture is the place of the shot that is seen there', () => {
  const lens = lensOf(-0.3, crossing);
  const pulled = [1.1, 0.05, -12, 0.02, 0.95, 8, 0.0001, -0.00005, 1];
  for (const sight of [
    sightOf([0.5, 0, 0, 0.5, 20, 30], null),
    sightOf([0.5, 0.1, -0.1, 0.5, 20, 30], bendsBy(lens, null)),
    sightOf([0.5, 0, 0, 0.5, 20, 30], bendsBy(lens, pulled)),
  ])
    for (const [x, y] of [
      [640, 360],
      [60, 40],
      [1200, 500],
    ]) {
      const [u, v] = sight.back(...sight.place(x, y));
      expect(u).toBeCloseTo(x, 6);
      expect(v).toBeCloseTo(y, 6);
      // A line through it begins where it lies.
      const [first] = sight.cubics([x, y, x + 20, y, x + 40, y + 9, x + 60, y + 9]);
      const place = sight.place(x, y);
      expect(Math.hypot(first[0] - place[0], first[1] - place[1])).toBeLessThan(1e-9);
    }
});
