import { FramePicture } from '../picture/frame-picture';
import type { Affine } from '../geometry/affine';
import { seeded } from '../random';
import { type EdgeField, edgeField } from './edge-field';
import { EdgeTrail } from './edge-trail';
import { LeastPaths, stepCost } from './least-paths';

// In Jest the global is slow to reach.
const { exp, floor, max, min, round, sqrt } = Math;

/** A picture by formula: luma at px (x, y), the mean over the px told by `at`; grey in colour. */
function pictureOf(width: number, height: number, at: (x: number, y: number) => number): FramePicture {
  const y = new Uint8Array(width * height);
  for (let i = 0; i < y.length; i++)
    y[i] = max(0, min(255, round(at((i % width) + 0.5, floor(i / width) + 0.5))));
  const grey = new Uint8Array((width / 2) * (height / 2)).fill(128);
  const colour = { matrix: 'bt709' as const, fullRange: false };
  return new FramePicture({
    ...{ width, height, chromaWidth: width / 2, chromaHeight: height / 2 },
    ...{ y, u: grey, v: grey, colour },
  });
}

/** How much of a px lies on the far side of a place `distance` px away. */
const covered = (distance: number) => max(0, min(1, distance + 0.5));

test('least paths cost what Dijkstra’s algorithm says, step by step', () => {
  const [width, height] = [23, 17];
  const random = seeded(5);
  const count = width * height;
  const angles = Float32Array.from({ length: count }, () => random() * 7);
  const field: EdgeField = {
    ...{ width, height, share: 1 },
    strength: Float32Array.from({ length: count }, () => random() ** 2),
    nx: angles.map(Math.cos),
    ny: angles.map(Math.sin),
  };
  const from = 5 * width + 7;
  // As it was published in 1959: the nearest of all that are left, again and again.
  const costs = new Float64Array(count).fill(Infinity);
  const left = new Set(Array.from({ length: count }, (_, i) => i));
  costs[from] = 0;
  const around = [
    [1, 0],
    [1, 1],
    [0, 1],
    [-1, 1],
    [-1, 0],
    [-1, -1],
    [0, -1],
    [1, -1],
  ];
  while (left.size > 0) {
    const at = [...left].reduce((a, b) => (costs[b] < costs[a] ? b : a));
    left.delete(at);
    around.forEach(([dx, dy], direction) => {
      const [x, y] = [(at % width) + dx, Math.floor(at / width) + dy];
      if (x < 0 || y < 0 || x >= width || y >= height) return;
      const to = y * width + x;
      costs[to] = Math.min(costs[to], costs[at] + stepCost(field, to, direction));
    });
  }
  // Asked for from far and near, as a pointer does.
  const paths = new LeastPaths(field, from);
  for (let k = 0; k < count; k++) {
    const sample = (k * 151) % count;
    expect(paths.costTo(sample)).toBe(costs[sample]);
    const path = paths.pathTo(sample);
    expect([path[0], path[path.length - 1]]).toEqual([from, sample]);
    let sum = 0;
    for (let n = 1; n < path.length; n++) {
      const [dx, dy] = [
        (path[n] % width) - (path[n - 1] % width),
        Math.floor(path[n] / width) - Math.floor(path[n - 1] / width),
      ];
      sum += stepCost(
        field,
        path[n],
        around.findIndex(([x, y]) => x === dx && y === dy),
      );
    }
    expect(sum).toBe(costs[sample]);
  }
});

test('from two presses a line runs round a bulge within a third of a px, under grain', () => {
  const random = seeded(8);
  const edge = (y: number) => 300 - 95 * exp(-(((y - 175) / 45) ** 2)) + 0.1 * y;
  const slope = (y: number) => (edge(y + 1) - edge(y - 1)) / 2;
  const picture = pictureOf(
    640,
    360,
    (x, y) => 90 + 50 * covered((x - edge(y)) / sqrt(1 + slope(y) ** 2)) + 6 * (random() - 0.5),
  );
  const trail = new EdgeTrail(picture, edgeField(picture, []));
  // A hand is a few px off.
  const first = trail.snapped([edge(20) + 2, 20], 5);
  const last = trail.snapped([edge(345) - 2, 345], 5);
  trail.from(first);
  const line = trail.to(last);
  const off: number[] = [];
  for (let i = 0; i < line.length; i += 2)
    off.push(Math.abs(line[i] - edge(line[i + 1])) / sqrt(1 + slope(line[i + 1]) ** 2));
  off.sort((a, b) => a - b);
  expect(off.length).toBeGreaterThan(170);
  expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(0.34);
  expect(off[off.length - 1]).toBeLessThan(1.5);
});

test('an edge that moves is kept to where a stronger one that stands still runs beside it', () => {
  // The moving edge bends away from a post and comes back to it.
  const edge = (y: number) => 330 + 40 * Math.sin((Math.PI * y) / 360);
  const frame = (moved: number) =>
    pictureOf(640, 360, (x, y) => {
      const thing = covered(x - edge(y) - moved);
      const ground = x < 318 ? 200 : 70;
      return (1 - thing) * ground + thing * 110;
    });
  const here = frame(0);
  const still: Affine = [1, 0, 0, 1, 0, 0];
  const around = [frame(-60), frame(60)].map((picture) => ({ picture, map: still }));
  const farthest = (field: EdgeField) => {
    const trail = new EdgeTrail(here, field);
    trail.from([edge(8), 8]);
    const line = trail.to([edge(352), 352]);
    let most = 0;
    for (let i = 0; i < line.length; i += 2) most = Math.max(most, Math.abs(line[i] - edge(line[i + 1])));
    return most;
  };
  expect(farthest(edgeField(here, around))).toBeLessThan(2);
  // From the one picture alone it cannot be told.
  expect(farthest(edgeField(here, []))).toBeGreaterThan(15);
});
