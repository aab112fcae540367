import { frameOfTimestamp, keyFrameFor } from './frame-index';
import { crossingFrameOf, sourceFrameAt } from './time-map';

test('rates convert without drift: the crossing frame of a source frame shows it', () => {
  const film = { num: 24000, den: 1001 };
  const pal = { num: 25, den: 1 };
  const double = { num: 50, den: 1 };
  for (const [crossing, shot] of [
    [pal, pal],
    [pal, film],
    [pal, double],
    [film, pal],
  ]) {
    for (let frame = -40; frame < 4000; frame += 7) {
      const source = sourceFrameAt(frame, 12, crossing, shot);
      // Independent of the implementation: the time of the source frame's start is not after the crossing
      // frame's start, and that of the next one is.
      const t = frame * crossing.den * shot.num;
      expect((source - 12) * crossing.num * shot.den).toBeLessThanOrEqual(t);
      expect((source - 11) * crossing.num * shot.den).toBeGreaterThan(t);
      const first = crossingFrameOf(source, 12, crossing, shot);
      expect(sourceFrameAt(first, 12, crossing, shot)).toBeGreaterThanOrEqual(source);
      expect(sourceFrameAt(first - 1, 12, crossing, shot)).toBeLessThan(source);
    }
  }
});

test('a timestamp rounded to microseconds finds its frame, also at a variable rate', () => {
  const timestamps = Float64Array.from({ length: 200 }, (_, n) => 0.0417 + n / 59.94 + (n % 3) * 0.004);
  const index = { timestamps, keyFrames: Uint32Array.of(0, 48, 96) };
  timestamps.forEach((seconds, n) =>
    expect(frameOfTimestamp(index, Math.round(seconds * 1e6) / 1e6)).toBe(n),
  );
  expect([0, 47, 48, 199].map((n) => keyFrameFor(index, n))).toEqual([0, 0, 48, 96]);
});
