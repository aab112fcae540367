import Timecode from 'smpte-timecode';
import { rateFromMeasured } from './rate';
import { formatTimecode, parseTimecode } from './timecode';

const ntsc = { num: 30000, den: 1001 };

test('drop-frame counting gives the values of SMPTE ST 12-1', () => {
  // ST 12-1, drop-frame: 00:00:59;29 is followed by 00:01:00;02; every tenth minute drops nothing; an hour has
  // 107 892 frames, a day 2 589 408.
  expect(formatTimecode(1799, ntsc, true)).toBe('00:00:59;29');
  expect(formatTimecode(1800, ntsc, true)).toBe('00:01:00;02');
  expect(formatTimecode(17982, ntsc, true)).toBe('00:10:00;00');
  expect(formatTimecode(107892, ntsc, true)).toBe('01:00:00;00');
  expect(formatTimecode(2589408, ntsc, true)).toBe('00:00:00;00');
  expect(() => parseTimecode('00:01:00;01', ntsc)).toThrow('no “00:01:00;01”');
});

test('agrees with the package smpte-timecode, drop and non-drop, over a day', () => {
  for (const [fps, rate, drop] of [
    [29.97, ntsc, true],
    [59.94, { num: 60000, den: 1001 }, true],
    [25, { num: 25, den: 1 }, false],
    [23.976, { num: 24000, den: 1001 }, false],
    [50, { num: 50, den: 1 }, false],
  ] as const) {
    for (let frame = 0; frame < 2_000_000; frame += 8_191) {
      const expected = new Timecode(frame, fps, drop).toString();
      expect(formatTimecode(frame, rate, drop)).toBe(expected);
      expect(parseTimecode(expected, rate)).toBe(frame);
    }
  }
});

test('a measured rate is taken for the common one it means', () => {
  expect(rateFromMeasured(29.9702)).toEqual(ntsc);
  expect(rateFromMeasured(30)).toEqual({ num: 30, den: 1 });
  expect(rateFromMeasured(12.5)).toEqual({ num: 25, den: 2 });
  expect(() => rateFromMeasured(0)).toThrow(RangeError);
});
