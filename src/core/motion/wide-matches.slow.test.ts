import { createCanvas, loadImage } from '@napi-rs/canvas';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { applyHomography, type Homography, homographyOf } from '../geometry/homography';
import { MotionMeasure } from './measure';
import { wideMatches } from './wide-matches';

/*
 * graf1, graf3 and the homography between them, from Debian's opencv-doc 4.6.0 (examples/data): first published by
 * Mikolajczyk and Schmid for their comparison of local descriptors (2005). The pictures are kept here as grey ones.
 */
const folder = path.join(process.cwd(), 'fixtures', 'graf');

async function grey(name: string) {
  const picture = await loadImage(path.join(folder, name));
  const { width, height } = picture;
  const context = createCanvas(width, height).getContext('2d');
  context.drawImage(picture, 0, 0);
  const { data } = context.getImageData(0, 0, width, height);
  return { width, height, values: Float32Array.from({ length: width * height }, (_, i) => data[4 * i]) };
}

function published(): number[] {
  const xml = readFileSync(path.join(folder, 'H1to3p.xml'), 'utf8');
  return /<data>([^<]*)</.exec(xml)![1].trim().split(/\s+/).map(Number);
}

function seeded() {
  let state = 7;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

test('the homography between graf1 and graf3 is the published one within a pixel on average', async () => {
  const [one, three] = [await grey('graf1.png'), await grey('graf3.png')];
  const { from, to } = wideMatches(one, three);
  const found = robustHomography(from, to, 3, seeded())!;
  expect(found.agreeing).toBeGreaterThan(60);
  const wanted = published();
  const errors: number[] = [];
  for (let y = 0; y <= one.height; y += 20) {
    for (let x = 0; x <= one.width; x += 20) {
      const [u, v] = applyHomography(wanted, x, y);
      if (u < 0 || v < 0 || u > three.width || v > three.height) continue;
      const [p, q] = applyHomography(found.map, x, y);
      errors.push(Math.hypot(p - u, q - v));
    }
  }
  expect(errors.length).toBeGreaterThan(500);
  expect(errors.reduce((sum, error) => sum + error, 0) / errors.length).toBeLessThan(1);
  expect(Math.max(...errors)).toBeLessThan(3);
}, 30_000);

test('a whip pan that no point can be followed through is found by looks', async () => {
  const { width, height, values } = await grey('graf1.png');
  const [w, h] = [width - 260, height - 40];
  const view = (left: number, top: number) =>
    Float32Array.from(
      { length: w * h },
      (_, i) => values[(top + Math.floor(i / w)) * width + left + (i % w)],
    );
  const measure = new MotionMeasure(w, h);
  measure.add(view(0, 30), w, h);
  measure.add(view(240, 10), w, h);
  const { frames } = measure.result();
  // The picture goes left by 240 px and down by 20: 44 % of its width in one frame.
  expect(Math.abs(frames[6] + 240)).toBeLessThan(2);
  expect(Math.abs(frames[7] - 20)).toBeLessThan(2);
});

test('a shaky scene with a thing that stands still in the picture is told from that thing', async () => {
  const { width, values } = await grey('graf1.png');
  const [w, h, frames] = [480, 270, 24];
  const random = seeded();
  const course = Array.from({ length: frames }, () =>
    [80 + 24 * random(), 80 + 16 * random()].map(Math.round),
  );
  const measure = new MotionMeasure(w, h);
  for (const [left, top] of course) {
    const picture = Float32Array.from({ length: w * h }, (_, i) => {
      const [x, y] = [i % w, Math.floor(i / w)];
      // A third of the picture, as a door's frame when filmed from inside, is another part of the photograph.
      return x > 130 && x < 290
        ? 255 - values[(y + 200) * width + x + 200]
        : values[(top + y) * width + left + x];
    });
    measure.add(picture, w, h);
  }
  const { frames: numbers } = measure.result();
  for (let k = 1; k < frames; k++) {
    const [dx, dy] = [course[k - 1][0] - course[k][0], course[k - 1][1] - course[k][1]];
    expect(Math.hypot(numbers[6 * k] - dx, numbers[6 * k + 1] - dy)).toBeLessThan(0.5);
  }
});

test('four pairs of points determine their homography', () => {
  const wanted = published();
  const from = [0, 0, 800, 0, 800, 640, 0, 640];
  const to = Array.from({ length: 4 }, (_, k) =>
    applyHomography(wanted, from[2 * k], from[2 * k + 1]),
  ).flat();
  homographyOf(from, to)!.forEach((value, k) => expect(value).toBeCloseTo(wanted[k], 6));
  expect(homographyOf([0, 0, 1, 0, 2, 0, 3, 0], [0, 0, 1, 0, 2, 0, 3, 0])).toBeNull();
});

/**
 * The homography that most pairs of points agree on (random samples of four, Fischler and Bolles 1981), fitted to all
 * that do.
 *
 * @param tolerance px within which a pair agrees.
 * @returns null when fewer than twelve pairs agree on any.
 */
function robustHomography(
  from: ArrayLike<number>,
  to: ArrayLike<number>,
  tolerance: number,
  random: () => number,
): { map: Homography; agreeing: number } | null {
  const count = from.length / 2;
  if (count < 12) return null;
  const agree = (map: Homography, within: number) => {
    const which: number[] = [];
    for (let i = 0; i < count; i++) {
      const [x, y] = applyHomography(map, from[2 * i], from[2 * i + 1]);
      if (Math.hypot(x - to[2 * i], y - to[2 * i + 1]) < within) which.push(i);
    }
    return which;
  };
  const fit = (which: readonly number[]) =>
    homographyOf(
      which.flatMap((i) => [from[2 * i], from[2 * i + 1]]),
      which.flatMap((i) => [to[2 * i], to[2 * i + 1]]),
    );
  let best: number[] = [];
  for (let k = 0; k < 3000; k++) {
    const map = fit(Array.from({ length: 4 }, () => Math.floor(random() * count)));
    if (!map) continue;
    const which = agree(map, tolerance);
    if (which.length > best.length) best = which;
  }
  for (let k = 0; k < 4 && best.length >= 12; k++) {
    const map = fit(best);
    if (!map) return null;
    const which = agree(map, tolerance);
    if (k === 3) return { map, agreeing: which.length };
    best = which;
  }
  return null;
}
