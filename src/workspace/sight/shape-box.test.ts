import { numbersPerPoint as N } from '@/core/model/choices';
import { boxDragged, boxHit, shapeBox, sidesOf } from './shape-box';

const none = new Set<number>();
const reach = 9;
/** A rectangle from (100, 50) to (300, 150), with a handle to the right at its first corner. */
const pose = [100, 50, 300, 50, 300, 150, 100, 150].flatMap((value, i, all) =>
  i % 2 === 0 ? [value, all[i + 1], 0, 0, i === 0 ? 20 : 0, 0] : [],
);
const box = shapeBox(pose, none, null, reach);
const places = (coordinates: readonly number[]) =>
  Array.from({ length: coordinates.length / N }, (_, p) => [coordinates[p * N], coordinates[p * N + 1]]);
const plain = { even: false, pull: false };

test('the hand finds the knob, the pivot, corners, sides and the inside, in that order', () => {
  expect(boxHit(box, box.knob, reach)).toEqual({ on: 'knob' });
  expect(boxHit(box, [203, 98], reach)).toEqual({ on: 'pivot' });
  box.corners.forEach(([x, y], number) =>
    expect(boxHit(box, [x + 4, y - 4], reach)).toEqual({ on: 'corner', number }),
  );
  sidesOf(box).forEach((side, number) => expect(boxHit(box, side, reach)).toEqual({ on: 'side', number }));
  expect(boxHit(box, [150, 120], reach)).toEqual({ on: 'inside' });
  expect(boxHit(box, [320, 100], reach)).toBeNull();
  // A line that stands upright has a box that can be taken hold of all the same.
  const upright = shapeBox([50, 0, 0, 0, 0, 0, 50, 90, 0, 0, 0, 0], none, null, reach);
  expect(upright.corners[1][0] - upright.corners[0][0]).toBe(4);
});

test('corners scale about the pivot, evenly when asked; sides one way; the inside moves; handles go along', () => {
  const from = box.corners[2];
  const wide = boxDragged(pose, none, {
    box,
    part: { on: 'corner', number: 2 },
    from,
    at: [350, 150],
    ...plain,
  });
  expect(places(wide)).toEqual([
    [50, 50],
    [350, 50],
    [350, 150],
    [50, 150],
  ]);
  expect(wide[4]).toBeCloseTo(30, 9);
  const even = boxDragged(pose, none, {
    box,
    part: { on: 'corner', number: 2 },
    from,
    at: [350, 150],
    ...{
      ...plain,
      even: true,
    },
  });
  expect(places(even)[2]).toEqual([350, 175]);
  const side = boxDragged(pose, none, {
    box,
    part: { on: 'side', number: 0 },
    from: [200, 50],
    at: [260, 25],
    ...plain,
  });
  expect(places(side)[0]).toEqual([100, 25]);
  expect(places(side)[2]).toEqual([300, 175]);
  const moved = boxDragged(pose, new Set([1]), {
    box,
    part: { on: 'inside' },
    from: [0, 0],
    at: [5, -7],
    ...plain,
  });
  expect(places(moved)).toEqual([[100, 50], [305, 43], ...places(pose).slice(2)]);
  // About a pivot on the opposite corner that corner stays.
  const held = shapeBox(pose, none, [100, 50], reach);
  const grown = boxDragged(pose, none, {
    box: held,
    part: { on: 'corner', number: 2 },
    from,
    at: [400, 200],
    ...plain,
  });
  expect(places(grown)).toEqual([
    [100, 50],
    [400, 50],
    [400, 200],
    [100, 200],
  ]);
});

test('the knob turns, in steps of 15° when asked; a corner pulled alone takes the points along as in perspective', () => {
  const quarter = boxDragged(pose, none, {
    box,
    part: { on: 'knob' },
    from: [200, 20],
    at: [280, 100],
    ...plain,
  });
  expect(places(quarter)[0][0]).toBeCloseTo(250, 9);
  expect(places(quarter)[0][1]).toBeCloseTo(0, 9);
  expect([quarter[4], quarter[5]].map((value) => Math.round(value * 1e6) / 1e6)).toEqual([0, 20]);
  const step = boxDragged(pose, none, {
    box,
    part: { on: 'knob' },
    from: [200, 20],
    at: [222, 21],
    ...{ ...plain, even: true },
  });
  const [x, y] = places(step)[0];
  expect(Math.atan2(y - 100, x - 200) - Math.atan2(-50, -100)).toBeCloseTo(Math.PI / 12, 9);
  const pulled = boxDragged(pose, none, {
    box,
    part: { on: 'corner', number: 1 },
    from: [300, 50],
    at: [340, 20],
    ...{
      ...plain,
      pull: true,
    },
  });
  [
    [100, 50],
    [340, 20],
    [300, 150],
    [100, 150],
  ].forEach(([px, py], p) => {
    expect(places(pulled)[p][0]).toBeCloseTo(px, 6);
    expect(places(pulled)[p][1]).toBeCloseTo(py, 6);
  });
  expect(boxDragged(pose, none, { box, part: { on: 'pivot' }, from: [0, 0], at: [9, 9], ...plain })).toEqual(
    pose,
  );
});
