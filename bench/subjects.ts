import { existsSync } from 'node:fs';
import path from 'node:path';
import { MotionMeasure } from '../src/core/motion/measure';
import { identity } from '../src/core/geometry/affine';
import { coverage } from '../src/core/matte/coverage';
import { MatteScratch } from '../src/core/matte/scratch';
import { flattenOutline } from '../src/core/outline';
import { subjectFrameOn } from '../src/core/subject/subject-frame';
import { subjectLoops, type SubjectLoop } from '../src/core/subject/subject-outline';
import type { Stroke } from '../src/core/subject/strokes';
import { readClip } from './clip-frames';
import { drawnSubjects } from './passes/make';
import { height, width } from './passes/scene';
import { subjects } from './passes/subjects';
import { boundaryF, nextStroke, regionJ } from './strokes-by-rule';

/** Strokes that a first frame is given, and the frame that it is. */
const strokesGiven = 3;
const firstFrame = 12;

/**
 * `npm run bench -- subjects`: on a frame of each drawn subject three strokes by rule, the first down its middle, each next over
 * the largest part that is wrong; J and F (Perazzi et al., CVPR 2016) of the region and of the outlines made of it.
 */
export async function benchSubjects(): Promise<void> {
  const folder = process.env.QUICK ?? (await drawnSubjects());
  for (const { name, draw } of subjects) {
    if (process.env.QUICK && !existsSync(path.join(folder, name, 'size.json'))) continue;
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
        `J ${regionJ(truth, region).toFixed(3)} F ${boundaryF(truth, region).toFixed(3)} (${cut.toFixed(0)} + ${fitted.toFixed(0)} ms)`,
      );
    }
    const outlined = filled(loops);
    console.log(
      `${name}: ${says.join(', ')}; outlines J ${regionJ(truth, outlined).toFixed(3)} F ${boundaryF(truth, outlined).toFixed(3)}, ${loops.map(({ coordinates }) => coordinates.length / 6).join(' + ')} points; ready in ${ready.toFixed(0)} ms`,
    );
  }
}

function maskOf(inside: (x: number, y: number, t: number) => boolean, t: number): Uint8Array {
  return Uint8Array.from({ length: width * height }, (_, i) =>
    Number(inside((i % width) + 0.5, Math.floor(i / width) + 0.5, t)),
  );
}

/** What the outlines enclose, holes taken away. */
function filled(loops: readonly SubjectLoop[]): Uint8Array {
  const out = new Uint8Array(width * height);
  const alpha = new Uint8Array(width * height);
  for (const { coordinates, hole } of loops) {
    coverage(flattenOutline(coordinates, true, 1, 0.05), width, height, alpha, new MatteScratch());
    for (let i = 0; i < out.length; i++) if (alpha[i] >= 128) out[i] = hole ? 0 : 1;
  }
  return out;
}
