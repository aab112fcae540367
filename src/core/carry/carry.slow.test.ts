import { height, pass, pictureOf, straightEdge, texture, width } from '../../../fixtures/pass-film';
import type { Shot } from '../model/shot';
import type { FramePicture } from '../picture/frame-picture';
import { readEdge } from '../edge/profile';
import { straighten, walkOutline } from '../edge/strip';
import { type Affine, applyAffine, identity } from '../geometry/affine';
import { distanceToLine } from '../geometry/polyline';
import { bestSimilarity } from '../geometry/similarity';
import { flattenOutline } from '../outline/curve';
import { bandMotion } from './band-motion';
import { Followings } from './between';
import { carryPoses, type CarryJob } from './carry-poses';
import { movingEdgeReading } from './edge-reading';
import { LoopModel, SeamModel } from './line-model';
import { modelOfPose, poseOnLine } from './pose-line';
import type { Frames } from './frames';
import { settled } from './settle';

const frames = pass(14, straightEdge);
/** The pass's edge at a frame as a pose: corners every 20 px, walked down, what it leaves behind on its right. */
const poseAt = (t: number) =>
  Array.from({ length: 10 }, (_, k) => [straightEdge(20 * k, t), 20 * k, 0, 0, 0, 0]).flat();
const seam = { kind: 'seam', sweptSide: 'right' } as const;

const farthest = (coordinates: readonly number[], t: number) => {
  let most = 0;
  for (let i = 0; i < coordinates.length; i += 6)
    most = Math.max(most, Math.abs(coordinates[i] - straightEdge(coordinates[i + 1], t)));
  return most;
};

const job = (rest: Partial<CarryJob>): CarryJob => ({
  outline: seam,
  from: { frame: 2, coordinates: poseAt(2) },
  to: null,
  direction: 1,
  most: 4,
  stops: false,
  ...rest,
});

test('a pose is carried along a moving edge, forward, back and between two', async () => {
  const forward = await carryPoses(frames, job({}), identity, () => true);
  expect(forward.poses.map(({ frame }) => frame)).toEqual([3, 4, 5, 6]);
  for (const { coordinates, frame } of forward.poses) expect(farthest(coordinates, frame)).toBeLessThan(1.5);

  const back = await carryPoses(
    frames,
    job({ from: { frame: 10, coordinates: poseAt(10) }, direction: -1, most: 3 }),
    identity,
    () => true,
  );
  expect(back.poses.map(({ frame }) => frame)).toEqual([9, 8, 7]);
  for (const { coordinates, frame } of back.poses) expect(farthest(coordinates, frame)).toBeLessThan(1.5);

  const shares: number[] = [];
  const between = await carryPoses(
    frames,
    job({ to: { frame: 7, coordinates: poseAt(7) } }),
    identity,
    (_, share) => shares.push(share) > 0,
  );
  expect(between.poses.map(({ frame }) => frame)).toEqual([3, 4, 5, 6]);
  for (const { coordinates, frame, unsure } of between.poses) {
    expect(farthest(coordinates, frame)).toBeLessThan(1.5);
    expect(unsure).toBeNull();
  }
  expect(shares.at(-1)).toBe(1);
});

test('what was followed from a known pose is not followed again when a frame between is put right', async () => {
  let asked = 0;
  const counted: Frames = { count: frames.count, picture: (t) => (asked++, frames.picture(t)) };
  const followings = new Followings(counted, false);
  const between = (from: number, to: number) =>
    carryPoses(
      counted,
      job({ from: { frame: from, coordinates: poseAt(from) }, to: { frame: to, coordinates: poseAt(to) } }),
      identity,
      () => true,
      followings,
    );
  await between(1, 9);
  const first = asked;
  const [left, right] = [await between(1, 5), await between(5, 9)];
  // Half of it is new: from the middle to either side.
  expect(asked - first).toBeLessThan(0.65 * first);
  for (const { coordinates, frame } of [...left.poses, ...right.poses])
    expect(farthest(coordinates, frame)).toBeLessThan(1.5);
  const again = asked;
  await between(1, 5);
  expect(asked).toBe(again);
});

test('carrying stops when told to, at the shot’s end, and where it has left the picture', async () => {
  let heard = 0;
  const stopped = await carryPoses(frames, job({}), identity, () => ++heard < 3);
  expect(stopped).toMatchObject({ end: 'stopped' });
  expect(stopped.poses).toHaveLength(3);
  const near = { frame: 11, coordinates: poseAt(11) };
  const toEnd = await carryPoses(frames, job({ from: near, most: 99 }), identity, () => true);
  expect(toEnd.end).toBe('shot ends');
  expect(toEnd.poses.at(-1)!.frame).toBe(13);
  const gone = pass(8, (y, t) => 210 + straightEdge(y, t) + 5 * t);
  const from = { frame: 2, coordinates: poseAt(2).map((v, i) => (i % 6 === 0 ? v + 220 : v)) };
  expect((await carryPoses(gone, job({ from, most: 99 }), identity, () => true)).end).toBe('left');
});

