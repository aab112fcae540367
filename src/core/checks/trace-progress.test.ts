import { plainPose } from '../document/tables';
import { traceProgress } from './trace-progress';

const pose = (frame: number) => ({
  id: `o@${frame}`,
  outlineId: 'o',
  frame,
  ...plainPose,
  origin: 'by hand' as const,
  onward: 'linear' as const,
  coordinates: [],
});

test('names the first thing that is still to do, and the frame where', () => {
  const poses = [pose(10), pose(14)];
  expect(traceProgress([], null, null)).toMatchObject({ holds: false, note: 'Draw the first outline' });
  expect(traceProgress(poses, Float32Array.of(0.2, 1, 1), 1)).toMatchObject({ holds: false, frame: 0 });
  // Coverage leaps from 40 % to full after the last pose, at crossing frame 2: the next pose is as far on as the last.
  expect(traceProgress(poses, Float32Array.of(0, 0.1, 0.4, 1, 1, 1, 1, 1), 2)).toMatchObject({
    holds: false,
    frame: 6,
  });
  expect(traceProgress(poses, Float32Array.of(0, 0.5, 0.999), 5)).toMatchObject({ holds: false, frame: 2 });
  expect(traceProgress(poses, Float32Array.of(0, 0.5, 1, 1), 2).holds).toBe(true);
  // An opening never fills the frame; it is traced to the end.
  const door = Float32Array.of(0, 0.1, 0.2, 0.2);
  expect(traceProgress(poses, door, 2, 'opens')).toMatchObject({ holds: false, frame: 3 });
  expect(traceProgress(poses, door, 3, 'opens').holds).toBe(true);
  // A window that was always there is traced once.
  expect(traceProgress([pose(0)], Float32Array.of(0.1, 0.5), 0, 'stays').holds).toBe(true);
});
