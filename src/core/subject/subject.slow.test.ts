import { height, pictureOf, texture, width } from '../../../fixtures/pass-film';
import type { Frames } from '../carry/frames';
import { numbersPerPoint as N } from '../model/choices';
import { identity } from '../geometry/affine';
import { flattenOutline, signedArea } from '../outline';
import { seeded } from '../random';
import { carrySubject } from './carry-subject';
import { contoursOf } from './contours';
import { patchesOf } from './patches';
import { poseAlong } from '../outline/pose-along';
import { depthsOf, filledBy } from './prior';
import { shareOfBoth } from './share-of-both';
import { subjectFrameOn } from './subject-frame';
import { subjectLoops, subjectSeam } from './subject-outline';
import { isNot, isThis, seedsOf, type Stroke, unknown } from './strokes';
import { partsAlong } from './subject-parts';

/** A ring before a textured ground; it goes to the right by 5 px a frame, the ground is seen through it. */
const [outer, inner] = [60, 30];
const middleAt = (t: number): [number, number] => [100 + 5 * t, 90];
const inRing = (x: number, y: number, t: number) => {
  const far = Math.hypot(x - middleAt(t)[0], y - middleAt(t)[1]);
  return far < outer && far > inner;
};
const ringAt = (t: number) =>
  Uint8Array.from({ length: width * height }, (_, i) =>
    Number(inRing((i % width) + 0.5, Math.floor(i / width) + 0.5, t)),
  );

const ground = texture(1, 120, 210);
const ring = texture(2, 40, 120);

function film(count: number): Frames {
  const pictures = Array.from({ length: count }, (_, t) =>
    pictureOf((x, y) => (inRing(x, y, t) ? ring(x - 5 * t, y) : ground(x, y))),
  );
  return { count, picture: (frame) => Promise.resolve(pictures[frame]) };
}

const shot = { width, height, motion: null };
const overTheRing: Stroke = {
  mark: 'this',
  radius: 5,
  path: Array.from({ length: 13 }, (_, k) => (k * Math.PI) / 8).flatMap((a) => [
    100 + 45 * Math.cos(a),
    90 + 45 * Math.sin(a),
  ]),
};

const filled = (loops: readonly { coordinates: readonly number[]; hole: boolean }[]) =>
  filledBy(
    loops.map(({ coordinates, hole }) => ({
      line: Array.from(flattenOutline(coordinates, true, 1, 0.05)),
      hole,
    })),
    width,
    height,
  );

test('a part whose like is not there only goes along, and is told of', () => {
  const square = [0, 0, 0, 0, 0, 0, 40, 0, 0, 0, 0, 0, 40, 40, 0, 0, 0, 0, 0, 40, 0, 0, 0, 0];
  const part = { id: 'p', coordinates: square, hole: false };
  const near = { line: [12, 1, 52, 1, 52, 41, 12, 41], hole: false };
  const { parts, others } = partsAlong([part, { ...part, id: 'q' }], [10, 0], [near]);
  // A contour is one part's only.
  expect(parts.map(({ lost }) => lost)).toEqual([false, true]);
  expect(others).toEqual([]);
  const [found] = parts;
  expect(found.lost).toBe(false);
  expect(found.coordinates.slice(0, 2)).toEqual([expect.closeTo(12, 0), expect.closeTo(1, 0)]);
  const [lost] = partsAlong([part], [10, 0], [{ ...near, hole: true }]).parts;
  expect(lost).toMatchObject({ lost: true });
  expect(lost.coordinates.slice(0, 2)).toEqual([10, 0]);
});

test('a stroke over a ring cuts it out with its hole; its outlines enclose as many pixels within one in a hundred', async () => {
  const subject = await subjectFrameOn(film(1), shot, 0, identity);
  const region = subject.cut({ strokes: [overTheRing], prior: null, toPicture: identity })!;
  expect(shareOfBoth(region.inside, ringAt(0))).toBeGreaterThan(0.97);
  const loops = subjectLoops(region, identity, width);
  expect(loops.map(({ hole }) => hole)).toEqual([false, true]);
  for (const { coordinates } of loops) expect(coordinates.length / N).toBeLessThanOrEqual(16);
  const [about, hole] = loops.map(({ coordinates }) =>
    Math.abs(signedArea(Array.from(flattenOutline(coordinates, true, 1, 0.05)))),
  );
  const pixels = region.inside.reduce((sum, value) => sum + value, 0);
  expect(Math.abs(about - hole - pixels)).toBeLessThan(0.01 * pixels);
  expect(Math.abs(about - Math.PI * outer ** 2)).toBeLessThan(0.02 * Math.PI * outer ** 2);
});

