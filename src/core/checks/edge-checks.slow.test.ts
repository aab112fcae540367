import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { PicturePlanes } from '../picture/planes';
import { plainPose, type OutlineRow, plainOutline, type PoseRow, poseId } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import type { Shot } from '../model/shot';
import { readEdge } from '../edge/profile';
import { straighten, walkOutline } from '../edge/strip';
import { shapeAt } from '../outline';
import { canJudge, edgeFindings, type FrameReading } from './edge-checks';
import { shutterOfPicture } from './fixes';
import { jitterOf, standstillsOf } from './line-checks';

/**
 * The checks on the demo's gardener, whose true trailing edge and alpha the generator has written down: a trace from
 * the truth, good first, then with errors put in on purpose.
 */

const folder = path.join(process.cwd(), 'demo', 'footage');
const [width, height] = [1280, 720];
const shot = { id: 's', width, height, rotation: 0 } as Shot;

function decoded(file: string, format: string): Buffer {
  const args = ['-v', 'error', '-i', path.join(folder, file), '-f', 'rawvideo', '-pix_fmt', format, '-'];
  return spawnSync('ffmpeg', args, { maxBuffer: 2 ** 31 - 1 }).stdout;
}

const pixels = width * height;
const pictures = decoded('gardener.mp4', 'yuv420p');
const alphas = decoded('gardener-alpha.mkv', 'gray');
const truth = JSON.parse(readFileSync(path.join(folder, 'gardener-edge.json'), 'utf8')) as {
  rows: number[];
  edges: (number | null)[][];
};

function planesAt(frame: number, of = pictures): PicturePlanes {
  const at = frame * pixels * 1.5;
  const [chromaWidth, chromaHeight] = [width / 2, height / 2];
  return {
    ...{ width, height, chromaWidth, chromaHeight },
    y: of.subarray(at, at + pixels),
    u: of.subarray(at + pixels, at + pixels * 1.25),
    v: of.subarray(at + pixels * 1.25, at + pixels * 1.5),
    colour: { matrix: 'bt709', fullRange: false },
  };
}

/** Rows at which a person would put a point down the back; the ends are drawn on past the frame. */
const chosen = [0, 10, 14, 24, 36, 52, 70, 89];
const edgeAt = (frame: number, k: number) => truth.edges[frame][k];

function truePose(frame: number): PoseRow {
  const at = chosen.map((k) => [edgeAt(frame, k)!, truth.rows[k]]);
  const coordinates = at.flatMap(([x, y], k) => {
    const [px, py] = at[Math.max(0, k - 1)];
    const [nx, ny] = at[Math.min(at.length - 1, k + 1)];
    const slope = (nx - px) / (ny - py);
    const handle = (toY: number) => [((toY - y) / 3) * slope, (toY - y) / 3];
    return [x, y, ...(k === 0 ? [0, 0] : handle(py)), ...(k === at.length - 1 ? [0, 0] : handle(ny))];
  });
  return {
    id: poseId('o', frame),
    outlineId: 'o',
    frame,
    ...plainPose,
    origin: 'by hand',
    onward: 'linear',
    coordinates,
  };
}

const frames = truth.edges.flatMap((_edge, frame) =>
  chosen.every((k) => edgeAt(frame, k) !== null && edgeAt(frame, k)! > 40 && edgeAt(frame, k)! < width - 40)
    ? [frame]
    : [],
);
const outline: OutlineRow = {
  ...plainOutline,
  id: 'o',
  layerId: 'l',
  cutsLayerId: null,
  name: 'Back',
  kind: 'seam',
  sweptSide: 'right',
  position: 0,
  points: chosen.map(String),
  featherInside: 10,
  featherOutside: 10,
};
const good = frames.map(truePose);
const moved = (pose: PoseRow, dx: number): PoseRow => ({
  ...pose,
  coordinates: pose.coordinates.map((value, i) => (i % N === 0 ? value + dx : value)),
});

