import { chosenBy, gestureAt, type Holdable, pointsWithin, type PoseGesture, poseDragged } from './gestures';

/** Three points, the middle one with handles; px of the shot. */
const coordinates = [0, 0, 0, 0, 0, 0, 50, 0, -20, 0, 20, 0, 100, 0, 0, 0, 0, 0];
const bare = { shiftKey: false, altKey: false, ctrlKey: false, metaKey: false };
const reach = 8;
const holdable = (rest: Partial<Holdable> = {}): Holdable => ({
  ...{ coordinates, closed: false, points: new Set<number>(), box: null, knobs: [], reach },
  ...rest,
});
const moveRigidly = (start: readonly number[], moved: ReadonlySet<number>, dx: number, dy: number) =>
  start.map((value, i) => (moved.has(Math.floor(i / 6)) ? value + [dx, dy, 0, 0, 0, 0][i % 6] : value));

test('a press on a point chooses and moves it; Shift joins it to the chosen ones, or takes it out', () => {
  const press = (points: ReadonlySet<number>, keys: Partial<typeof bare>) => {
    const gesture = gestureAt(holdable({ points }), [2, 1], { ...bare, ...keys });
    return [...chosenBy(gesture, holdable({ points }), [2, 1])!];
  };
  expect(press(new Set([2]), {})).toEqual([0]);
  expect(press(new Set([2]), { shiftKey: true })).toEqual([2, 0]);
  expect(press(new Set([0, 2]), { shiftKey: true })).toEqual([2]);
  // One of several that are chosen already moves them all.
  expect(press(new Set([0, 2]), {})).toEqual([0, 2]);
});

test('what a press begins: a point, with Alt its handle, a chosen point’s handle, the line, or a marquee', () => {
  const begun = (at: [number, number], points = new Set<number>(), keys: Partial<typeof bare> = {}) =>
    gestureAt(holdable({ points }), at, { ...bare, ...keys });
  expect(begun([50, 0])).toMatchObject({ does: 'move' });
  expect(begun([50, 0], undefined, { altKey: true })).toMatchObject({
    does: 'handle',
    hit: { point: 1, side: 'out' },
  });
  expect(begun([70, 0], new Set([1]))).toMatchObject({ does: 'handle', hit: { point: 1, side: 'out' } });
  expect(begun([25, 2])).toMatchObject({ does: 'move', points: new Set([0, 1, 2]) });
  expect(begun([25, 60])).toMatchObject({ does: 'marquee', keep: new Set() });
  expect(begun([25, 60], new Set([1]), { shiftKey: true })).toMatchObject({ keep: new Set([1]) });
  const knob = { point: 1, place: [50, 12], from: [50, 0] } as unknown as Holdable['knobs'][number];
  expect(gestureAt(holdable({ knobs: [knob] }), [50, 11], bare)).toMatchObject({ does: 'soften', knob });
});

test('a drag moves what was chosen, turns a handle with its opposite, and with Alt breaks the two', () => {
  const move = gestureAt(holdable(), [0, 0], bare) as PoseGesture;
  expect(poseDragged(move, new Set([0]), [5, 7], bare, moveRigidly).slice(0, 2)).toEqual([5, 7]);
  const handle = gestureAt(holdable({ points: new Set([1]) }), [70, 0], bare) as PoseGesture;
  const drag = (keys: typeof bare) =>
    poseDragged(handle, new Set([1]), [50, 20], keys, moveRigidly).slice(6, 12);
  const [x, y, ...others] = drag(bare);
  expect([x, y]).toEqual([50, 0]);
  expect(others[0]).toBeCloseTo(0);
  expect(others.slice(1)).toEqual([-20, 0, 20]);
  expect(drag({ ...bare, altKey: true })).toEqual([50, 0, -20, 0, 0, 20]);
});

test('a marquee takes the points within it, whichever way it is drawn, and keeps those before', () => {
  expect([...pointsWithin(coordinates, [110, 10], [40, -10], new Set())]).toEqual([1, 2]);
  expect([...pointsWithin(coordinates, [40, -10], [60, 10], new Set([0]))]).toEqual([0, 1]);
});
