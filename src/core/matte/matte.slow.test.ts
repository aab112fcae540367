import { createCanvas } from '@napi-rs/canvas';
import { flattenOutline, regionOf, type Region } from '../outline';
import { coverage } from './coverage';
import { drawMatte, MatteScratch, meanAlpha } from './matte';

const width = 320;
const height = 200;
const scratch = new MatteScratch();

/** A wavy 24-point loop, off-centre and partly outside. */
export function wavyLoop(cx: number, cy: number, radius: number): number[] {
  return Array.from({ length: 24 }, (_, k) => {
    const a = (k / 24) * 2 * Math.PI;
    const r = radius * (1 + 0.18 * Math.sin(5 * a));
    const [tx, ty] = [-Math.sin(a) * r * 0.09, Math.cos(a) * r * 0.09];
    return [cx + r * Math.cos(a), cy + r * Math.sin(a), -tx, -ty, tx, ty];
  }).flat();
}

const loop = flattenOutline(wavyLoop(170.3, 88.7, 95), true, 1, 0.25);
const region = regionOf(loop, 'loop', 'left', width, height);
const hard = { featherInside: 0, featherOutside: 0, spread: 0 };

function matteOf(of: Region, edge = hard): Uint8Array {
  const out = new Uint8Array(width * height).fill(77);
  drawMatte(of, edge, width, height, out, scratch);
  return out;
}

function inside(polygon: readonly number[], x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [polygon[i], polygon[i + 1], polygon[j], polygon[j + 1]];
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) odd = !odd;
  }
  return odd;
}

/** The part of a polygon where f ≥ 0 (Sutherland and Hodgman 1974), f being linear. */
function clip(polygon: number[], f: (x: number, y: number) => number): number[] {
  const kept: number[] = [];
  for (let i = 0; i < polygon.length; i += 2) {
    const j = (i + 2) % polygon.length;
    const [a, b] = [f(polygon[i], polygon[i + 1]), f(polygon[j], polygon[j + 1])];
    if (a >= 0) kept.push(polygon[i], polygon[i + 1]);
    const t = a / (a - b);
    if (a >= 0 !== b >= 0) {
      kept.push(
        polygon[i] + t * (polygon[j] - polygon[i]),
        polygon[i + 1] + t * (polygon[j + 1] - polygon[i + 1]),
      );
    }
  }
  return kept;
}

function area(polygon: number[]): number {
  let twice = 0;
  for (let i = 0; i < polygon.length; i += 2) {
    const j = (i + 2) % polygon.length;
    twice += polygon[i] * polygon[j + 1] - polygon[j] * polygon[i + 1];
  }
  return Math.abs(twice) / 2;
}

test('coverage is the exact area, and within 1/255 mean of a 16 × 16 supersampled reference', () => {
  // 256 samples miss a pixel's true area by up to 8/255 themselves, so the bound of 3/255 on single pixels is
  // put to the exact area, clipped pixel by pixel, where it is tighter.
  const out = matteOf(region);
  let [sum, worst] = [0, 0];
  for (let y = 0; y < height; y++) {
    const row = clip(
      clip(loop, (_, py) => py - y),
      (_, py) => y + 1 - py,
    );
    for (let x = 0; x < width; x++) {
      const exact = area(
        clip(
          clip(row, (px) => px - x),
          (px) => x + 1 - px,
        ),
      );
      const alpha = out[y * width + x];
      worst = Math.max(worst, Math.abs(alpha - exact * 255));
      let sampled = exact;
      if (exact > 1e-9 && exact < 1 - 1e-9) {
        sampled = 0;
        for (let s = 0; s < 256; s++) {
          if (inside(loop, x + ((s >> 4) + 0.5) / 16, y + ((s & 15) + 0.5) / 16)) sampled += 1 / 256;
        }
      }
      sum += Math.abs(alpha - sampled * 255);
    }
  }
  expect(worst).toBeLessThan(0.51);
  expect(sum / out.length).toBeLessThan(1);
});