function readingsOf(poses: readonly PoseRow[], of = frames): FrameReading[] {
  return of.flatMap((frame): FrameReading[] => {
    const shape = shapeAt(poses, frame);
    if (!('coordinates' in shape)) return [];
    const walk = walkOutline(outline, shape.coordinates, shot, 1);
    const reading = readEdge(straighten(planesAt(frame), shot, walk, 32, 0.5), 1);
    const posed = shape.state === 'posed';
    return reading ? [{ frame, posed, edge: outline, speed: 29.5, reading, place: [0, 0] }] : [];
  });
}

const goodReadings = readingsOf(good);

test('the edge’s width in the picture is the true alpha’s within 15 %', () => {
  for (const frame of frames.filter((_, k) => k % 5 === 0)) {
    // The truth is read off the alpha row by row, by itself: 10 to 90 % along the row, times how upright the edge is.
    const widths = truth.rows.slice(12, 80).flatMap((y, j) => {
      const k = j + 12;
      const row = alphas.subarray(
        frame * pixels + Math.round(y) * width,
        frame * pixels + (Math.round(y) + 1) * width,
      );
      const from = Math.round(edgeAt(frame, k)!);
      const reach = (level: number, way: 1 | -1) => {
        let x = from;
        while (way > 0 ? row[x] < level : row[x] > level) x += way;
        return x - way * ((row[x] - level) / (row[x] - row[x - way] || 1)) * 1;
      };
      if (row[from] <= 26 || row[from] >= 229) return [];
      const slope = (edgeAt(frame, k + 1)! - edgeAt(frame, k - 1)!) / (truth.rows[k + 1] - truth.rows[k - 1]);
      return [(reach(229.5, 1) - reach(25.5, -1)) / Math.hypot(1, slope)];
    });
    const true50 = widths.sort((a, b) => a - b)[widths.length >> 1];
    const { reading } = goodReadings.find((each) => each.frame === frame)!;
    expect(Math.abs(reading.width / true50 - 1)).toBeLessThan(0.15);
  }
});

test('a good trace has at most one finding in 50 frames', () => {
  const found = [
    ...jitterOf(outline, good, shot),
    ...standstillsOf(good),
    ...edgeFindings(outline, goodReadings, false),
  ];
  expect(frames.length).toBeGreaterThan(30);
  expect(found.length).toBeLessThanOrEqual(1);
});

test('a missed frame, jitter and lines off the edge are found at their frames, with the right sign', () => {
  const [jitter, missed, cut] = [[52, 72], 60, [64, 65, 66]];
  const poses = good.map((pose) => {
    if (jitter.includes(pose.frame)) return moved(pose, pose.frame === 52 ? 1.5 : -1.5);
    if (pose.frame === missed) return { ...pose, coordinates: truePose(missed - 1).coordinates };
    // The object lies to the right of its back.
    return cut.includes(pose.frame) ? moved(pose, 4) : pose;
  });
  const shaken = jitterOf(outline, poses, shot);
  expect(standstillsOf(poses).map(({ frame }) => frame)).toEqual([missed]);
  for (const frame of jitter) {
    const hit = shaken.find((each) => each.frame === frame);
    expect(hit?.measure).toBeGreaterThan(1);
    expect(hit?.measure).toBeLessThan(2);
  }
  const found = edgeFindings(outline, readingsOf(poses), false);
  expect(found.filter(({ kind }) => kind === 'object is cut')).toMatchObject([{ from: 64, to: 66 }]);
  // Of the frames that are as they should be, at most one is spoken of.
  const wrong = new Set([...jitter, missed, ...cut].flatMap((frame) => [frame - 1, frame, frame + 1]));
  const others = [...shaken.map(({ frame }) => frame), ...found.map(({ worst }) => worst)].filter(
    (frame) => !wrong.has(frame),
  );
  expect(others.length).toBeLessThanOrEqual(1);
  const behind = good.map((pose) => ([55, 56].includes(pose.frame) ? moved(pose, -4) : pose));
  const near = readingsOf(
    behind,
    frames.filter((frame) => Math.abs(frame - 55) < 4),
  );
  expect(edgeFindings(outline, near, false)).toMatchObject([{ kind: 'background peeks', from: 55, to: 56 }]);
  // Where the layer keeps what it encloses, the object lies on the other side.
  expect(edgeFindings(outline, near, true)).toMatchObject([{ kind: 'object is cut', from: 55, to: 56 }]);
});

