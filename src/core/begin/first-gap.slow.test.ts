import { height, pictureOf, texture, width } from '../../../fixtures/pass-film';
import type { Frames } from '../carry/frames';
import { identity } from '../geometry/affine';
import { flattenOutline } from '../outline';
import { carrySubject } from '../subject/carry-subject';
import { filledBy } from '../subject/prior';
import { shareOfBoth } from '../subject/share-of-both';
import { firstGap } from './first-gap';

const count = 24;
const [left, right, top, bottom] = [90, 230, 40, 150];
/** Where the leaf's free border is: it slides to the left. */
const border = (t: number) => right - 5 * Math.max(0, t - 3);
const inGap = (x: number, y: number, t: number) =>
  x > border(t) && x > left && x < right && y > top && y < bottom;

/** A leaf slides aside in a wall, and what lies behind comes to light. */
function opening(): Frames {
  const [wall, behind, leaf] = [texture(3, 90, 130), texture(1, 120, 230), texture(2, 20, 100)];
  const pictures = Array.from({ length: count }, (_, t) =>
    pictureOf((x, y) => {
      if (x < left || x > right || y < top || y > bottom) return wall(x, y);
      return x > border(t) ? behind(x, y) : leaf(x - border(t), y);
    }),
  );
  return { count, picture: (frame) => Promise.resolve(pictures[frame]) };
}

const motion = { frames: Array.from({ length: count }, () => [0, 0, 1, 0, 1, 0.2]).flat(), crosser: null };
const beginning = { within: [4, count - 1], toPicture: identity } as const;

/** How far a loop is what is truly open on a frame: J. */
function rightness(coordinates: readonly number[], frame: number): number {
  const line = flattenOutline(coordinates, true, 1, 0.1);
  const own = filledBy([{ line, hole: false }], width, height);
  const truth = own.map((_, i) => Number(inGap((i % width) + 0.5, Math.floor(i / width) + 0.5, frame)));
  return shareOfBoth(truth, own);
}

test('a loop with few points lies about what came to light, not about the leaf that moves; carried it grows and shrinks with it', async () => {
  const frames = opening();
  const shot = { width, height, motion };
  const found = await firstGap(frames, shot, beginning);
  if (found === null || typeof found === 'string') throw new Error(`Nothing was found: ${String(found)}`);
  const { frame, coordinates } = found;
  expect(rightness(coordinates, frame)).toBeGreaterThan(0.93);
  expect(coordinates.length / 6).toBeLessThanOrEqual(12);
  for (const direction of [1, -1] as const) {
    const job = {
      direction,
      most: 2,
      stops: false,
      to: null,
      kind: 'loop' as const,
      origin: -1,
      strokesOn: () => [],
    };
    const from = { frame, coordinates, parts: [] };
    const { poses } = await carrySubject(frames, shot, { ...job, from }, identity, () => true);
    const worst = Math.min(...poses.map((pose) => rightness(pose.coordinates, pose.frame)));
    expect(poses).toHaveLength(2);
    expect(worst).toBeGreaterThan(0.9);
  }
});

test('a door that stays shut has nothing to begin with', async () => {
  const [picture] = [await opening().picture(0)];
  const shut: Frames = { count, picture: () => Promise.resolve(picture) };
  expect(await firstGap(shut, { width, height, motion }, { ...beginning, within: [9, 11] })).toBe(
    'no clear edge',
  );
});
