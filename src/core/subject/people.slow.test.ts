import { width, height, pictureOf, texture } from '../../../fixtures/pass-film';
import type { Frames } from '../carry/frames';
import { identity } from '../geometry/affine';
import { numbersPerPoint as N } from '../model/choices';
import { flattenOutline } from '../outline';
import { openPoseAlong } from '../outline/pose-along';
import { poseAnew } from '../outline/pose-anew';
import { carrySubject } from './carry-subject';
import { findPeople } from './find-people';
import { outerBorder } from './outer-border';
import { networkInput, type PeopleNetwork, sharesOnGrid, squareAbout } from './people';
import { personOutlines } from './person-outlines';
import { filledBy } from './prior';
import { shareOfBoth } from './share-of-both';
import { closedLinesOf } from './subject-parts';
import { subjectFrameOn } from './subject-frame';

/** Somebody: a dark figure with legs that swing, before a bright ground, 3 px to the right a frame; it carries a grey box. */
const middleAt = (t: number) => 90 + 3 * t;
const inBox = (x: number, y: number, t: number) =>
  Math.abs(x - middleAt(t) - 27) < 12 && Math.abs(y - 80) < 12;
function inFigure(x: number, y: number, t: number): boolean {
  const u = x - middleAt(t);
  const swing = 14 * Math.sin(0.9 * t) * Math.max(0, (y - 100) / 60);
  if (y > 30 && y < 100) return Math.abs(u) < 16;
  return y >= 100 && y < 160 && (Math.abs(u - swing) < 7 || Math.abs(u + swing) < 7);
}

const ground = texture(3, 150, 220);
const cloth = texture(4, 30, 70);
const pictures = Array.from({ length: 9 }, (_, t) =>
  pictureOf((x, y) => {
    if (inFigure(x, y, t)) return cloth(x - 3 * t, y);
    return inBox(x, y, t) ? 110 + 10 * Math.sin(x - 3 * t) : ground(x, y);
  }),
);
const film: Frames = { count: pictures.length, picture: (frame) => Promise.resolve(pictures[frame]) };
const shot = { width, height, motion: null };
const maskOf = (inside: (x: number, y: number) => boolean) =>
  Uint8Array.from({ length: width * height }, (_, i) =>
    Number(inside((i % width) + 0.5, Math.floor(i / width) + 0.5)),
  );

/** Stands in for the network: what is dark is somebody, and a box of grey is not. */
const seesDark: PeopleNetwork = {
  width: 128,
  height: 128,
  shares: (rgb) =>
    Promise.resolve(Float32Array.from({ length: 128 * 128 }, (_, k) => (rgb[3 * k] < 0.32 ? 0.99 : 0.01))),
};

test('the network is shown a part of the picture in red, green and blue, and says its own of each sample', () => {
  const picture = pictureOf((x, y) => (x < 80 ? 40 : 200) + (y < 45 ? 0 : 10));
  const rgb = networkInput(picture, [0, 0, 160, 90], 16, 9);
  const at = (i: number, j: number) => rgb[3 * (16 * j + i)];
  // Luma 40 of 16 to 235 is (40 − 16) / 219 of the range (ITU-R BT.709-6).
  expect(at(2, 1)).toBeCloseTo(24 / 219, 2);
  expect(at(12, 7)).toBeCloseTo(194 / 219, 2);
  const view = { part: [40, 0, 120, 80] as const, width: 2, height: 1, shares: Float32Array.of(0.2, 0.8) };
  const grid = sharesOnGrid([view], { width: 160, height: 80 }, { width: 16, height: 8 });
  expect([...grid.slice(0, 16)].map((share) => Math.round(100 * share) / 100)).toEqual([
    ...[NaN, NaN, NaN, NaN, 0.2, 0.2, 0.28, 0.43, 0.57, 0.73, 0.8, 0.8, NaN, NaN, NaN, NaN],
  ]);
  const inside = new Uint8Array(16 * 8);
  inside.fill(1, 16 * 2 + 4, 16 * 2 + 8);
  expect(squareAbout(inside, { width: 16, height: 8 }, { width: 160, height: 80 })).toEqual([28, -7, 92, 57]);
});

test('somebody is found once, as a loop and as seams on both sides, and it is told which way they go', async () => {
  const subject = await subjectFrameOn(film, shot, 2, identity);
  const found = (await findPeople(pictures[2], subject, seesDark, identity))!;
  expect(found).toHaveLength(1);
  const truth = maskOf((x, y) => inFigure(x, y, 2));
  expect(shareOfBoth(found[0].region.inside, truth)).toBeGreaterThan(0.95);
  const person = (await personOutlines(found[0], { frames: film, subject, toPicture: identity }, 2, shot))!;
  expect([person.trailing, person.whole]).toEqual(['left', true]);
  const left = flattenOutline(person.seams.left, false, 1, 0.1);
  // From above the frame to below it, and on the body's left side between.
  expect([left[1] < 0, left[left.length - 1] > height]).toEqual([true, true]);
  for (let i = 0; i < left.length; i += 2)
    if (left[i + 1] > 40 && left[i + 1] < 95) expect(Math.abs(left[i] - (middleAt(2) - 16))).toBeLessThan(2);
  expect(await findPeople(pictures[2], subject, seesDark, identity, { told: () => false })).toBeNull();
  const nobody = { ...seesDark, shares: () => Promise.resolve(new Float32Array(128 * 128)) };
  expect(await findPeople(pictures[2], subject, nobody, identity)).toEqual([]);
});

