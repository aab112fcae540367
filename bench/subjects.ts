import path from 'node:path';
import { MotionMeasure } from '../src/core/motion/measure';
import { identity } from '../src/core/geometry/affine';
import { filledBy } from '../src/core/subject/prior';
import { shareOfBoth } from '../src/core/subject/share-of-both';
import { flattenOutline } from '../src/core/outline';
import { subjectFrameOn } from '../src/core/subject/subject-frame';
import { poseAlong } from '../src/core/outline/pose-along';
import { carrySubject } from '../src/core/subject/carry-subject';
import { contoursIn, subjectLoops, type SubjectLoop } from '../src/core/subject/subject-outline';
import { isNot, isThis, seedsOf, type Stroke } from '../src/core/subject/strokes';
import cv, { opencvReady } from '../fixtures/opencv';
import type { FramePicture } from '../src/core/picture/frame-picture';
import { readClip } from './clip-frames';
import { drawnSubjects } from './passes/make';
import { height, width } from './passes/scene';
import { maskOf, subjects } from './passes/subjects';
import { boundaryF, nextStroke } from './strokes-by-rule';
import type { Figure } from './figure';

/** Strokes that a first frame is given, and the frame that it is. */
const strokesGiven = 3;
const firstFrame = 12;

/**
 * `npm run bench -- subjects`: on a frame of each drawn subject three strokes by rule, the first down its middle, each next over
 * the largest part that is wrong, and the same by OpenCV's grabCut; J and F (Perazzi et al., CVPR 2016) of the region and of the outlines made of it.
 * Then the outlines carried over 40 frames, with a stroke on every tenth where J is below 0.93.
 */
export async function benchSubjects(): Promise<Figure[]> {
  await opencvReady();
  const folder = await drawnSubjects();
  for (const { name, draw } of subjects) {
    const clip = readClip(path.join(folder, name), { width, height });
    const { inside } = await draw();
    const measure = new MotionMeasure(width, height);
    for (const { planes } of clip.pictures) measure.add(planes.y, planes.width, planes.height);
    const shot = { width, height, motion: measure.result() };
    const truth = maskOf(inside, firstFrame);
    const began = performance.now();
    const frame = await subjectFrameOn(clip, shot, firstFrame, identity);
    const ready = performance.now() - began;
    const strokes: Stroke[] = [];
    let region: Uint8Array = new Uint8Array(width * height);
    const says: string[] = [];
    let loops: SubjectLoop[] = [];
    while (strokes.length < strokesGiven) {
      strokes.push(nextStroke(truth, region, strokes.length === 0));
      const from = performance.now();
      const found = frame.cut({ strokes, prior: null, toPicture: identity });
      const cut = performance.now() - from;
      if (found) {
        region = found.inside;
        loops = subjectLoops(found, identity, width);
      }
      const fitted = performance.now() - from - cut;
      says.push(
        `J ${shareOfBoth(truth, region).toFixed(3)} F ${boundaryF(truth, region).toFixed(3)} (${cut.toFixed(0)} + ${fitted.toFixed(0)} ms)`,
      );
    }
    const outlined = filled(loops);
    console.log(
      `${name}: ${says.join(', ')}; outlines J ${shareOfBoth(truth, outlined).toFixed(3)} F ${boundaryF(truth, outlined).toFixed(3)}, ${loops.map(({ coordinates }) => coordinates.length / 6).join(' + ')} points; ready in ${ready.toFixed(0)} ms`,
    );
    console.log(`  ${byGrabCut(clip.pictures[firstFrame], strokes, truth)}`);
    const course = await carried(clip, shot, inside, loops, strokes);
    const mean = course.js.reduce((sum, j) => sum + j, 0) / course.js.length;
    console.log(
      `  carried over ${course.js.length} frames: mean J ${mean.toFixed(3)}, least ${Math.min(...course.js).toFixed(3)}, strokes on ${course.corrected} frames, ${course.milliseconds.toFixed(0)} ms a frame`,
    );
    console.log(`  ${course.js.map((j) => j.toFixed(2).slice(1)).join(' ')}`);
  }
  // Printed beside a reference; nothing is bounded.
  return [];
}