test('an edge that jumps away is found there, but flagged, and carrying by itself stops', async () => {
  const jump = pass(14, (y, t) => straightEdge(y, t) + (t >= 6 ? 55 : 0));
  const { poses, end } = await carryPoses(jump, job({ most: 10, stops: true }), identity, () => true);
  expect(end).toBe('unsure');
  expect(poses.at(-1)).toMatchObject({ frame: 6 });
  expect(poses.at(-1)!.unsure).not.toBeNull();
  // It is looked for where it jumped to, too.
  expect(
    farthest(
      poses.at(-1)!.coordinates.map((x, i) => (i % 6 === 0 ? x - 55 : x)),
      6,
    ),
  ).toBeLessThan(6);
});

test('a limb that comes out of the object is gone round, and its points are spread again where it has gone', async () => {
  // It grows downward from where it leaves the object, and ends at once.
  const out = (t: number) => [0, 0, 0, 0, 15, 30, 45, 45, 24, 0, 0, 0, 0, 0][t];
  const edge = (y: number, t: number) =>
    straightEdge(y, t) - (y > 50 && y < 110 ? out(t) * Math.min(1, (y - 50) / 30) : 0);
  const few = Array.from({ length: 7 }, (_, k) => [straightEdge(30 * k, 2), 30 * k, 0, 0, 0, 0]).flat();
  const from = { frame: 2, coordinates: few };
  const { poses } = await carryPoses(pass(14, edge), job({ from, most: 9 }), identity, () => true);
  expect(poses.map(({ frame }) => frame)).toEqual([3, 4, 5, 6, 7, 8, 9, 10, 11]);
  for (const { coordinates, frame } of poses) {
    expect(coordinates).toHaveLength(42);
    const line = flattenOutline(coordinates, false, 1, 0.2);
    const off = Array.from({ length: 60 }, (_, k) => distanceToLine(edge(3 * k, frame), 3 * k, line, false));
    off.sort((a, b) => a - b);
    expect(off[30]).toBeLessThan(2.5);
    // A few points round its corners.
    expect(off[59]).toBeLessThan(10);
  }
});

test('a pose that is off is settled; where nothing moves and nothing shows there is nothing to settle on', async () => {
  const off = poseAt(5).map((value, i) => (i % 6 === 0 ? value + 4 : value));
  const onto = await settled(frames, 5, seam, off, identity);
  expect(farthest(off, 5)).toBeGreaterThan(3.5);
  // The line's ends, at the picture's border, have less to go by.
  expect(farthest(onto!.slice(6, -6), 5)).toBeLessThan(2);
  const blank = pictureOf(() => 90);
  const nothing: Frames = { count: 6, picture: () => Promise.resolve(blank) };
  expect(await settled(nothing, 3, seam, off, identity)).toBeNull();
});

test('a band’s movement is the similarity that Umeyama’s closed form finds from the true places', () => {
  const value = texture(5, 40, 210);
  const [turn, scale] = [0.02, 1.015];
  const [c, s] = [scale * Math.cos(turn), scale * Math.sin(turn)];
  const truth: Affine = [c, s, -s, c, 9.4, -3.2];
  const [from, to] = [pictureOf(value), null as FramePicture | null];
  const inverse = (x: number, y: number): [number, number] => {
    const [dx, dy] = [x - truth[4], y - truth[5]];
    const size = c * c + s * s;
    return [(c * dx + s * dy) / size, (-s * dx + c * dy) / size];
  };
  const moved = to ?? pictureOf((x, y) => value(...inverse(x, y)));
  const points: number[] = [];
  for (let y = 30; y < 150; y += 8) for (let x = 60; x < 240; x += 8) points.push(x, y);
  const found = bandMotion(from, moved, Float64Array.from(points), identity, {
    acrossPx: 24,
    downPx: 16,
    trust: 5,
  })!;
  const [places, there]: number[][] = [[], []];
  for (let i = 0; i < points.length; i += 2) {
    places.push(points[i], points[i + 1]);
    there.push(...applyAffine(truth, points[i], points[i + 1]));
  }
  const closed = bestSimilarity(places, there, 2);
  const [x, y] = applyAffine(found.map, closed.fromX, closed.fromY);
  expect(Math.hypot(x - closed.toX, y - closed.toY)).toBeLessThan(0.05);
  expect(Math.atan2(found.map[1], found.map[0])).toBeCloseTo(closed.turn, 3);
  expect(Math.hypot(found.map[0], found.map[1])).toBeCloseTo(closed.scale, 3);
  expect(found.explained).toBeGreaterThan(0.8);
});