test('what was outlined with somebody goes along though the network sees nobody there; without the box it stays out', async () => {
  const carried = async (inside: (x: number, y: number) => boolean) => {
    const box = [...squarePoints(inside)];
    const from = { frame: 0, coordinates: box, parts: [] };
    const job = {
      kind: 'loop' as const,
      from,
      to: null,
      direction: 1 as const,
      most: 8,
      stops: false,
      origin: -1,
    };
    const { poses } = await carrySubject(
      film,
      shot,
      { ...job, strokesOn: () => [], people: seesDark },
      identity,
      () => true,
    );
    expect(poses).toHaveLength(8);
    const last = poses[7];
    const line = Array.from(flattenOutline(last.coordinates, true, 1, 0.05));
    return filledBy(
      [
        { line, hole: false },
        ...last.parts.map((part) => ({
          line: Array.from(flattenOutline(part.coordinates, true, 1, 0.05)),
          hole: part.hole,
        })),
      ],
      width,
      height,
    );
  };
  const withBox = await carried((x, y) => inFigure(x, y, 0) || inBox(x, y, 0));
  const truth = maskOf((x, y) => inFigure(x, y, 8) || inBox(x, y, 8));
  expect(shareOfBoth(withBox, truth)).toBeGreaterThan(0.9);
  const alone = await carried((x, y) => inFigure(x, y, 0));
  expect(
    shareOfBoth(
      alone,
      maskOf((x, y) => inFigure(x, y, 8)),
    ),
  ).toBeGreaterThan(0.9);
});

/** A loop about a mask of the first frame, a point every few px of its border. */
function squarePoints(inside: (x: number, y: number) => boolean): number[] {
  const rows = Array.from({ length: height }, (_, j) => j).filter((j) => scan(inside, j) !== null);
  const every = rows.filter((_, k) => k % 4 === 0 || k === rows.length - 1);
  const left = every.map((j) => [scan(inside, j)![0], j + 0.5]);
  const right = every.map((j) => [scan(inside, j)![1], j + 0.5]).reverse();
  return [...left, ...right].flatMap(([x, y]) => [x, y, 0, 0, 0, 0]);
}

function scan(inside: (x: number, y: number) => boolean, j: number): [number, number] | null {
  const own = Array.from({ length: width }, (_, i) => i).filter((i) => inside(i + 0.5, j + 0.5));
  return own.length > 0 ? [own[0], own[own.length - 1] + 1] : null;
}

