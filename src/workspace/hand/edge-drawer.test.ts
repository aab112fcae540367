import type { Drawing } from './drawing';
import { withoutLast } from './drawing';
import { type AskForLine, EdgeDrawer } from './edge-drawer';

type Answer = Awaited<ReturnType<AskForLine>>;

/** A drawer whose lines come when the test says so. */
function drawer() {
  let drawing: Drawing | null = null;
  const asked: { from: unknown; to: readonly [number, number]; answer(found: Answer): Promise<void> }[] = [];
  const own = new EdgeDrawer(
    { drawing: () => drawing, draw: (next) => (drawing = next) },
    (from, to) =>
      new Promise((done) => {
        const answer = async (found: Answer) => {
          done(found);
          // Until all that follows from it has happened.
          for (let k = 0; k < 10; k++) await Promise.resolve();
        };
        asked.push({ from, to, answer });
      }),
  );
  const settle = async () => {
    for (let k = 0; k < 10; k++) await Promise.resolve();
  };
  return {
    own,
    asked,
    settle,
    drawing: () => drawing as Extract<Drawing, { by: 'edge' }> | null,
    letGo: () => {
      drawing = null;
      own.giveUp();
    },
    change: (to: Drawing | null) => (drawing = to),
  };
}

const along = (...line: number[]): Answer => ({ to: [line[line.length - 2], line[line.length - 1]], line });
const never = () => {
  throw new Error('Nothing is closed.');
};

test('presses faster than their lines are answered in their order, and what is done meanwhile waits for them', async () => {
  const { own, asked, settle, drawing, change } = drawer();
  own.press('seam', [10, 10], true, 8, never);
  // Seen at once.
  expect(drawing()!.presses).toEqual([[10, 10]]);
  own.press('seam', [100, 12], true, 8, never);
  own.press('seam', [200, 14], true, 8, never);
  own.afterPresses(() => change(withoutLast(drawing()!)));
  await settle();
  expect(asked).toHaveLength(1);
  await asked[0].answer({ to: [12, 10], line: [] });
  expect(drawing()!.presses).toEqual([[12, 10]]);
  expect(asked[1]).toMatchObject({ from: [12, 10], to: [100, 12] });
  await asked[1].answer(along(50, 11, 101, 12));
  expect(asked[2].from).toEqual([101, 12]);
  await asked[2].answer(along(150, 12, 201, 14));
  // The last stretch is taken back, as was asked for before it was there.
  expect(drawing()).toMatchObject({
    presses: [
      [12, 10],
      [101, 12],
    ],
    stretches: [[50, 11, 101, 12]],
    live: [],
  });
  expect(own.isWaiting).toBe(false);
});

test('what is given up while a line is on its way stays given up, also when a new drawing is begun by then', async () => {
  const { own, asked, settle, drawing, letGo } = drawer();
  own.press('seam', [10, 10], true, 8, never);
  own.press('seam', [90, 10], true, 8, never);
  own.afterPresses(never);
  await settle();
  letGo();
  expect(drawing()).toBeNull();
  own.press('loop', [300, 300], true, 8, never);
  await asked[0].answer({ to: [11, 10], line: [] });
  await settle();
  expect(drawing()).toMatchObject({ kind: 'loop', presses: [[300, 300]] });
  await asked[1].answer({ to: [301, 300], line: [] });
  expect(drawing()).toMatchObject({ kind: 'loop', presses: [[301, 300]], stretches: [] });
  expect(asked).toHaveLength(2);
});

test('of the pointer’s moves the last counts, and none after the next press', async () => {
  const { own, asked, settle, drawing } = drawer();
  own.press('seam', [0, 0], false, 8, never);
  await settle();
  own.point([10, 0], true);
  own.point([20, 0], true);
  own.point([30, 0], true);
  expect(asked.map(({ to }) => to)).toEqual([[10, 0]]);
  await asked[0].answer(along(5, 1, 10, 0));
  expect(drawing()!.live).toEqual([5, 1, 10, 0]);
  expect(asked.map(({ to }) => to)).toEqual([
    [10, 0],
    [30, 0],
  ]);
  own.press('seam', [40, 0], false, 8, never);
  await settle();
  await asked[1].answer(along(15, 1, 30, 0));
  expect(drawing()).toMatchObject({
    live: [],
    presses: [
      [0, 0],
      [40, 0],
    ],
  });
});

test('a loop closes on its first press, without an edge the stretch is straight', async () => {
  const { own, asked, settle, drawing } = drawer();
  let closed = 0;
  const press = (x: number, y: number, follows = false) =>
    own.press('loop', [x, y], follows, 8, () => closed++);
  press(0, 0);
  press(100, 0);
  await settle();
  // Too few to be a loop.
  press(3, 2);
  await settle();
  expect(closed).toBe(0);
  press(100, 100, true);
  await settle();
  await asked[0].answer(null);
  expect(drawing()!.stretches[2].slice(-2)).toEqual([100, 100]);
  press(4, -3);
  await settle();
  expect(closed).toBe(1);
  expect(drawing()!.presses.at(-1)).toEqual([0, 0]);
});
