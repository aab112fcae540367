import { frameOfTimestamp, keyFrameFor } from './frame-index';
import { crossingFrameOf, plainTime, sourceFrameAt, type TimeMap, withSpeed } from './time-map';

const at12 = { ...plainTime, offset: 12 };

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
      const source = sourceFrameAt(frame, at12, crossing, shot);
      // Independent of the implementation: the time of the source frame's start is not after the crossing
      // frame's start, and that of the next one is.
      const t = frame * crossing.den * shot.num;
      expect((source - 12) * crossing.num * shot.den).toBeLessThanOrEqual(t);
      expect((source - 11) * crossing.num * shot.den).toBeGreaterThan(t);
      const first = crossingFrameOf(source, at12, crossing, shot);
      expect(sourceFrameAt(first, at12, crossing, shot)).toBeGreaterThanOrEqual(source);
      expect(sourceFrameAt(first - 1, at12, crossing, shot)).toBeLessThan(source);
    }
  }
});

test('speed, reverse and freeze are whole frame numbers, and a change of speed keeps the frame in view', () => {
  const pal = { num: 25, den: 1 };
  const numbers = (map: Partial<TimeMap>, count = 7) =>
    Array.from({ length: count }, (_, f) => sourceFrameAt(f, { ...plainTime, ...map }, pal, pal));
  expect(numbers({ speed: 200 })).toEqual([0, 2, 4, 6, 8, 10, 12]);
  expect(numbers({ speed: 25 })).toEqual([0, 0, 0, 0, 1, 1, 1]);
  // A third of a percent's rounding adds up: 340 % of 25 frames is 85.
  expect(sourceFrameAt(25, { ...plainTime, speed: 340 }, pal, pal)).toBe(85);
  expect(numbers({ offset: 9, reverse: true })).toEqual([9, 8, 7, 6, 5, 4, 3]);
  expect(numbers({ offset: 9, reverse: true, holdFrom: 6 })).toEqual([9, 8, 7, 6, 6, 6, 6]);
  expect(numbers({ offset: 5, holdFrom: 7 })).toEqual([5, 6, 7, 7, 7, 7, 7]);
  for (const speed of [25, 33.33, 50, 100, 150, 340, 800]) {
    for (const reverse of [false, true]) {
      const map = withSpeed({ ...plainTime, offset: 40 }, { speed, reverse }, 23, pal, pal);
      expect(sourceFrameAt(23, map, pal, pal)).toBe(63);
      for (let source = -50; source < 200; source += 3) {
        const first = crossingFrameOf(source, map, pal, pal);
        const past = (frame: number) =>
          reverse
            ? sourceFrameAt(frame, map, pal, pal) <= source
            : sourceFrameAt(frame, map, pal, pal) >= source;
        expect([past(first), past(first - 1)]).toEqual([true, false]);
      }
    }
  }
  // Beyond 2⁵³: frame 99,999 of 23.976 fps against 59.94 fps at 799.99 % still is exact (checked with BigInt).
  const [crossing, shot] = [
    { num: 24000, den: 1001 },
    { num: 60000, den: 1001 },
  ];
  const exact = (99_999n * 60000n * 79999n) / (24000n * 10000n);
  expect(sourceFrameAt(99_999, { ...plainTime, speed: 799.99 }, crossing, shot)).toBe(Number(exact));
});

test('a timestamp rounded to microseconds finds its frame, also at a variable rate', () => {
  const timestamps = Float64Array.from({ length: 200 }, (_, n) => 0.0417 + n / 59.94 + (n % 3) * 0.004);
  const index = { timestamps, keyFrames: Uint32Array.of(0, 48, 96) };
  timestamps.forEach((seconds, n) =>
    expect(frameOfTimestamp(index, Math.round(seconds * 1e6) / 1e6)).toBe(n),
  );
  expect([0, 47, 48, 199].map((n) => keyFrameFor(index, n))).toEqual([0, 0, 48, 96]);
});