test('a pose follows its line without sliding along it: a curve shifted across is the curve, shifted', () => {
  const curve = [40, -4, 0, 0, 10, 50, 80, 90, -12, -30, 12, 30, 60, 184, 6, -40, 0, 0];
  const before = modelOfPose(seam, curve, identity);
  const after = before.offset([new Float64Array(before.runs[0].line.count).fill(-6)], []);
  const next = poseOnLine(seam, curve, before, after, identity);
  // A seam walked down that sweeps what is on its right: across is to the left.
  for (let i = 0; i < curve.length; i++)
    expect(Math.abs(next[i] - (i % 6 === 0 ? curve[i] + 6 : curve[i]))).toBeLessThan(1);
});

test('a loop of very many points goes along without being solved for as a whole', () => {
  const many = Array.from({ length: 900 }, (_, k) => {
    const angle = (2 * Math.PI * k) / 900;
    const radius = 60 + 2 * Math.sin(45 * angle);
    return [150 + radius * Math.cos(angle), 90 + radius * Math.sin(angle), 0, 0, 0, 0];
  }).flat();
  const loop = { kind: 'loop', sweptSide: 'left' } as const;
  const before = modelOfPose(loop, many, identity);
  expect(before.points().length).toBeLessThanOrEqual(120);
  const after = before.through(before.points().map(([x, y]) => [x + 9, y - 4]));
  const next = poseOnLine(loop, many, before, after, identity);
  for (let i = 0; i < many.length; i += 6) {
    expect(next[i]).toBeCloseTo(many[i] + 9, 2);
    expect(next[i + 1]).toBeCloseTo(many[i + 1] - 4, 2);
  }
});

test('a loop’s corners follow from its sides; a seam’s rows keep their places', () => {
  const square: [number, number][] = [
    [20, 20],
    [120, 20],
    [120, 120],
    [20, 120],
  ];
  const loop = LoopModel.around(square, 4);
  expect(loop.runs).toHaveLength(4);
  // Each side of a loop walked clockwise on the screen has its inside on its right: 5 px inward all round.
  const inward = loop.runs.map(({ line }) => new Float64Array(line.count).fill(5));
  const weights = loop.runs.map(({ line }) => new Float64Array(line.count).fill(1));
  for (const [k, [x, y]] of loop.offset(inward, weights).points().entries()) {
    expect(x).toBeCloseTo(square[k][0] + (square[k][0] < 70 ? 5 : -5), 1);
    expect(y).toBeCloseTo(square[k][1] + (square[k][1] < 70 ? 5 : -5), 1);
  }
  expect(() => loop.through(square.slice(1))).toThrow(RangeError);
  const rows = SeamModel.along(
    [
      [50, 0],
      [60, 100],
    ],
    4,
  );
  const turned = rows.moved([[1, 0.02, -0.02, 1, 3, 1]], [new Float64Array(rows.runs[0].line.count)]);
  // A seam that runs nearly upright has level rows.
  const along = ({ line }: (typeof rows.runs)[number]) => line.y;
  const [a, b] = [along(rows.runs[0]), along(turned.runs[0])];
  for (let i = 0; i < a.length; i++) expect(b[i]).toBeCloseTo(a[i], 1);
});

test('a line that stands behind is not taken for the moving edge, and one off the edge is told from it', async () => {
  const wall = texture(3, 96, 118);
  // A bright post stands where the edge was some frames ago.
  const object = texture(2, 70, 100);
  const post = (y: number) => 84 + 6 * Math.sin(y / 40);
  const pictures = Array.from({ length: 14 }, (_, t) =>
    pictureOf((x, y) => {
      const share = Math.min(1, Math.max(0, x - straightEdge(y, t) + 0.5));
      const behind = Math.abs(x - post(y)) < 4 ? 230 : wall(x, y);
      return (1 - share) * behind + share * object(x - straightEdge(90, t), y);
    }),
  );
  const standing: Frames = { count: 14, picture: (t) => Promise.resolve(pictures[t]) };
  const shot = { id: 's', width, height, rotation: 0 } as Shot;
  const read = (by: number) => {
    const coordinates = poseAt(5).map((value, i) => (i % 6 === 0 ? value + by : value));
    const walk = walkOutline(seam, coordinates, shot, 1);
    return movingEdgeReading(standing, 5, { shot, outline: seam, coordinates, walk, toPicture: identity });
  };
  const { planes } = await standing.picture(5);
  const alone = readEdge(straighten(planes, shot, walkOutline(seam, poseAt(5), shot, 1), 32, 0.5), 1)!;
  expect(Math.abs(alone.offset)).toBeGreaterThan(4);
  for (const by of [0, -4]) {
    const reading = (await read(by))!;
    expect(reading.support).toBeGreaterThan(0.5);
    // Inside the region is to the left: a line too far right has the edge inside.
    expect(Math.abs(reading.offset - by)).toBeLessThan(1.5);
  }
});
