import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { type ShotMotion, numbersPerFrame as N } from '../model/shot';
import { applyAffine } from '../geometry/affine';
import { MotionMeasure } from './measure';
import { whittaker } from '../numbers/whittaker';
import { largestZoom, pathOf, steadying, unsteadiness } from './steady';
import { uprightLuma } from './upright';

const footage = path.join(process.cwd(), 'demo', 'footage');
const [width, height] = [1280, 720];

/** Measures a shot of the demo, decoded by ffmpeg. */
function measured(name: string): ShotMotion {
  const args = [
    '-v',
    'error',
    '-i',
    path.join(footage, `${name}.mp4`),
    '-pix_fmt',
    'yuv420p',
    '-f',
    'rawvideo',
    '-',
  ];
  const { stdout } = spawnSync('ffmpeg', args, { maxBuffer: 2 ** 31 - 1 });
  const size = width * height;
  const measure = new MotionMeasure(width, height);
  for (let at = 0; at < stdout.length; at += size * 1.5)
    measure.add(stdout.subarray(at, at + size), width, height);
  return measure.result();
}

/** The camera's true path, from the generator: x and y of the scene at each frame. */
function truePath(name: string): [number, number][] {
  return (
    JSON.parse(readFileSync(path.join(footage, `${name}-truth.json`), 'utf8')) as {
      camera: [number, number][];
    }
  ).camera;
}

const shots = ['gardener', 'lily-pond', 'nursery', 'trolley', 'door'];
const motions = Object.fromEntries(shots.map((name) => [name, measured(name)]));

test.each(['gardener', 'lily-pond', 'nursery', 'trolley'])(
  '%s: direction within 5° and speed within 5 % of the camera’s true path, whatever crosses the picture',
  (name) => {
    const { x, y } = pathOf(motions[name]);
    const last = truePath(name)[x.length - 1];
    const [mx, my] = [x[x.length - 1], y[y.length - 1]];
    const angle = Math.abs(Math.atan2(mx * last[1] - my * last[0], mx * last[0] + my * last[1]));
    expect((angle * 180) / Math.PI).toBeLessThan(5);
    expect(Math.abs(Math.hypot(mx, my) / Math.hypot(...last) - 1)).toBeLessThan(0.05);
  },
);

test('frame by frame the hand-held camera is followed within half a pixel, the still one within a tenth', () => {
  const error = (name: string) => {
    const truth = truePath(name);
    const { frames } = motions[name];
    const off = truth.slice(1).map(([x, y], k) => {
      const i = (k + 1) * N;
      return Math.hypot(frames[i] - (x - truth[k][0]), frames[i + 1] - (y - truth[k][1]));
    });
    return Math.max(...off);
  };
  expect(error('nursery')).toBeLessThan(0.5);
  expect(error('door')).toBeLessThan(0.1);
});

test('what crosses is found: from when to when, which way, how fast; and nothing where nothing crosses', () => {
  const edges = (
    JSON.parse(readFileSync(path.join(footage, 'gardener-edge.json'), 'utf8')) as {
      edges: (number | null)[][];
    }
  ).edges;
  // Before the barrow's load is past, the frame is covered; then the back comes away from the border.
  const withEdge = (frame: number) => edges[frame].some((x) => x !== null);
  const covered = edges.findLastIndex((_, frame) => frame < 60 && !withEdge(frame));
  const last = edges.findLastIndex((_, frame) => withEdge(frame));
  const gardener = motions.gardener.crosser!;
  expect(gardener).toMatchObject({ kind: 'across', direction: 1, reach: 1 });
  expect(Math.abs(gardener.opens - (covered + 1))).toBeLessThanOrEqual(2);
  expect(Math.abs(gardener.closes - last)).toBeLessThanOrEqual(2);
  // The painted figure walks 30 px a frame.
  expect(Math.abs(gardener.speed - 30)).toBeLessThan(1.5);
  expect(motions.trolley.crosser).toMatchObject({ kind: 'across', direction: -1, top: 0, bottom: 1 });
  expect(Math.abs(motions.trolley.crosser!.speed - 52)).toBeLessThan(2);
  expect(motions.door.crosser).toMatchObject({ kind: 'opens' });
  expect(motions['lily-pond'].crosser).toBeNull();
  expect(motions.nursery.crosser).toBeNull();
});

test('steadying follows a smoother path, glues outlines to the picture and shows no border', () => {
  const motion = motions.nursery;
  const { before, after, zoom, maps } = steadying(motion, 60, width, height);
  expect(after).toBeLessThan(before / 3);
  expect(zoom).toBeGreaterThan(1);
  expect(zoom).toBeLessThanOrEqual(largestZoom);
  for (const [a, b, c, d, e, f] of maps) {
    // No border: the frame's corners come from inside the picture.
    const determinant = a * d - b * c;
    for (const [x, y] of [
      [0, 0],
      [width, 0],
      [0, height],
      [width, height],
    ]) {
      const [px, py] = [(d * (x - e) - c * (y - f)) / determinant, (a * (y - f) - b * (x - e)) / determinant];
      expect(px).toBeGreaterThan(-1e-6);
      expect(px).toBeLessThan(width + 1e-6);
      expect(py).toBeGreaterThan(-1e-6);
      expect(py).toBeLessThan(height + 1e-6);
    }
  }
  // A thing that stands still in the scene is drawn on a smooth path: the true camera, steadied.
  const truth = truePath('nursery');
  const drawn = maps.map((map, k) => applyAffine(map, 640 + truth[k][0], 360 + truth[k][1]));
  const course = { x: Float64Array.from(drawn, ([x]) => x), y: Float64Array.from(drawn, ([, y]) => y) };
  expect(unsteadiness(course)).toBeLessThan(before / 2.5);
  const off = steadying(motion, 0, width, height);
  expect(off.zoom).toBe(1);
  expect(off.maps[30]).toEqual([1, 0, -0, 1, 0, 0].map((value) => expect.closeTo(value, 9)));
});

test('Whittaker’s smoothing solves its equations', () => {
  const series = Float64Array.from({ length: 40 }, (_, k) => Math.sin(k * k) * 5 + k);
  for (const lambda of [0.5, 20, 4000]) {
    const s = whittaker(series, lambda);
    const second = (k: number) => (k >= 1 && k <= 38 ? s[k - 1] - 2 * s[k] + s[k + 1] : 0);
    // The derivative of Σ(s−p)² + λΣ(Δ²s)² is zero at each s.
    series.forEach((p, k) => {
      const slope = s[k] - p + lambda * (second(k - 1) - 2 * second(k) + second(k + 1));
      expect(Math.abs(slope)).toBeLessThan(1e-6);
    });
  }
  const line = Float64Array.from({ length: 10 }, (_, k) => 3 * k - 1);
  whittaker(line, 1e6).forEach((value, k) => expect(value).toBeCloseTo(line[k], 6));
});

test('rotation flags are carried out before measuring', () => {
  // 3 × 2 samples; a quarter turn clockwise brings the bottom-left one to the top left.
  const planes = { width: 3, height: 2, y: Uint8Array.of(1, 2, 3, 4, 5, 6) };
  expect([...uprightLuma(planes, 90).values]).toEqual([4, 1, 5, 2, 6, 3]);
  expect([...uprightLuma(planes, 180).values]).toEqual([6, 5, 4, 3, 2, 1]);
  expect([...uprightLuma(planes, 270).values]).toEqual([3, 6, 2, 5, 1, 4]);
});