/** The same strokes cut by OpenCV's grabCut, five rounds as its documentation has it, without movement. */
function byGrabCut(picture: FramePicture, strokes: readonly Stroke[], truth: Uint8Array): string {
  const seeds = seedsOf(strokes, width, height, identity);
  const { y, u, v, chromaWidth } = picture.planes;
  const mat = new cv.Mat(height, width, cv.CV_8UC3);
  for (let i = 0; i < width * height; i++) {
    const c = (Math.floor(i / width) >> 1) * chromaWidth + ((i % width) >> 1);
    mat.data.set([y[i], u[c], v[c]], 3 * i);
  }
  const mask = new cv.Mat(height, width, cv.CV_8UC1);
  for (let i = 0; i < seeds.length; i++)
    mask.data[i] = seeds[i] === isThis ? cv.GC_FGD : seeds[i] === isNot ? cv.GC_BGD : cv.GC_PR_BGD;
  const models = [new cv.Mat(), new cv.Mat()] as const;
  const began = performance.now();
  cv.grabCut(mat, mask, new cv.Rect(), ...models, 5, cv.GC_INIT_WITH_MASK);
  const taken = performance.now() - began;
  const found = Uint8Array.from(mask.data, (value: number) => value & 1);
  for (const held of [mat, mask, ...models]) held.delete();
  return `OpenCV's grabCut: J ${shareOfBoth(truth, found).toFixed(3)} F ${boundaryF(truth, found).toFixed(3)} (${taken.toFixed(0)} ms)`;
}

/** Frames over which it is carried, how often a frame may be corrected, and the J below which it is. */
const [over, every, correctedBelow] = [40, 10, 0.93];

/** Carries the outlines from the first frame; on every tenth a stroke over the largest part that is wrong, where there is need. */
async function carried(
  clip: ReturnType<typeof readClip>,
  shot: { width: number; height: number; motion: ReturnType<MotionMeasure['result']> },
  inside: (x: number, y: number, t: number) => boolean,
  first: readonly SubjectLoop[],
  strokes: readonly Stroke[],
) {
  const painted = new Map<number, readonly Stroke[]>([[firstFrame, strokes]]);
  const js: number[] = [];
  let loops = first.slice();
  let [corrected, milliseconds] = [0, 0];
  for (let frame = firstFrame; frame < firstFrame + over; frame += every) {
    const began = performance.now();
    const [main, ...rest] = loops;
    const job = {
      from: {
        frame,
        coordinates: main.coordinates,
        parts: rest.map(({ coordinates, hole }, k) => ({ id: String(k), coordinates, hole })),
      },
      to: null,
      direction: 1 as const,
      most: every,
      stops: false,
      kind: 'loop' as const,
      origin: firstFrame,
      strokesOn: (at: number) => painted.get(at) ?? [],
    };
    const { poses } = await carrySubject(clip, shot, job, identity, () => true);
    milliseconds += (performance.now() - began) / over;
    for (let k = 0; k < every; k++) {
      const truth = maskOf(inside, frame + k + 1);
      const pose = poses[k];
      if (pose)
        loops = [
          { coordinates: pose.coordinates, hole: false },
          ...pose.parts.map(({ coordinates, hole }) => ({ coordinates: [...coordinates], hole })),
        ];
      js.push(shareOfBoth(truth, filled(loops)));
      if (k + 1 < every || js[js.length - 1] >= correctedBelow) continue;
      corrected++;
      painted.set(frame + every, [nextStroke(truth, filled(loops), false)]);
      const subject = await subjectFrameOn(clip, shot, frame + every, identity);
      const prior = subject.priorOf(linesOf(loops), identity);
      const region = subject.cut({ strokes: painted.get(frame + every)!, prior, toPicture: identity });
      const [largest] = region ? contoursIn(region, identity) : [];
      if (largest) loops[0] = { coordinates: poseAlong(loops[0].coordinates, largest.line), hole: false };
    }
  }
  return { js, corrected, milliseconds };
}

const linesOf = (loops: readonly SubjectLoop[]) =>
  loops.map(({ coordinates, hole }) => ({
    line: Array.from(flattenOutline(coordinates, true, 1, 0.05)),
    hole,
  }));

/** What the outlines enclose, holes taken away. */
const filled = (loops: readonly SubjectLoop[]) => filledBy(linesOf(loops), width, height);
