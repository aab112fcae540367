import { height, pass, straightEdge, width } from '../../../fixtures/pass-film';
import type { Frames } from '../carry/frames';
import { numbersPerPoint as N } from '../model/choices';
import type { ShotMotion } from '../model/shot';
import { FramePicture } from '../picture/frame-picture';
import { identity } from '../geometry/affine';
import { seeded } from '../random';
import { firstSeam, type SeamBeginning } from './first-seam';

const count = 20;
const film = pass(count, straightEdge);

/** The film with its pictures changed. */
const changed = (change: (luma: Uint8Array) => Uint8Array<ArrayBuffer>): Frames => ({
  count,
  picture: async (frame) => {
    const { planes } = await film.picture(frame);
    return new FramePicture({ ...planes, y: change(planes.y) });
  },
});
const mirrored = changed((luma) => luma.map((_, i) => luma[i + width - 1 - 2 * (i % width)]));

/** A scene at rest before which so much of the picture moves. */
const motionOf = (share: number): ShotMotion => ({
  frames: Array.from({ length: count }, () => [0, 0, 1, 0, 1, share]).flat(),
  crosser: null,
});
const shot = { width, height, motion: motionOf(0.3) };
const beginning: SeamBeginning = { within: [0, count - 1], toPicture: identity, edge: 'trailing' };

test('in a film that runs backwards the same edge comes first: it is found as the leading one, on the same frames', async () => {
  const backwards: Frames = { count, picture: (frame) => film.picture(count - 1 - frame) };
  const found = await firstSeam(backwards, shot, { ...beginning, within: [8, 10], edge: 'leading' });
  if (!found || typeof found === 'string') throw new Error(`Nothing was found: ${String(found)}`);
  expect(found.groundLeft).toBe(true);
  for (let k = 0; k < found.coordinates.length; k += N) {
    const [x, y] = found.coordinates.slice(k, k + 2);
    expect(Math.abs(x - straightEdge(y, count - 1 - found.frame))).toBeLessThan(2);
  }
});

test.each([
  ['to the right', film, false],
  ['to the left', mirrored, true],
] as const)('a seam lies on the edge that what goes %s leaves behind', async (_, frames, turned) => {
  const found = await firstSeam(frames, shot, { ...beginning, within: [3, 16] });
  if (found === null || typeof found === 'string') throw new Error(`Nothing was found: ${String(found)}`);
  expect(found.frame).toBeGreaterThanOrEqual(3);
  expect(found.frame).toBeLessThanOrEqual(16);
  expect(found.groundLeft).toBe(!turned);
  const points = Array.from({ length: found.coordinates.length / N }, (_, k) =>
    found.coordinates.slice(k * N, k * N + 2),
  );
  expect(points.length).toBeLessThanOrEqual(8);
  for (const [x, y] of points)
    expect(Math.abs((turned ? width - x : x) - straightEdge(y, found.frame))).toBeLessThan(2);
  // From border to border, and what it sweeps on its right: walked down where the ground is to its left.
  const [first, last] = [points[0][1], points[points.length - 1][1]];
  expect(Math.abs(last - first)).toBeGreaterThan(height - 4);
  expect(last > first).toBe(!turned);
});

test('in a long take it is found where it crosses, not where something else moves', async () => {
  const [begins, long] = [300, 500];
  const take: Frames = {
    count: long,
    picture: (frame) => film.picture(Math.min(count - 1, Math.max(0, frame - begins))),
  };
  const frames = Array.from({ length: long }, (_, frame) => {
    const crosses = frame > begins && frame < begins + count;
    // Something small moves for long before.
    return [0, 0, 1, 0, 1, crosses ? 0.4 : frame > 20 && frame < 120 ? 0.02 : 0];
  }).flat();
  const found = await firstSeam(
    take,
    { ...shot, motion: { frames, crosser: null } },
    { ...beginning, within: [0, long - 1] },
  );
  if (!found || typeof found === 'string') throw new Error(`Nothing was found: ${String(found)}`);
  expect(found.groundLeft).toBe(true);
  expect(found.passage).toMatchObject({ direction: 1 });
  expect(Math.abs(found.passage!.speed - 7)).toBeLessThan(1);
  for (let k = 0; k < found.coordinates.length; k += N) {
    const [x, y] = found.coordinates.slice(k, k + 2);
    expect(Math.abs(x - straightEdge(y, found.frame - begins))).toBeLessThan(2);
  }
});

test('what is over in a few frames of a take that shakes all along is seen to pass', async () => {
  const [begins, long, faster] = [60, 140, 3];
  const take: Frames = {
    count: long,
    picture: (frame) => film.picture(Math.min(count - 1, Math.max(0, faster * (frame - begins)))),
  };
  const frames = Array.from({ length: long }, () => [0, 0, 1, 0, 1, 0.03]).flat();
  const found = await firstSeam(
    take,
    { ...shot, motion: { frames, crosser: null } },
    { ...beginning, within: [0, long - 1] },
  );
  if (!found || typeof found === 'string') throw new Error(`Nothing was found: ${String(found)}`);
  expect(found.passage).toMatchObject({ direction: 1 });
  expect(Math.abs(found.passage!.speed - 7 * faster)).toBeLessThan(2);
  for (let k = 0; k < found.coordinates.length; k += N) {
    const [x, y] = found.coordinates.slice(k, k + 2);
    expect(Math.abs(x - straightEdge(y, faster * (found.frame - begins)))).toBeLessThan(2);
  }
});

test('where nothing moves otherwise, or nothing was measured, it says so; and it can be given up', async () => {
  const still: Frames = { count, picture: () => film.picture(0) };
  expect(await firstSeam(still, { ...shot, motion: motionOf(0) }, beginning)).toBe('nothing crosses');
  expect(await firstSeam(film, { ...shot, motion: null }, beginning)).toBe('not measured');
  const told: number[] = [];
  expect(await firstSeam(film, shot, beginning, (share) => told.push(share) < 2)).toBeNull();
  expect(told).toHaveLength(2);
});

test('a picture that changes all over has no edge to begin on', async () => {
  const random = seeded(1);
  const flickering = changed((luma) => luma.map(() => 255 * random()) as Uint8Array<ArrayBuffer>);
  expect(await firstSeam(flickering, shot, { ...beginning, within: [9, 11] })).toBe('no clear edge');
});
