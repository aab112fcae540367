import { flattenOutline } from '../outline';
import { seeded } from '../random';
import { loopsOfMatte, matteLines } from './matte-outline';

const [width, height] = [320, 180];
/** The matte is half as large as the shot that it is for. */
const shot = { width: 640, height: 360 };
const middle = (frame: number) => [110 + 6 * frame, 90];
const [outer, inner] = [60, 20];

/** A white ring on black that goes to the right, antialiased, in video's range. */
function ring(frame: number) {
  const [cx, cy] = middle(frame);
  const values = Uint8Array.from({ length: width * height }, (_, i) => {
    const far = Math.hypot((i % width) + 0.5 - cx, Math.floor(i / width) + 0.5 - cy);
    const share = (edge: number) => Math.min(1, Math.max(0, edge - far + 0.5));
    return Math.round(16 + 219 * (share(outer) - share(inner)));
  });
  return { values, width, height, fullRange: false };
}

test('a matte’s white becomes a loop, its hole another, on every frame with the same points, on the true circles', () => {
  const black = { ...ring(0), values: new Uint8Array(width * height).fill(16) };
  const frames = [0, 1, 2, 3, 4, 5, 6].map((frame) => ({
    frame,
    lines: matteLines(frame === 0 ? black : ring(frame), shot),
  }));
  const loops = loopsOfMatte(frames, shot);
  expect(loops.map(({ hole }) => hole)).toEqual([false, true]);
  for (const { hole, poses } of loops) {
    // Nothing is white on frame 0.
    expect(poses.map(({ frame }) => frame)).toEqual([1, 2, 3, 4, 5, 6]);
    expect(new Set(poses.map(({ coordinates }) => coordinates.length)).size).toBe(1);
    expect(poses[0].coordinates.length / 6).toBeLessThanOrEqual(8);
    for (const { frame, coordinates } of poses) {
      const line = flattenOutline(coordinates, true, 1, 0.1);
      const [cx, cy] = middle(frame).map((value) => 2 * value);
      for (let i = 0; i < line.length; i += 2)
        expect(
          Math.abs(Math.hypot(line[i] - cx, line[i + 1] - cy) - 2 * (hole ? inner : outer)),
        ).toBeLessThan(2);
    }
  }
  expect(loopsOfMatte([frames[0]], shot)).toEqual([]);
});

test('a matte with hard, noisy edges is followed too: no curve strays from its steps', () => {
  // Straight stretches of few places with opposite directions: their handles could be of any length.
  for (let seed = 0; seed < 30; seed++) {
    const random = seeded(seed);
    const [cx, cy, radius] = [60 + 20 * random(), 50 + 10 * random(), 20 + 25 * random()];
    const [width, height] = [130, 110];
    const values = Uint8Array.from({ length: width * height }, (_, i) => {
      const far = Math.hypot((i % width) + 0.5 - cx, Math.floor(i / width) + 0.5 - cy);
      return (far <= radius ? 235 : 16) + Math.round(6 * (random() - 0.5));
    });
    const size = { width, height };
    const [{ poses }] = loopsOfMatte(
      [{ frame: 0, lines: matteLines({ ...size, values, fullRange: false }, size) }],
      size,
    );
    const line = flattenOutline(poses[0].coordinates, true, 1, 0.1);
    for (let i = 0; i < line.length; i += 2)
      expect(Math.abs(Math.hypot(line[i] - cx, line[i + 1] - cy) - radius)).toBeLessThan(2);
  }
});
