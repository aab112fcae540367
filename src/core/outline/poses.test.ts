import { plainPose } from '../document/tables';
import type { PoseRow } from '../document/tables';
import { middleOfLongestGap, parabolaWeights, poseDistance, smoothedPoses, superfluousPoses } from './poses';
import { shapeAt } from './shape';

const pose = (frame: number, coordinates: number[]): PoseRow => ({
  id: `o@${frame}`,
  outlineId: 'o',
  frame,
  ...plainPose,
  origin: 'by hand',
  onward: 'linear',
  coordinates,
});
const line = (x: number, y = 0) => [x, y, 0, 0, 2, 20, x + 10, y + 60, -2, -20, 0, 0];

test('halving goes to the middle of the longest gap, again and again, until every frame has a pose', () => {
  const frames = [10, 18, 21];
  for (const wanted of [14, 12, 16, 19, 11, 13, 15, 17, 20]) {
    const middle = middleOfLongestGap([...frames].sort((a, b) => a - b).map((frame) => pose(frame, [])))!;
    expect(middle).toBe(wanted);
    frames.push(middle);
  }
  expect(middleOfLongestGap(frames.sort((a, b) => a - b).map((frame) => pose(frame, [])))).toBeNull();
});

test('thinning out takes what the in-betweens reproduce, and never more', () => {
  // Steady, then faster, with one pose that jumps out of line.
  const at = (frame: number) => (frame < 20 ? frame * 3 : 60 + (frame - 20) * 9) + (frame === 12 ? 4 : 0);
  const poses = Array.from({ length: 31 }, (_, frame) =>
    pose(frame, line(at(frame), frame % 2 === 0 ? 0.2 : -0.2)),
  );
  for (const tolerance of [0.05, 0.5, 3, 10]) {
    const gone = new Set(superfluousPoses(poses, tolerance));
    const kept = poses.filter(({ frame }) => !gone.has(frame));
    for (const { frame, coordinates } of poses) {
      const shape = shapeAt(kept, frame);
      if (!('coordinates' in shape)) throw new Error('The ends must stay.');
      expect(poseDistance(shape.coordinates, coordinates)).toBeLessThanOrEqual(tolerance + 1e-9);
    }
  }
  const kept = (tolerance: number) => 31 - superfluousPoses(poses, tolerance).length;
  expect(kept(0.05)).toBe(31);
  expect(kept(0.5)).toBe(6);
  expect(kept(10)).toBe(3);
});

test('smoothing has the published weights, keeps parabolas and chosen poses, and halves jitter', () => {
  // Savitzky and Golay 1964, table I, quadratic, five points: −3 12 17 12 −3 over 35.
  parabolaWeights([-2, -1, 0, 1, 2]).forEach((weight, k) =>
    expect(weight).toBeCloseTo([-3, 12, 17, 12, -3][k] / 35, 12),
  );
  // Seven points: −2 3 6 7 6 3 −2 over 21.
  parabolaWeights([-3, -2, -1, 0, 1, 2, 3]).forEach((weight, k) =>
    expect(weight).toBeCloseTo([-2, 3, 6, 7, 6, 3, -2][k] / 21, 12),
  );
  const uneven = [0, 1, 4, 5, 9, 12, 13].map((frame) => pose(frame, line(0.3 * frame ** 2 - frame + 4)));
  smoothedPoses(uneven).forEach((coordinates, frame) =>
    expect(poseDistance(coordinates, uneven.find((each) => each.frame === frame)!.coordinates)).toBeLessThan(
      1e-9,
    ),
  );
  const jitter = (k: number) => 1.5 * Math.sin(k * k * 1.7);
  const shaky = Array.from({ length: 40 }, (_, frame) => pose(frame, line(5 * frame + jitter(frame))));
  const smooth = smoothedPoses(shaky, new Set([20]));
  expect(smooth.has(20)).toBe(false);
  const rough = (x: (frame: number) => number) =>
    Array.from({ length: 30 }, (_, k) => (x(k + 4) - 2 * x(k + 5) + x(k + 6)) ** 2).reduce((a, b) => a + b);
  const before = rough((frame) => shaky[frame].coordinates[0]);
  const after = rough((frame) => (smooth.get(frame) ?? shaky[frame].coordinates)[0]);
  expect(after).toBeLessThan(before / 2);
});