test('where a line crosses itself, pixels are within 3/255 of 16 × 16 samples by the non-zero rule', () => {
  const windings = (polygon: readonly number[], x: number, y: number) => {
    let winding = 0;
    for (let i = 0; i < polygon.length; i += 2) {
      const j = (i + 2) % polygon.length;
      const [ax, ay, bx, by] = [polygon[i], polygon[i + 1], polygon[j], polygon[j + 1]];
      if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) winding += by > ay ? 1 : -1;
    }
    return winding;
  };
  const sampled = (polygon: readonly number[], x: number, y: number, n: number) => {
    let hits = 0;
    for (let s = 0; s < n * n; s++)
      if (windings(polygon, x + ((s % n) + 0.5) / n, y + (Math.floor(s / n) + 0.5) / n) !== 0) hits++;
    return hits / (n * n);
  };
  let random = 7;
  const next = () => (random = (random * 16807) % 2147483647) / 2147483647;
  const size = 40;
  let [worst, several] = [0, 0];
  for (let round = 0; round < 20; round++) {
    // A closed line through random places, coming by the same pixels again and again; partly outside.
    const polygon = Array.from({ length: 2 * (5 + (round % 9)) }, () => next() * (size + 10) - 5);
    const out = new Uint8Array(size * size);
    coverage(polygon, size, size, out, scratch);
    for (let y = 0; y < size; y++) {
      for (let x = 0; x < size; x++) {
        const share = sampled(polygon, x, y, 16);
        // 16 × 16 samples miss a pixel's area by up to 8/255 themselves: where they say otherwise, 128 × 128 decide.
        let off = Math.abs(out[y * size + x] - share * 255);
        if (off > 3) off = Math.abs(out[y * size + x] - sampled(polygon, x, y, 128) * 255);
        worst = Math.max(worst, off);
        if (share > 0 && share < 1) several++;
      }
    }
  }
  expect(several).toBeGreaterThan(3000);
  expect(worst).toBeLessThanOrEqual(3);
});

test('coverage agrees with Skia, which is itself some sixteenths off at single pixels', () => {
  const canvas = createCanvas(width, height);
  const context = canvas.getContext('2d');
  for (let i = 0; i < loop.length; i += 2) context.lineTo(loop[i], loop[i + 1]);
  context.fill();
  const skia = context.getImageData(0, 0, width, height).data;
  const out = matteOf(region);
  const errors = [...out].map((alpha, i) => Math.abs(alpha - skia[4 * i + 3])).sort((a, b) => a - b);
  expect(errors.reduce((sum, error) => sum + error) / errors.length).toBeLessThan(0.1);
  expect(errors[Math.floor(errors.length * 0.999)]).toBeLessThanOrEqual(16);
});

test('feather follows the true distance, on each side, with spread', () => {
  const step = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t));
  for (const outside of [0, 10, 6, 20]) {
    const start = -outside;
    const out = matteOf(region, { featherInside: 20 - outside, featherOutside: outside, spread: 3 });
    let worst = 0;
    for (let y = 25; y < height; y += 11) {
      for (let x = 25; x < width; x += 7) {
        let d = Infinity;
        // Brute force over the segments.
        for (let i = 0; i < loop.length; i += 2) {
          const j = (i + 2) % loop.length;
          const [bx, by] = [loop[j] - loop[i], loop[j + 1] - loop[i + 1]];
          const [px, py] = [x + 0.5 - loop[i], y + 0.5 - loop[i + 1]];
          const t = Math.min(1, Math.max(0, (px * bx + py * by) / (bx * bx + by * by || 1)));
          d = Math.min(d, Math.hypot(px - t * bx, py - t * by));
        }
        // Near the border the line is taken to go on straight outside; that is its own test.
        if (x < 24 || y < 24 || x > width - 24 || y > height - 24) continue;
        const signed = inside(loop, x + 0.5, y + 0.5) ? d : -d;
        worst = Math.max(worst, Math.abs(out[y * width + x] - 255 * step((signed + 3 - start) / 20)));
      }
    }
    expect(worst).toBeLessThanOrEqual(1.01);
  }
});

