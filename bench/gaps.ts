import path from 'node:path';
import { firstGap } from '../src/core/begin/first-gap';
import { numbersPerPoint as N } from '../src/core/model/choices';
import { identity } from '../src/core/geometry/affine';
import { MotionMeasure } from '../src/core/motion/measure';
import { flattenOutline } from '../src/core/outline';
import { quantile } from '../src/core/numbers/quantile';
import { carrySubject } from '../src/core/subject/carry-subject';
import { contoursOf } from '../src/core/subject/contours';
import { filledBy } from '../src/core/subject/prior';
import { shareOfBoth } from '../src/core/subject/share-of-both';
import { toPolyline } from './carry';
import { readClip } from './clip-frames';
import { gaps } from './passes/gaps';
import { drawnGaps } from './passes/make';
import { height, width } from './passes/scene';
import { maskOf } from './passes/subjects';
import type { Figure } from './figure';

/** px of the 95th percentile within which a first outline is right. */
const near = 3;
/** Share of the picture from which on something counts as open. */
const leastOpen = 0.01;

/** `npm run bench -- gaps`: on each drawn gap the loop that is offered without a point placed. */
export async function benchGaps(): Promise<Figure[]> {
  const place = await drawnGaps();
  let right = 0;
  for (const { name, draw } of gaps) {
    const clip = readClip(path.join(place, name), { width, height });
    const measure = new MotionMeasure(width, height);
    for (const { planes } of clip.pictures) measure.add(planes.y, planes.width, planes.height);
    const shot = { width, height, motion: measure.result() };
    const start = performance.now();
    const beginning = { within: [0, clip.count - 1], toPicture: identity } as const;
    const found = await firstGap(clip, shot, beginning);
    const ms = performance.now() - start;
    if (found === null || typeof found === 'string') {
      console.log(`${name}: none offered: ${String(found)}`);
      continue;
    }
    const { frame, coordinates, clear } = found;
    const { inside } = await draw();
    const first = against(coordinates, maskOf(inside, frame));
    if (first.error <= near) right++;
    console.log(
      `${name}: frame ${frame}, ${coordinates.length / N} points, J ${first.j.toFixed(3)}, half within ${first.half.toFixed(2)} px, p95 ${first.error.toFixed(2)} px, clear ${clear.toFixed(2)}, ${ms.toFixed(0)} ms`,
    );
    const js: number[] = [];
    let [held, unsure, needless, missed] = [0, 0, 0, 0];
    let [spent, carried] = [0, 0];
    for (const direction of [1, -1] as const) {
      const job = {
        from: { frame, coordinates, parts: [] },
        to: null,
        direction,
        most: direction > 0 ? clip.count - 1 - frame : frame,
        stops: false,
        kind: 'loop' as const,
        origin: -1,
        strokesOn: () => [],
      };
      const began = performance.now();
      const { poses } = await carrySubject(clip, shot, job, identity, () => true);
      spent += performance.now() - began;
      carried += poses.length;
      for (const pose of poses) {
        const truth = maskOf(inside, pose.frame);
        // What is hardly open is not yet there.
        if (truth.reduce((sum, each) => sum + each, 0) < leastOpen * truth.length) continue;
        const { j, error } = against(pose.coordinates, truth);
        js.push(j);
        if (error <= near) held++;
        if (pose.unsure) unsure++;
        if (pose.unsure && error <= near) needless++;
        if (!pose.unsure && error > near) missed++;
      }
    }
    console.log(
      `  carried both ways, nothing put right: ${held} of ${js.length} frames within ${near} px, J half above ${quantile(js, 0.5).toFixed(3)}, least ${Math.min(...js).toFixed(3)}, ${unsure} unsure (${needless} of them within ${near} px, ${missed} others beyond), ${(spent / carried).toFixed(0)} ms a frame`,
    );
  }
  console.log(`begin, gaps: ${gaps.length}, within ${near} px ${right}`);
  return [
    {
      name: 'gaps: not begun right',
      value: (100 * (gaps.length - right)) / gaps.length,
      unit: '%',
      atMost: 20,
    },
  ];
}

/** How a loop lies against what is truly open. */
function against(coordinates: readonly number[], truth: Uint8Array) {
  const line = flattenOutline(coordinates, true, 1, 0.2);
  const own = filledBy([{ line, hole: false }], width, height);
  const distances = borderDistances(line, truth);
  return {
    j: shareOfBoth(truth, own),
    half: quantile(distances, 0.5),
    error: quantile(distances, 0.95),
  };
}

/** px from each place of the true border, in the picture, to a closed line, sorted. */
function borderDistances(line: readonly number[], truth: Uint8Array): number[] {
  const polygon = Array.from({ length: line.length / 2 }, (_, k): [number, number] => [
    line[2 * k],
    line[2 * k + 1],
  ]);
  const [largest] = contoursOf({ inside: truth, width, height }, 0).sort((a, b) => b.area - a.area);
  const distances: number[] = [];
  for (let i = 0; i < largest.line.length; i += 8) {
    const [x, y] = largest.line.slice(i, i + 2);
    if (x > 2 && y > 2 && x < width - 2 && y < height - 2) distances.push(toPolyline(x, y, polygon, true));
  }
  return distances.sort((a, b) => a - b);
}
