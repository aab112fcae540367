import { frameOfTimestamp, keyFrameFor } from './frame-index';
import { firstShowing, sourceAt, tableOf } from './frame-table';
import { crossingFrameOf, offsetAt, offsetShowing, sourceFrameAt, withSpeed } from './time-map';
import { plainTime, type TimeMap } from '../model/time';
import { seeded } from '../random';
import { formatRate, nominalRateOf } from './rate';

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
      const source = sourceFrameAt(frame, at12, crossing, { rate: shot });
      // Independent of the implementation: the time of the source frame's start is not after the crossing
      // frame's start, and that of the next one is.
      const t = frame * crossing.den * shot.num;
      expect((source - 12) * crossing.num * shot.den).toBeLessThanOrEqual(t);
      expect((source - 11) * crossing.num * shot.den).toBeGreaterThan(t);
      const first = crossingFrameOf(source, at12, crossing, { rate: shot });
      expect(sourceFrameAt(first, at12, crossing, { rate: shot })).toBeGreaterThanOrEqual(source);
      expect(sourceFrameAt(first - 1, at12, crossing, { rate: shot })).toBeLessThan(source);
    }
  }
});

test('speed, reverse and freeze are whole frame numbers, and a change of speed keeps the frame in view', () => {
  const pal = { num: 25, den: 1 };
  const numbers = (map: Partial<TimeMap>, count = 7) =>
    Array.from({ length: count }, (_, f) => sourceFrameAt(f, { ...plainTime, ...map }, pal, { rate: pal }));
  expect(numbers({ speed: 200 })).toEqual([0, 2, 4, 6, 8, 10, 12]);
  expect(numbers({ speed: 25 })).toEqual([0, 0, 0, 0, 1, 1, 1]);
  // A third of a percent's rounding adds up: 340 % of 25 frames is 85.
  expect(sourceFrameAt(25, { ...plainTime, speed: 340 }, pal, { rate: pal })).toBe(85);
  expect(numbers({ offset: 9, reverse: true })).toEqual([9, 8, 7, 6, 5, 4, 3]);
  expect(numbers({ offset: 9, reverse: true, holdFrom: 6 })).toEqual([9, 8, 7, 6, 6, 6, 6]);
  expect(numbers({ offset: 5, holdFrom: 7 })).toEqual([5, 6, 7, 7, 7, 7, 7]);
  for (const speed of [25, 33.33, 50, 100, 150, 340, 800]) {
    for (const reverse of [false, true]) {
      const map = withSpeed({ ...plainTime, offset: 40 }, { speed, reverse }, 23, pal, pal);
      expect(sourceFrameAt(23, map, pal, { rate: pal })).toBe(63);
      for (let source = -50; source < 200; source += 3) {
        const first = crossingFrameOf(source, map, pal, { rate: pal });
        const past = (frame: number) =>
          reverse
            ? sourceFrameAt(frame, map, pal, { rate: pal }) <= source
            : sourceFrameAt(frame, map, pal, { rate: pal }) >= source;
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
  expect(sourceFrameAt(99_999, { ...plainTime, speed: 799.99 }, crossing, { rate: shot })).toBe(
    Number(exact),
  );
});

test.each([25, 46.56, 94, 100, 130.5, 800])(
  'any frame is laid on any crossing frame, at %d %% too',
  (speed) => {
    const shot = { rate: { num: 30000, den: 1001 } };
    for (const crossing of [shot.rate, { num: 25, den: 1 }])
      for (const reverse of [false, true])
        for (let frame = 0; frame < 120; frame += 7)
          for (const source of [0, 20, 57]) {
            const map = { ...plainTime, speed, reverse };
            const offset = offsetAt(source, frame, map, crossing, shot);
            expect(sourceFrameAt(frame, { ...map, offset }, crossing, shot)).toBe(source);
          }
  },
);

test('a timestamp rounded to microseconds finds its frame, also at a variable rate', () => {
  const timestamps = Float64Array.from({ length: 200 }, (_, n) => 0.0417 + n / 59.94 + (n % 3) * 0.004);
  const index = { timestamps, keyFrames: Uint32Array.of(0, 48, 96) };
  timestamps.forEach((seconds, n) =>
    expect(frameOfTimestamp(index, Math.round(seconds * 1e6) / 1e6)).toBe(n),
  );
  expect([0, 47, 48, 199].map((n) => keyFrameFor(index, n))).toEqual([0, 0, 48, 96]);
});

test('uneven frames: the one on screen in the middle of the crossing frame, forwards and backwards, exactly', () => {
  const pal = { num: 25, den: 1 };
  const ntsc = { num: 30000, den: 1001 };
  // Steps of 5 to 75 ms, a pause of 1.5 s, and the mean rate that a file with them would have.
  const steps = Array.from({ length: 120 }, (_, k) =>
    k === 40 ? 1_500_000 : 5000 + ((k * 7919) % 71) * 1000,
  );
  const frameTimes = steps.reduce<number[]>((times, step) => [...times, times[times.length - 1] + step], [0]);
  const end = frameTimes[120];
  const rate = { num: 120_000_000, den: end };
  const shot = { rate, frameTimes };
  for (const crossing of [pal, ntsc]) {
    for (const speed of [50, 100, 340]) {
      for (let n = 0; n < 140; n++) {
        // Times in units of 1 / (num · 100) µs are whole.
        const unit = BigInt(crossing.num) * 100n;
        const moment = BigInt(n) * BigInt(crossing.den) * 1_000_000n * BigInt(speed);
        // In the middle of the crossing frame, as ffmpeg's filter fps has it.
        const middle = 2n * moment + BigInt(crossing.den) * 1_000_000n * BigInt(speed);
        const on = frameTimes.findLastIndex((time) => 2n * BigInt(time - 600) * unit <= middle);
        const forwards = { ...plainTime, speed };
        if (middle < 2n * BigInt(end) * unit) expect(sourceFrameAt(n, forwards, crossing, shot)).toBe(on);
        // Backwards from the last frame: the clip turned about, frames lying from their ends to their beginnings.
        const lastEnd = BigInt(end) + BigInt(Math.round(end / 120));
        const left = 2n * lastEnd * unit - middle;
        const from = frameTimes.findLastIndex((time) => 2n * BigInt(time + 600) * unit <= left);
        const backwards = { ...plainTime, speed, reverse: true, offset: 120 };
        if (left > 2n * BigInt(frameTimes[1]) * unit)
          expect(Math.abs(sourceFrameAt(n, backwards, crossing, shot) - from)).toBe(0);
      }
      for (const reverse of [false, true]) {
        const map = { ...plainTime, speed, reverse, offset: reverse ? 120 : 0 };
        for (let source = 0; source <= 120; source++) {
          const first = crossingFrameOf(source, map, crossing, shot);
          const past = (frame: number) =>
            reverse
              ? sourceFrameAt(frame, map, crossing, shot) <= source
              : sourceFrameAt(frame, map, crossing, shot) >= source;
          expect([past(first), past(first - 1)]).toEqual([true, false]);
        }
      }
    }
  }
  // A frame that stays on as long as the mean can be brought to the crossing's first.
  for (const source of [0, 40, 41]) {
    const offset = offsetShowing(source, plainTime, shot);
    expect(Math.abs(sourceFrameAt(0, { ...plainTime, offset }, pal, shot) - source)).toBeLessThanOrEqual(1);
  }
});

test('a layer’s table gives the same frames as its time map, both ways, and is filled once', () => {
  const crossing = { rateNum: 24000, rateDen: 1001, length: 90 };
  const rate = { num: 24000, den: 1001 };
  const shot = { rate: { num: 25, den: 1 } };
  for (const change of [{}, { speed: 340 }, { speed: 40 }, { reverse: true, offset: 80 }, { holdFrom: 30 }]) {
    const map = { ...plainTime, ...change };
    const table = tableOf(map, crossing, shot);
    for (let frame = -20; frame < 120; frame++)
      expect(sourceAt(map, crossing, shot, frame)).toBe(sourceFrameAt(frame, map, rate, shot));
    for (let source = 0; source < 60; source++) {
      const first = firstShowing(map, crossing, shot, source);
      const shown = Array.from({ length: 90 }, (_, f) => f).find((f) => table.sources[f] === source);
      expect(first).toBe(shown ?? crossingFrameOf(source, map, rate, shot));
    }
    expect(tableOf(map, crossing, shot)).toBe(table);
    expect(tableOf(map, { ...crossing, length: 91 }, shot).sources).toHaveLength(91);
  }
});

test('frames that come on time by and large are each shown once at their nominal rate, forwards and backwards', () => {
  // 30 a second, each up to 14 ms early or late, less than half a frame, as phones write them.
  const nominal = { num: 30, den: 1 };
  const count = 300;
  const random = seeded(5);
  const frameTimes = Array.from({ length: count }, (_, n) =>
    n === 0 ? 0 : Math.round((n * 1e6) / 30 + (n < count - 1 ? (random() - 0.5) * 28_000 : 0)),
  );
  const shot = { rate: { num: (count - 1) * 1e6, den: frameTimes[count - 1] }, frameTimes };
  // 29.97 and 30 are not told apart in 10 s of such times.
  expect([29.97, 30]).toContain(Number(formatRate(nominalRateOf(shot))));
  expect(nominalRateOf({ rate: nominal })).toEqual(nominal);
  for (const map of [plainTime, { ...plainTime, reverse: true, offset: count - 1 }]) {
    const shown = Array.from({ length: count - 12 }, (_, n) => sourceFrameAt(n, map, nominal, shot));
    const steps = shown.slice(1).map((frame, n) => Math.abs(frame - shown[n]));
    expect(steps.filter((step) => step !== 1)).toEqual([]);
  }
});
