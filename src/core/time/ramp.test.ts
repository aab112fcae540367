import { frameTable } from './frame-table';
import { isSoundRamp, rampedFrame, rampPercentAt, rampSpeedAt } from './ramp';
import { type Ramp, plainTime } from '../model/time';
import { crossingFrameOf, sourceFrameAt } from './time-map';

const crossing = { num: 25, den: 1 };
const shot = { rate: { num: 25, den: 1 } };
const sources = (map: Ramp, length = 80, offset = 0) => [
  ...frameTable({ ...plainTime, offset, ...map }, crossing, shot, length).sources,
];

test('a constant ramp is the same as that speed, frame for frame, at any rate', () => {
  for (const speed of [25, 50, 62.5, 137.33, 200, 340])
    for (const rate of [crossing, { num: 30000, den: 1001 }, { num: 24000, den: 1001 }]) {
      const plain = frameTable({ ...plainTime, offset: 3, speed }, rate, shot, 200);
      const ramped = frameTable({ ...plainTime, offset: 3, ramp: [50, speed] }, rate, shot, 200);
      expect([...ramped.sources]).toEqual([...plain.sources]);
    }
});

test('the source frame is the sum of the speeds; the frame that stays, stays', () => {
  const ramp = [10, 100, 30, 340, 40, 340, 60, 100];
  // Exact sums: a linear piece adds its mean times its length, in quarters of a percent here.
  let sum = 0;
  const exact = [0];
  for (let frame = 0; frame < 79; frame++) {
    sum += (rampPercentAt(ramp, frame) + rampPercentAt(ramp, frame + 1)) / 2;
    exact.push(sum);
  }
  expect(sources({ ramp })).toEqual(exact.map((value) => Math.floor(value / 100 + 1e-9)));
  for (const rampAt of [0, 25, 35, 79]) {
    const at = sources({ ramp, rampAt });
    expect(at[rampAt]).toBe(rampAt);
    for (let frame = 1; frame < 80; frame++) expect(at[frame]).toBeGreaterThanOrEqual(at[frame - 1]);
  }
});

test('still, and backwards', () => {
  const still = sources({ ramp: [0, 100, 20, 100, 21, 0, 40, 0, 41, 100] });
  expect(new Set(still.slice(21, 40)).size).toBe(1);
  const back = sources({ ramp: [0, -100], rampAt: 10 });
  expect(back.slice(8, 13)).toEqual([12, 11, 10, 9, 8]);
});

test('rounded corners keep the course’s length and have no jump of speed', () => {
  const ramp = [10, 100, 11, 400, 40, 400, 41, 100];
  const rounded = { ramp, rampRound: 10 };
  // Far from the corners nothing is different.
  expect(rampedFrame(rounded, 79) - rampedFrame(rounded, 0)).toBeCloseTo(
    rampedFrame({ ramp }, 79) - rampedFrame({ ramp }, 0),
    3,
  );
  const speeds = Array.from({ length: 60 }, (_, frame) => rampSpeedAt(rounded, frame));
  for (let frame = 1; frame < 60; frame++)
    expect(Math.abs(speeds[frame] - speeds[frame - 1])).toBeLessThan(45);
  expect(Math.max(...speeds)).toBeCloseTo(400, 1);
});

test('a source frame is found again, and bad lists are told', () => {
  const map = { ...plainTime, offset: 5, ramp: [10, 50, 40, 300], rampAt: 20 };
  for (let frame = 0; frame < 80; frame++) {
    const source = sourceFrameAt(frame, map, crossing, shot);
    const first = crossingFrameOf(source, map, crossing, shot);
    expect(sourceFrameAt(first, map, crossing, shot)).toBeGreaterThanOrEqual(source);
    expect(sourceFrameAt(first - 1, map, crossing, shot)).toBeLessThan(source);
  }
  expect(isSoundRamp([0, 100, 5, -1000])).toBe(true);
  for (const bad of [[1], [5, 100, 5, 100], [0.5, 100], [-1, 100], [0, 1001]])
    expect(isSoundRamp(bad)).toBe(false);
});

test('the frame at which a ramp first shows a source frame is found, however far it is', () => {
  const rate = { num: 25, den: 1 };
  for (const [ramp, rampRound] of [
    [[0, 100, 40, 12.5], 0],
    [[10, 300, 50, 20], 12],
    [[5000, 100, 5100, 250], 30],
    [[0, 50, 20, 100, 60, -80, 90, 30], 0],
  ] as const) {
    const map = { ...plainTime, ramp, rampAt: 10, rampRound };
    for (const source of [11, 60, 400, 9000, 70_000, -300, -5000]) {
      const frame = crossingFrameOf(source, map, rate, { rate });
      const shown = (at: number) => sourceFrameAt(at, map, rate, { rate });
      expect([source, frame, shown(frame) >= source]).toEqual([source, frame, true]);
      expect([source, frame, shown(frame - 1) < source]).toEqual([source, frame, true]);
    }
  }
});
