import { inShot, passageThrough, passes } from './passage';

const width = 320;
/** An edge that leans by 20 px, with its middle at x, as one frame shows it. */
const seen = (frame: number, x: number, { clear = 0.8, groundLeft = true } = {}) => ({
  ...{ frame, clear, groundLeft },
  points: [-10, 0, 10].map((by) => [x + by, 90 + by] as const),
});
const frames = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, k) => from + k);

test('an edge that goes on as one has a side, a speed, and frames on which it comes and goes', () => {
  const passage = passageThrough(
    frames(10, 24).map((frame) => seen(frame, 20 + 20 * (frame - 10))),
    width,
    'trailing',
  )!;
  expect(passage).toMatchObject({ direction: 1, opens: 9, closes: 25 });
  expect(passage.speed).toBeCloseTo(20);
  expect(passage.seenOn).toEqual(frames(10, 24));
  expect(passes(passage)).toBe(true);
});

test('its speed is what most pairs have: some edges that lie off, and one seen twice, change nothing', () => {
  const off = new Map([
    [12, 15],
    [19, -16],
    [22, 12],
  ]);
  const looks = frames(10, 24).map((frame) => seen(frame, 20 + 18 * (frame - 10) + (off.get(frame) ?? 0)));
  const passage = passageThrough([...looks, seen(17, 290)], width, 'trailing')!;
  expect(Math.abs(passage.speed - 18)).toBeLessThan(0.5);
});

test('with ground on the other side it goes the other way, and the edge before it the first', () => {
  const leftwards = frames(0, 9).map((frame) => seen(frame, 300 - 30 * frame, { groundLeft: false }));
  expect(passageThrough(leftwards, width, 'trailing')).toMatchObject({ direction: -1 });
  // What leads has the ground before it: the same edges would have to go to the right.
  expect(passageThrough(leftwards, width, 'leading')).toBeNull();
});

test('of two that cross a take the one seen to go through is taken, though the other, which only comes in, is clearer', () => {
  const through = [2, 4, 6, 8, 10].map((frame) => seen(frame, 40 + 28 * (frame - 2), { clear: 0.6 }));
  const comesIn = frames(30, 35).map((frame) => seen(frame, 14 + 14 * (frame - 30), { clear: 0.9 }));
  const passage = passageThrough([...through, ...comesIn], width, 'trailing')!;
  expect(passage.seenOn).toEqual([2, 4, 6, 8, 10]);
  // By itself it is seen, and not said to pass.
  const alone = passageThrough(comesIn, width, 'trailing')!;
  expect(alone.seenOn).toEqual(frames(30, 35));
  expect(passes(alone)).toBe(false);
});

test('two looks, dull ones, or such as lie nowhere together are no passage', () => {
  expect(passageThrough([seen(3, 60), seen(9, 240)], width, 'trailing')).toBeNull();
  const dull = frames(10, 24).map((frame) => seen(frame, 20 + 20 * (frame - 10), { clear: 0.2 }));
  expect(passageThrough(dull, width, 'trailing')).toBeNull();
  const about = [60, 200, 70, 250, 90, 30].map((x, k) => seen(4 * k, x));
  expect(passes(passageThrough(about, width, 'trailing'))).toBe(false);
});

test('in the shot’s px its speed is the shot’s, its frames are what they were', () => {
  const looks = frames(10, 24).map((frame) => seen(frame, 20 + 20 * (frame - 10)));
  const passage = passageThrough(looks, width, 'trailing')!;
  expect(inShot(passage, [4, 0, 0, 4, 0, 0])).toMatchObject({ direction: 1, opens: 9, closes: 25 });
  expect(inShot(passage, [4, 0, 0, 4, 0, 0]).speed).toBeCloseTo(80);
});
