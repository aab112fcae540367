import { height, pictureOf, straightEdge, texture as pattern } from '../../../fixtures/pass-film';
import { identity, invert } from '../geometry/affine';
import { quantile } from '../numbers/quantile';
import type { Frames } from './frames';
import { usualSettings } from './follow-settings';
import { LineFollower } from './line-follower';
import { SeamModel } from './line-model';
import { shiftedAcross } from './across';
import { cameWithTexture, shownElsewhere, textureMotion } from './texture';

const behind = pattern(1, 90, 200);
const object = pattern(2, 70, 180);
/** px a frame at which the edge goes to the right. */
const pace = 9;
const edge = (y: number, t: number) => straightEdge(y, 0) + pace * t;

/** Something that goes to the right before what stands still: its own pattern goes at `own` px a frame. */
function film(own: number): Frames {
  const pictures = Array.from({ length: 12 }, (_, t) =>
    pictureOf((x, y) => {
      const share = Math.min(1, Math.max(0, x - edge(y, t) + 0.5));
      return (1 - share) * behind(x, y) + share * object(x - own * t, y);
    }),
  );
  return { count: pictures.length, picture: (frame) => Promise.resolve(pictures[frame]) };
}

const lineAt = (t: number) =>
  SeamModel.along(
    Array.from({ length: height / 10 + 1 }, (_, k): [number, number] => [edge(10 * k, t), 10 * k]),
    4,
  );

async function motionOf(own: number) {
  const frames = film(own);
  const [{ line }] = lineAt(3).runs;
  const [here, there] = [await frames.picture(3), await frames.picture(4)];
  const told = { edgeMap: shiftedAcross(line, -pace), guess: identity, soft: 2 };
  return { frames, line, map: textureMotion(here, there, line, told, usualSettings) };
}

test('what an object shows is seen to stand still below its edge, or to go along with it', async () => {
  const { frames, line, map } = await motionOf(0);
  expect(Math.abs(map![4])).toBeLessThan(0.5);
  expect((await motionOf(pace)).map).toBeNull();
  // On the next frame the edge lies a step inward of where the pattern would have taken it.
  const next = lineAt(4).runs[0].line;
  const came = cameWithTexture(next, map!, {
    objectMap: shiftedAcross(line, -pace),
    own: new Float64Array(next.count),
  });
  expect(Math.abs(came[20] - pace)).toBeLessThan(1);
  const strip = shownElsewhere(
    await frames.picture(3),
    next,
    { from: -20, step: 1, across: 41 },
    { way: invert(map!), edge: came, soft: 2 },
  );
  const known = strip.y.filter((value) => value === value).length;
  // All that is inside now was inside before.
  expect(known).toBeGreaterThan(20 * strip.count);
  const inside = 20 * strip.across + 5;
  expect(Math.abs(strip.y[inside] - object(next.x[20] + 15, next.y[20]))).toBeLessThan(6);
});

/** Follows from a frame on which the line is known, six frames on: px off at each, at the 95th percentile. */
async function followed(
  own: number,
  direction: 1 | -1,
  from: number,
  also: number | null,
): Promise<number[]> {
  const follower = new LineFollower(film(own), direction);
  const known = lineAt(from);
  await follower.begin(
    from,
    known,
    also === null ? null : { frame: also, model: known.through(lineAt(also).points()) },
  );
  const errors: number[] = [];
  for (let k = 1; k <= 6; k++) {
    const [{ line }] = (await follower.step())!.model.runs;
    const off = [...line.x].map((x, i) => Math.abs(x - edge(line.y[i], from + k * direction)));
    errors.push(quantile(off, 0.95));
  }
  return errors;
}

test.each([0, 3])('an edge over a pattern that goes at %s px a frame is followed', async (own) => {
  expect(Math.max(...(await followed(own, 1, 2, 1)))).toBeLessThan(1.5);
});

test.each([
  [0, 1],
  [3, 1],
  [0, -1],
  [3, -1],
] as const)(
  'so it is from one known frame alone, at %s px a frame, in direction %s',
  async (own, direction) => {
    expect(Math.max(...(await followed(own, direction, direction > 0 ? 2 : 9, null)))).toBeLessThan(1.5);
  },
);