test('what a stroke says it is not is left out, what is open again is not held; nothing painted gives nothing', async () => {
  const subject = await subjectFrameOn(film(1), shot, 0, identity);
  const across: Stroke = { mark: 'not this', radius: 8, path: [100, 20, 100, 62] };
  const cut = (strokes: Stroke[]) => subject.cut({ strokes, prior: null, toPicture: identity });
  const at = (strokes: Stroke[], x: number, y: number) => cut(strokes)!.inside[y * width + x];
  expect(at([overTheRing], 100, 50)).toBe(1);
  expect(at([overTheRing, across], 100, 50)).toBe(0);
  expect(at([overTheRing, across, { ...across, mark: 'open' }], 100, 50)).toBe(1);
  expect(cut([])).toBeNull();
  expect(cut([across])).toBeNull();
});

test('carried over frames, ring and hole stay on it, point by point', async () => {
  const frames = film(5);
  const subject = await subjectFrameOn(frames, shot, 0, identity);
  const region = subject.cut({ strokes: [overTheRing], prior: null, toPicture: identity })!;
  const [main, hole] = subjectLoops(region, identity, width);
  const job = {
    from: { frame: 0, coordinates: main.coordinates, parts: [{ id: 'hole', ...hole }] },
    to: null,
    direction: 1 as const,
    most: 4,
    stops: true,
    kind: 'loop' as const,
    origin: 0,
    strokesOn: (frame: number) => (frame === 0 ? [overTheRing] : []),
  };
  const { poses, end } = await carrySubject(frames, shot, job, identity, () => true);
  expect(end).toBe('done');
  expect(poses.map(({ frame, unsure }) => [frame, unsure])).toEqual([1, 2, 3, 4].map((t) => [t, null]));
  for (const { frame, coordinates, parts } of poses) {
    const loops = [{ coordinates, hole: false }, ...parts];
    expect(shareOfBoth(filled(loops), ringAt(frame))).toBeGreaterThan(0.96);
  }
  // What turns no more than a ring does keeps its points where they are on it.
  const [dx, dy] = [20, 0];
  for (let i = 0; i < main.coordinates.length; i += N) {
    const [x, y] = poses[3].coordinates.slice(i, i + 2);
    expect(Math.hypot(x - main.coordinates[i] - dx, y - main.coordinates[i + 1] - dy)).toBeLessThan(6);
  }
});

test('near where it is known to be a subject is cut anew without a stroke, its hole too', async () => {
  const subject = await subjectFrameOn(film(1), shot, 0, identity);
  const circle = (radius: number) =>
    Array.from({ length: 60 }, (_, k) => (k * Math.PI) / 30).flatMap((a) => [
      105 + radius * Math.cos(a),
      86 + radius * Math.sin(a),
    ]);
  const lines = [
    { line: circle(outer + 3), hole: false },
    { line: circle(inner - 3), hole: true },
  ];
  const region = subject.cut({ strokes: [], prior: subject.priorOf(lines, identity), toPicture: identity })!;
  expect(shareOfBoth(region.inside, ringAt(0))).toBeGreaterThan(0.95);
  expect(shareOfBoth(filledBy(lines, width, height), ringAt(0))).toBeLessThan(0.85);
});

test('between two known poses the nearer one is carried; giving up leaves nothing', async () => {
  const frames = film(5);
  const subject = await subjectFrameOn(frames, shot, 0, identity);
  const region = subject.cut({ strokes: [overTheRing], prior: null, toPicture: identity })!;
  const [{ coordinates }] = subjectLoops(region, identity, width);
  const last = coordinates.map((value, i) => (i % N === 0 ? value + 20 : value));
  const job = {
    from: { frame: 0, coordinates, parts: [] },
    to: { frame: 4, coordinates: last, parts: [] },
    direction: 1 as const,
    most: 4,
    stops: false,
    kind: 'loop' as const,
    origin: 0,
    strokesOn: (frame: number) => (frame === 0 ? [overTheRing] : []),
  };
  const { poses } = await carrySubject(frames, shot, job, identity, () => true);
  expect(poses.map(({ frame }) => frame)).toEqual([1, 2, 3]);
  const stopped = await carrySubject(frames, shot, job, identity, () => false);
  expect(stopped).toEqual({ poses: [], end: 'stopped' });
});

