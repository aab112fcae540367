import path from 'node:path';
import { firstSeam } from '../src/core/begin/first-seam';
import { SeamModel } from '../src/core/carry/line-model';
import { numbersPerPoint as N } from '../src/core/model/choices';
import { identity } from '../src/core/geometry/affine';
import { MotionMeasure } from '../src/core/motion/measure';
import { distancesTo } from './carry';
import { passesIn, readClip, readTruth } from './clip-frames';
import { drawnPasses } from './passes/make';
import type { Figure } from './figure';

/** px of the 95th percentile within which a first outline is right. */
const near = 3;

/** `npm run bench -- begin [FOLDER]`: on each pass with a seam, the outline that is offered without a point placed. */
export async function benchBegin(folder: string | null): Promise<Figure[]> {
  const place = folder ?? (await drawnPasses());
  let [offered, right, all] = [0, 0, 0];
  for (const name of passesIn(place)) {
    const pass = readTruth(path.join(place, name));
    if (pass.kind !== 'seam') continue;
    all++;
    const clip = readClip(path.join(place, name), pass);
    const measure = new MotionMeasure(pass.width, pass.height);
    for (const { planes } of clip.pictures) measure.add(planes.y, planes.width, planes.height);
    const motion = measure.result();
    const start = performance.now();
    const beginning = { within: [0, clip.count - 1], toPicture: identity, edge: 'trailing' } as const;
    const found = await firstSeam(clip, { ...pass, motion }, beginning);
    const ms = performance.now() - start;
    if (found === null || typeof found === 'string') {
      console.log(`${name}: none offered: ${String(found)}`);
      continue;
    }
    offered++;
    const truth = pass.truth[found.frame] ?? [];
    const error = truth.length > 0 ? distancesTo(pass, found.frame, modelOf(found.coordinates)).error : NaN;
    if (error <= near) right++;
    console.log(
      `${name}: frame ${found.frame}, ${found.coordinates.length / N} points, p95 ${error.toFixed(2)} px, clear ${found.clear.toFixed(2)}, ${ms.toFixed(0)} ms`,
    );
  }
  console.log(`begin, all: ${all} passes, offered ${offered}, within ${near} px ${right}`);
  // Of the bench's own passes; others have no bound.
  if (folder) return [];
  return [{ name: 'begin: passes not begun right', value: (100 * (all - right)) / all, unit: '%' }];
}

/** The outline's curve as places. */
export function modelOf(coordinates: readonly number[]): SeamModel {
  const points: [number, number][] = [];
  for (let i = 0; i + N < coordinates.length; i += N) {
    const [x0, y0, , , ox, oy] = coordinates.slice(i, i + N);
    const [x1, y1, ix, iy] = coordinates.slice(i + N, i + 2 * N);
    for (let s = 0; s < 24; s++) {
      const t = s / 24;
      const b = [(1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t ** 3];
      points.push([
        b[0] * x0 + b[1] * (x0 + ox) + b[2] * (x1 + ix) + b[3] * x1,
        b[0] * y0 + b[1] * (y0 + oy) + b[2] * (y1 + iy) + b[3] * y1,
      ]);
    }
  }
  const last = coordinates.slice(-N);
  points.push([last[0], last[1]]);
  return SeamModel.along(points, 4);
}
