import Timecode from 'smpte-timecode';
import {
  countAt,
  frameOfCount,
  framesOfDay,
  samplesSinceMidnight,
  sourceTimecodeFrom,
  timecodeOfFrame,
} from './source-timecode';

const pal = { num: 25, den: 1 };
const ntsc = { num: 30000, den: 1001 };

test('a shot’s frames count on from its first, as the package smpte-timecode has them, over a minute and midnight', () => {
  for (const [text, rate, fps] of [
    ['09:59:59:20', pal, 25],
    ['00:59:59;25', ntsc, 29.97],
    ['23:59:58;00', ntsc, 29.97],
  ] as const) {
    const own = sourceTimecodeFrom(text, rate);
    for (let frame = 0; frame < 4000; frame += 37) {
      const other = new Timecode(own.start, fps, own.dropFrame);
      other.add(frame);
      expect(timecodeOfFrame(own, rate, frame)).toBe(other.toString());
    }
  }
  // SMPTE ST 12-1: a day of drop-frame has 2 589 408 frames.
  expect([framesOfDay(ntsc, true), framesOfDay(pal, false)]).toEqual([2_589_408, 2_160_000]);
});

test('where the shot runs twice as fast as its timecode counts, two frames share a number', () => {
  const own = sourceTimecodeFrom('10:00:00:00', pal);
  const fifty = { num: 50, den: 1 };
  expect([0, 1, 2, 49, 50].map((frame) => timecodeOfFrame(own, fifty, frame))).toEqual([
    ...['10:00:00:00', '10:00:00:00', '10:00:00:01'],
    ...['10:00:00:24', '10:00:01:00'],
  ]);
  for (let frame = 0; frame < 60; frame++)
    expect(frameOfCount(own, fifty, countAt(own, fifty, frame))).toBe(frame - (frame % 2));
});

test('what is typed is read with any mark before the frames, and refused in a sentence', () => {
  expect(sourceTimecodeFrom(' 01:00:00.02 ', ntsc)).toEqual({ start: 107_894, rate: ntsc, dropFrame: true });
  expect(() => sourceTimecodeFrom('01:00:00;02', pal)).toThrow(/counts in drop-frame.*29\.97/);
  expect(() => sourceTimecodeFrom('1:2', pal)).toThrow(/not a timecode/);
  expect(() => sourceTimecodeFrom('10:00:00:25', pal)).toThrow(/out of range/);
});

test('samples since midnight are those of frames as long as they are', () => {
  // An hour of 25 a second; 107 892 frames of 29.97 are 3599.9964 s.
  expect(samplesSinceMidnight(90_000, pal, 48_000)).toBe(172_800_000);
  expect(samplesSinceMidnight(107_892, ntsc, 48_000)).toBe(Math.round(3599.9964 * 48_000));
});