test('a pose follows a line that has grown to one side, whichever way that is walked: its corners stay corners', () => {
  // A square of four sides with round corners grows to a rectangle: corners stay corners.
  const square = [40, 40, 120, 40, 120, 120, 40, 120].flatMap((v, i, all) =>
    i % 2 === 0 ? [v, all[i + 1], 0, 0, 0, 0] : [],
  );
  const wide = [40, 40, 150, 40, 150, 120, 40, 120];
  const line: number[] = [];
  for (let s = 0; s < 4; s++)
    for (let t = 0; t < 1; t += 0.02) {
      const [x0, y0] = wide.slice(2 * s, 2 * s + 2);
      const [x1, y1] = [wide[(2 * s + 2) % 8], wide[(2 * s + 3) % 8]];
      line.push(x0 + t * (x1 - x0), y0 + t * (y1 - y0));
    }
  for (const walked of [line, backwards(line)]) {
    const pose = poseAlong(square, walked);
    for (let p = 0; p < 4; p++) {
      expect(Math.abs(pose[p * N] - wide[2 * p])).toBeLessThan(4);
      expect(Math.abs(pose[p * N + 1] - wide[2 * p + 1])).toBeLessThan(4);
    }
  }
});

function backwards(line: readonly number[]): number[] {
  return Array.from({ length: line.length / 2 }, (_, k) => line.slice(-2 * k - 2).slice(0, 2)).flat();
}

test('contours enclose exactly the samples of random regions, and part what only touches', () => {
  const random = seeded(5);
  for (let round = 0; round < 20; round++) {
    const [w, h] = [13, 11];
    const inside = Uint8Array.from({ length: w * h }, () => Number(random() < 0.5));
    const found = contoursOf({ inside, width: w, height: h }, 0);
    const area = found.reduce((sum, contour) => sum + (contour.hole ? -contour.area : contour.area), 0);
    expect(area).toBe(inside.reduce((sum, value) => sum + value, 0));
    const { value } = patchesOf(inside, w, h);
    expect(found.filter(({ hole }) => !hole)).toHaveLength(value.filter((each) => each === 1).length);
  }
});

test('depths are distances within the chamfer’s 8 % (Borgefors 1986)', () => {
  const [w, h] = [41, 41];
  const disc = Uint8Array.from({ length: w * h }, (_, i) =>
    Number(Math.hypot((i % w) - 20, Math.floor(i / w) - 20) < 15),
  );
  const depths = depthsOf(disc, w, h);
  for (let i = 0; i < depths.length; i++) {
    const far = 15 - Math.hypot((i % w) - 20, Math.floor(i / w) - 20);
    expect(Math.abs(depths[i] - far)).toBeLessThan(0.08 * Math.abs(far) + 1);
  }
});

test('strokes count in their order, each as wide as its brush', () => {
  const stroke = (mark: Stroke['mark'], radius: number, ...path: number[]): Stroke => ({
    mark,
    radius,
    path,
  });
  const seeds = seedsOf(
    [stroke('this', 3, 5, 5, 15, 5), stroke('not this', 2, 15, 5), stroke('open', 1, 5, 5)],
    20,
    10,
    identity,
  );
  const at = (x: number, y: number) => seeds[y * 20 + x];
  expect([at(5, 5), at(7, 5), at(15, 5), at(7, 9)]).toEqual([unknown, isThis, isNot, unknown]);
  expect(seeds.filter((seed) => seed === isNot).length).toBeGreaterThanOrEqual(12);
});

test('a side of a region becomes a seam from its top to its bottom', async () => {
  const subject = await subjectFrameOn(film(1), shot, 0, identity);
  const region = subject.cut({ strokes: [overTheRing], prior: null, toPicture: identity })!;
  const [{ coordinates }] = subjectLoops(region, identity, width);
  const line = Array.from(flattenOutline(coordinates, true, 1, 0.2));
  for (const [side, sign] of [
    ['left', -1],
    ['right', 1],
  ] as const) {
    const seam = subjectSeam(line, side, width);
    expect(seam[1]).toBeLessThan(34);
    expect(seam[seam.length - N + 1]).toBeGreaterThan(146);
    for (let i = N; i + N < seam.length; i += N) expect(sign * (seam[i] - 100)).toBeGreaterThan(0);
  }
});
