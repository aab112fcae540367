import { resizedLuma } from '../motion/luma';
import { readMovingSide } from './moving-side';
import { sideAtFirst, sideByPerson, sideByPoses, wayOfSide } from './swept-side';
import { plainPose, type PoseRow } from '../document/tables';
import type { Shot } from '../model/shot';

/** Two textures of their own making: a scene, and an object before it whose edges move as they are told. */
const [width, height] = [640, 360];
const texture = (x: number, y: number, seed: number) =>
  128 +
  50 * Math.sin(x / (5 + seed) + Math.sin(y / 9) * 2) +
  40 * Math.sin(y / (7 - seed) + Math.cos(x / 13 + seed) * 2);

/** @param edge x of the object's border; it lies right of it, or left where `objectLeft`. */
function picture(edge: number, scene: number, object: number, objectLeft: boolean, turned: boolean) {
  const y = new Uint8Array(width * height);
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      const along = turned ? row : column;
      const inObject = objectLeft ? along < edge : along > edge;
      const shift = inObject ? object : scene;
      y[row * width + column] = turned
        ? texture(column, row - shift, inObject ? 1 : 3)
        : texture(column - shift, row, inObject ? 1 : 3);
    }
  return resizedLuma(y, width, height, 320, 180);
}

const upright = (x: number) => [x, -10, 0, 0, 0, 0, x, 370, 0, 0, 0, 0];
const level = (y: number) => [-10, y, 0, 0, 0, 0, 650, y, 0, 0, 0, 0];

test.each([
  // Object's place, its movement and the scene's in px a frame, whether edge and movement stand upright.
  ['a back goes right, early', false, 14, 0, 120],
  ['a back goes right, past the middle', false, 14, 0, 520],
  ['a back goes left', true, -14, 0, 420],
  ['a front goes right', true, 14, 0, 300],
  ['a back goes right while the camera pans', false, 16, -4, 400],
  ['a board goes down', false, 9, 0, 160],
] as const)('%s: the side that it leaves is swept', (name, objectLeft, object, scene, at) => {
  const turned = name.includes('down');
  // A front hides the scene before it later, a back did so earlier.
  const frames = name.includes('front') ? -2 : 2;
  const here = picture(at, 0, 0, objectLeft, turned);
  const there = picture(at + frames * object, frames * scene, frames * object, objectLeft, turned);
  const line = turned ? level(at) : upright(at);
  const read = readMovingSide(here, there, { frames, shot: { width, height }, scene: null }, line)!;
  expect(read.sure).toBe(true);
  const goes = turned ? 'down' : object > 0 ? 'right' : 'left';
  expect(wayOfSide(line, read.swept)).toBe({ right: 'left', left: 'right', down: 'up' }[goes]);
  const lies = turned ? (objectLeft ? 'up' : 'down') : objectLeft ? 'left' : 'right';
  expect(wayOfSide(line, read.object)).toBe(lies);
  expect(Math.abs(read.speed - Math.abs(object))).toBeLessThan(1.5);
});

test('where nothing moves across the line nothing is said; the scene’s own movement is not taken for the object’s', () => {
  const still = picture(300, 0, 0, false, false);
  expect(
    readMovingSide(still, still, { frames: 2, shot: { width, height }, scene: null }, upright(300)),
  ).toBeNull();
  const panned = picture(300, 12, 12, false, false);
  expect(
    readMovingSide(still, panned, { frames: 2, shot: { width, height }, scene: [12, 0] }, upright(300))
      ?.sure ?? false,
  ).toBe(false);
});

test('somebody on the line tells by the way they go; who stands leaves the ground beside them, as a guess', () => {
  const line = upright(500);
  const judged = (side: 'left' | 'right', trailing: 'left' | 'right' | null) => {
    const { sure, swept } = sideByPerson(line, { side, trailing })!;
    return [sure, wayOfSide(line, swept)];
  };
  // On the side that comes last, and on the one that comes first.
  expect(judged('left', 'left')).toEqual([true, 'left']);
  expect(judged('right', 'left')).toEqual([true, 'left']);
  expect(judged('right', 'right')).toEqual([true, 'right']);
  expect(judged('left', null)).toEqual([false, 'left']);
  expect(judged('right', null)).toEqual([false, 'right']);
  // Along a level line nobody goes across.
  const level = [0, 300, 0, 0, 0, 0, 900, 300, 0, 0, 0, 0];
  expect(sideByPerson(level, { side: 'left', trailing: 'left' })).toBeNull();
});

test('without pictures: what was measured to cross, the course of poses, and only then the smaller side', () => {
  const crosser = { kind: 'across' as const, opens: 10, closes: 50, direction: 1 as const, speed: 9 };
  const shot = {
    width,
    height,
    motion: { frames: [], crosser: { ...crosser, top: 0, bottom: 1, reach: 1 } },
  };
  const line = upright(500);
  const measured = sideAtFirst(line, shot as unknown as Shot, 30);
  expect([measured.sure, measured.basis, wayOfSide(line, measured.swept)]).toEqual([true, 'crosser', 'left']);
  const guessed = sideAtFirst(line, { ...shot, motion: null } as unknown as Shot, 30);
  expect([guessed.sure, guessed.basis, wayOfSide(line, guessed.swept)]).toEqual([false, 'area', 'right']);
  const pose = (frame: number, x: number): PoseRow => ({
    ...{ id: `o@${frame}`, outlineId: 'o', frame, ...plainPose, origin: 'by hand', onward: 'linear' },
    coordinates: upright(x),
  });
  expect(sideByPoses([pose(3, 500)])).toBeNull();
  expect(wayOfSide(line, sideByPoses([pose(3, 500), pose(9, 560)])!.swept)).toBe('left');
  expect(wayOfSide(line, sideByPoses([pose(3, 500), pose(9, 400)])!.swept)).toBe('right');
});