test('a seam on somebody is carried on their outer border, legs and all, with as many points', async () => {
  const subject = await subjectFrameOn(film, shot, 0, identity);
  const [found] = (await findPeople(pictures[0], subject, seesDark, identity))!;
  const { seams } = (await personOutlines(found, { frames: film, subject, toPicture: identity }, 0, shot))!;
  const from = { frame: 0, coordinates: seams.left, parts: [] };
  const job = {
    kind: 'seam' as const,
    from,
    to: null,
    direction: 1 as const,
    most: 8,
    stops: false,
    origin: -1,
  };
  const { poses } = await carrySubject(
    film,
    shot,
    { ...job, strokesOn: () => [], people: seesDark },
    identity,
    () => true,
  );
  expect(poses.map(({ frame }) => frame)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
  for (const { frame, coordinates } of poses) {
    expect(coordinates).toHaveLength(seams.left.length);
    const line = flattenOutline(coordinates, false, 1, 0.1);
    const off: number[] = [];
    for (let j = 34; j < 156; j += 2) {
      const x = scan((a, b) => inFigure(a, b, frame), j)![0];
      let least = Infinity;
      for (let i = 0; i < line.length; i += 2)
        least = Math.min(least, Math.hypot(line[i] - x, line[i + 1] - j - 0.5));
      off.push(least);
    }
    off.sort((a, b) => a - b);
    expect(off[Math.floor(0.9 * off.length)]).toBeLessThan(4);
  }
  // Far from everybody there is nothing that it could lie on.
  const astray = seams.left.map((value, i) => (i % N === 0 ? value + 190 : value));
  const lost = carrySubject(
    film,
    shot,
    { ...job, from: { ...from, coordinates: astray }, strokesOn: () => [], people: seesDark },
    identity,
    () => true,
  );
  await expect(lost).rejects.toThrow('Nothing beside the seam stands out');
});

test('an outer border meets rows where rays from its side do; points laid on a line that has become another follow it', () => {
  const inside = maskOf((x, y) => Math.hypot(x - 100, y - 90) < 40);
  const region = { width, height, inside };
  const line = outerBorder(region, 'left', identity)!;
  for (let i = 2; i + 2 < line.length; i += 2)
    expect(Math.abs(Math.hypot(line[i] - 100, line[i + 1] - 90) - 40)).toBeLessThan(1.6);
  expect(outerBorder({ ...region, inside: new Uint8Array(inside.length) }, 'left', identity)).toBeNull();
  const straight = [100, -5, 100, 60, 100, 120, 100, 185].flatMap((value, i, all) =>
    i % 2 ? [] : [value, all[i + 1], 0, 0, 0, 0],
  );
  for (const pose of [openPoseAlong(straight, line), poseAnew(straight, line, false, 1280)!]) {
    expect(pose).toHaveLength(straight.length);
    expect(pose.slice(0, 2)).toEqual([expect.closeTo(line[0], 0), expect.closeTo(line[1], 0)]);
    expect(pose.slice(-N, -N + 2)).toEqual([
      expect.closeTo(line.at(-2)!, 0),
      expect.closeTo(line.at(-1)!, 0),
    ]);
  }
});

/** A film of some frames, and a carrying of what is inside on its first one. */
function carriedLoop(
  count: number,
  luma: (x: number, y: number, t: number) => number,
  inside: (x: number, y: number) => boolean,
) {
  const own = Array.from({ length: count }, (_, t) => pictureOf((x, y) => luma(x, y, t)));
  const frames: Frames = { count, picture: (frame) => Promise.resolve(own[frame]) };
  const from = { frame: 0, coordinates: squarePoints(inside), parts: [] };
  const job = {
    ...{ kind: 'loop' as const, from, to: null, direction: 1 as const, most: count - 1, stops: false },
    ...{ origin: -1, strokesOn: () => [], people: seesDark },
  };
  return carrySubject(frames, shot, job, identity, () => true);
}

test('two who part become two outlines, and the frame on which they do is flagged; once they are one again there is one', async () => {
  // Slowly, so that the region is the same from frame to frame.
  const apart = (t: number) => 1.5 * Math.max(0, Math.min(t - 2, 10 - t));
  const inPair = (x: number, y: number, t: number) =>
    y > 40 && y < 140 && (Math.abs(x - 140 + apart(t)) < 15 || Math.abs(x - 166 - apart(t)) < 15);
  const luma = (x: number, y: number, t: number) => (inPair(x, y, t) ? cloth(x, y) : ground(x, y));
  const { poses } = await carriedLoop(12, luma, (x, y) => inPair(x, y, 0));
  expect(poses.map(({ unsure }) => unsure !== null)).toEqual(Array.from({ length: 11 }, (_, k) => k === 3));
  expect(poses.map(({ parts }) => parts.length)).toEqual([0, 0, 0, 1, 1, 1, 1, 1, 0, 0, 0]);
  expect(new Set(poses.flatMap(({ parts }) => parts.map(({ id }) => id))).size).toBe(1);
  for (const { frame, coordinates, parts } of poses) {
    const found = filledBy(closedLinesOf(coordinates, parts), width, height);
    expect(
      shareOfBoth(
        found,
        maskOf((x, y) => inPair(x, y, frame)),
      ),
    ).toBeGreaterThan(0.93);
  }
});

test('who walks past in front is not taken for the subject, which is flagged while they meet', async () => {
  const other = texture(5, 64, 82);
  const inOther = (x: number, y: number, t: number) => y > 70 && y < 165 && Math.abs(x - 60 - 16 * t) < 13;
  const inOwn = (x: number, y: number) => y > 30 && y < 140 && Math.abs(x - 160) < 17;
  const luma = (x: number, y: number, t: number) =>
    inOther(x, y, t) ? other(x - 16 * t, y) : inOwn(x, y) ? cloth(x, y) * 0.7 : ground(x, y);
  const { poses } = await carriedLoop(13, luma, inOwn);
  const shares = poses.map(({ frame, coordinates, parts }) =>
    shareOfBoth(
      filledBy(closedLinesOf(coordinates, parts), width, height),
      maskOf((x, y) => inOwn(x, y) && !inOther(x, y, frame)),
    ),
  );
  expect(shares.filter((share) => share > 0.95).length).toBeGreaterThanOrEqual(9);
  expect(shares.every((share, k) => share > 0.95 || poses[k].unsure !== null)).toBe(true);
  // From frame 5 to 8 they lie over each other.
  expect(poses.slice(4, 8).every(({ unsure }) => unsure !== null)).toBe(true);
  expect(
    poses
      .slice(0, 3)
      .concat(poses.slice(-3))
      .every(({ unsure }) => unsure === null),
  ).toBe(true);
});