test.each([2.5, 9, 40, 71.3, 400])('about a circle of %d px feather follows the distance to it', (radius) => {
  const [cx, cy] = [radius > 100 ? 160.2 - radius : 160.2, 98.9];
  // As many points as keep the polygon within 0.02 px.
  const points = Math.ceil(Math.PI / Math.acos(1 - 0.02 / radius));
  const polygon = Array.from({ length: 2 * points }, (_, i) => {
    const angle = (Math.PI * (i >> 1)) / (points / 2);
    return i % 2 === 0 ? cx + radius * Math.cos(angle) : cy + radius * Math.sin(angle);
  });
  const out = matteOf(regionOf(polygon, 'loop', 'left', width, height), {
    ...{ featherInside: 8, featherOutside: 14, spread: 2 },
  });
  const step = (t: number) => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t));
  let worst = 0;
  for (let y = 20; y < height - 20; y++) {
    for (let x = 20; x < width - 20; x++) {
      const signed = radius - Math.hypot(x + 0.5 - cx, y + 0.5 - cy);
      worst = Math.max(worst, Math.abs(out[y * width + x] - 255 * step((signed + 2 + 14) / 22)));
    }
  }
  expect(worst).toBeLessThan(1.1);
});

test('feather never opens the border: a loop just past the frame is full inside it', () => {
  const around = regionOf(
    [-4, -4, width + 4, -4, width + 4, height + 4, -4, height + 4],
    'loop',
    'left',
    width,
    height,
  );
  expect(meanAlpha(matteOf(around, { featherInside: 30, featherOutside: 30, spread: 0 }))).toBe(1);
  // A seam that crosses the frame: along the border the softness is what it is further in.
  const seam = regionOf([150, -10, 150, height + 10], 'seam', 'right', width, height);
  const out = matteOf(seam, { featherInside: 20, featherOutside: 20, spread: 0 });
  for (const y of [0, 1, height - 1]) {
    expect([...out.subarray(y * width, (y + 1) * width)]).toEqual([
      ...out.subarray(100 * width, 101 * width),
    ]);
  }
});

test('nothing is left behind: the same matte comes out after any other', () => {
  const soft = { featherInside: 33, featherOutside: 0, spread: -2 };
  const first = matteOf(region, soft);
  matteOf(regionOf([10, 10, 300, 190], 'seam', 'left', width, height), { ...soft, featherInside: 90 });
  matteOf(region);
  expect(matteOf(region, soft)).toEqual(first);
});

test('softness follows the factors along the line, and without any is the same as before', () => {
  const line = [20, 100, 300, 100];
  const straight = regionOf(line, 'seam', 'right', width, height, [0, 2]);
  const soft = { featherInside: 15, featherOutside: 15, spread: 0 };
  const out = matteOf(straight, soft);
  const rise = (x: number) => {
    let [low, high] = [0, 0];
    for (let y = 0; y < height; y++) {
      if (out[y * width + x] <= 26) low = y;
      if (out[y * width + x] < 229) high = y;
    }
    return high - low;
  };
  // Half-way the factor is 1: 10 to 90 % of 3t² − 2t³ take 0.608 of its width.
  expect(Math.abs(rise(160) - 0.608 * 30)).toBeLessThan(1.5);
  expect(Math.abs(rise(280) - 0.608 * 30 * (260 / 140))).toBeLessThan(2);
  expect(rise(22)).toBeLessThan(2);
  const even = { ...region, factors: region.line.filter((_, i) => i % 2 === 0).map(() => 1) };
  const [plain, factored] = [matteOf(region, soft), matteOf(even, soft)];
  expect(factored.every((alpha, i) => Math.abs(alpha - plain[i]) <= 1)).toBe(true);
});
