import { Pace } from './pace';

/** So many frames that are drawn in time, or of which every second one is left out. */
function plays(pace: Pace, frames: number, inTime: boolean) {
  for (let k = 0; k < frames; k++) pace.note(inTime ? 0 : 1, true);
}

test('where frames are left out the picture gets coarser by steps, not for a single one, and finer at a new start', () => {
  const pace = new Pace();
  pace.begin();
  // What has to be read first says nothing.
  for (let k = 0; k < 6; k++) pace.note(3, false);
  expect(pace.share).toBe(1);
  plays(pace, 50, true);
  pace.note(1, true);
  plays(pace, 50, true);
  expect(pace.share).toBe(1);
  const shares = Array.from({ length: 8 }, () => {
    plays(pace, 3, false);
    return pace.share;
  });
  expect(shares).toEqual([0.7, 0.5, 0.35, 0.35, 0.35, 0.35, 0.35, 0.35]);
  // Within one playing it stays as coarse: nothing leaps to and fro.
  plays(pace, 500, true);
  expect(pace.share).toBe(0.35);
  pace.begin();
  plays(pace, 500, true);
  expect(pace.share).toBe(0.5);
});