test('too much and too little softness are found over all frames, and poses too far apart where they drift', () => {
  const withFeather = (half: number) =>
    goodReadings.map((each) => ({
      ...each,
      edge: { ...outline, featherInside: half, featherOutside: half },
    }));
  const whole = { from: frames[0], to: frames[frames.length - 1] };
  expect(edgeFindings(outline, withFeather(30), false)).toMatchObject([{ kind: 'too soft', ...whole }]);
  expect(edgeFindings(outline, withFeather(0), false)).toMatchObject([{ kind: 'not blurred', ...whole }]);
  // A shutter that is open four times too long; and what mends it blurs about as the picture does, and is no finding.
  const blurring = { ...outline, shutter: 720, phase: -360 };
  const said = edgeFindings(blurring, withFeather(0), false);
  expect(said).toMatchObject([{ kind: 'blurs too much', ...whole }]);
  const shutter = shutterOfPicture(goodReadings);
  expect(shutter).toBeGreaterThan(60);
  expect(edgeFindings({ ...outline, shutter, phase: -shutter / 2 }, withFeather(0), false)).toEqual([]);
  const sparse = good.filter((_, k) => k % 8 === 0 || k === good.length - 1);
  const drifts = edgeFindings(outline, readingsOf(sparse, frames.slice(0, 17)), false);
  expect(drifts.length).toBeGreaterThan(0);
  expect(drifts.every(({ kind }) => kind === 'drifts')).toBe(true);
});

test('the door’s sharp edge is read to a pixel; a trolley of rails is not judged, and nothing is said of it', () => {
  const readAll = (file: string, name: string, kind: 'seam' | 'loop', chosenFrames: number[]) => {
    const film = decoded(`${file}.mp4`, 'yuv420p');
    const { outlines } = JSON.parse(readFileSync(path.join(folder, `${file}-truth.json`), 'utf8')) as {
      outlines: Record<string, number[][]>;
    };
    return chosenFrames.flatMap((frame): FrameReading[] => {
      const polygon = outlines[name][frame];
      const coordinates = polygon.flatMap((value, i) =>
        i % 2 === 0 ? [value, polygon[i + 1], 0, 0, 0, 0] : [],
      );
      const walk = walkOutline({ kind, sweptSide: 'left' }, coordinates, shot, 1);
      const reading = readEdge(straighten(planesAt(frame, film), shot, walk, 32, 0.5), 1);
      return reading ? [{ frame, posed: true, edge: plainOutline, speed: 3, reading, place: [0, 0] }] : [];
    });
  };
  const door = readAll('door', 'gap', 'loop', [30, 38, 46, 54, 62, 70, 86]);
  expect(door).toHaveLength(7);
  for (const { reading } of door) {
    expect(Math.abs(reading.offset)).toBeLessThanOrEqual(0.5);
    expect(reading.width).toBeLessThan(4);
  }
  expect(edgeFindings({ ...outline, kind: 'loop' }, door, false)).toEqual([]);
  const trolley = readAll('trolley', 'back', 'seam', [36, 39, 42, 45, 48, 51, 54, 57]);
  expect(canJudge(trolley)).toBe(false);
  expect(edgeFindings(outline, trolley, false)).toEqual([]);
  expect(canJudge(goodReadings)).toBe(true);
});
