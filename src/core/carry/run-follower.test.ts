import { pass, straightEdge } from '../../../fixtures/pass-film';
import { usualSettings } from './follow-settings';
import { LineFollower } from './line-follower';
import { SeamModel } from './line-model';
import { acceptRun, expectRun, learnRun, lookForRun } from './run-follower';
import type { RunContext, RunState } from './run-state';

/** The edge goes to the right by 7 px a frame. */
const frames = pass(12, straightEdge);
const context: RunContext = { frames, direction: 1, settings: usualSettings };
const lineAt = (t: number) =>
  SeamModel.along(
    Array.from({ length: 19 }, (_, k): [number, number] => [straightEdge(10 * k, t), 10 * k]),
    4,
  );
const identityOf = (count: number) => Float64Array.from({ length: count }, (_, i) => i);

/** All numbers that a state holds, so that any change shows. */
const frozen = (state: RunState) =>
  JSON.stringify(state, (_, value: unknown) =>
    ArrayBuffer.isView(value) ? [...(value as Float64Array)] : value,
  );

test('a step takes a state and gives another: asked twice it answers the same, and leaves what it was given', async () => {
  const model = lineAt(3);
  const [{ line }] = model.runs;
  const learnt = await learnRun(context, 3, line);
  const before = frozen(learnt);
  const expected = await expectRun(context, learnt, 3, line);
  // About 7 px to the right.
  const at = line.count >> 1;
  const [a, b, c, d, e, f] = expected.map;
  expect(a * line.x[at] + c * line.y[at] + e - line.x[at]).toBeCloseTo(7, 0);
  expect(b * line.x[at] + d * line.y[at] + f - line.y[at]).toBeCloseTo(0, 0);
  const next = lineAt(4).runs[0].line;
  const looks = [1, 2].map(() => lookForRun(context, expected, 4, next, identityOf(next.count)));
  const [one, two] = await Promise.all(looks);
  expect([...one.sight.belief.mean]).toEqual([...two.sight.belief.mean]);
  expect(frozen(one.looked)).toBe(frozen(two.looked));
  // Where the line lies on the edge, the frame says so.
  expect(Math.max(...one.sight.belief.mean.map(Math.abs))).toBeLessThan(1);
  const zero = new Float64Array(next.count);
  const accepted = await acceptRun(context, one, 4, next, zero);
  expect(frozen(learnt)).toBe(before);
  expect(frozen(accepted)).not.toBe(before);
});

test('an edge that lies off the expectation is found where it is, and the follower goes on from there', async () => {
  const follower = new LineFollower(frames, 1);
  await follower.begin(3, lineAt(3));
  for (let t = 4; t <= 8; t++) {
    const step = await follower.step();
    const [{ line }] = step!.model.runs;
    const off = [...line.x].map((x, i) => Math.abs(x - straightEdge(line.y[i], t)));
    expect(Math.max(...off)).toBeLessThan(1.5);
  }
  const model = lineAt(4);
  const [{ line }] = model.runs;
  const expected = await expectRun(
    context,
    await learnRun(context, 3, lineAt(3).runs[0].line),
    3,
    lineAt(3).runs[0].line,
  );
  // 4 px too far inside, by the line's own directions.
  const askew = {
    ...line,
    x: line.x.map((x, i) => x - 4 * line.nx[i]),
    y: line.y.map((y, i) => y - 4 * line.ny[i]),
  };
  const { sight } = await lookForRun(context, expected, 4, askew, identityOf(line.count));
  const middle = [...sight.belief.mean].sort((p, q) => p - q)[line.count >> 1];
  expect(middle).toBeCloseTo(4, 0);
});
