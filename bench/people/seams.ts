import path from 'node:path';
import { identity } from '../../src/core/geometry/affine';
import { MotionMeasure } from '../../src/core/motion/measure';
import { distanceToLine } from '../../src/core/geometry/polyline';
import { flattenOutline } from '../../src/core/outline';
import { quantile } from '../../src/core/numbers/quantile';
import { carrySubject } from '../../src/core/subject/carry-subject';
import type { PeopleNetwork } from '../../src/core/subject/people';
import { fewestPoints } from '../../src/core/subject/subject-outline';
import { type PassTruth, readClip, readTruth } from '../clip-frames';
import { demoPasses } from '../demo-passes';
import type { Figure } from '../figure';
import { drawnPasses } from '../passes/make';
import { height, width } from '../passes/scene';

/** px of the 95th percentile of distances from which a frame is off. */
const tooFar = 3;

/**
 * Seams carried by cutting over all frames on which their whole edge is in the picture, from a first pose on the truth, nothing put
 * right: the bench's walker and porter, and the demo's gardener.
 */
export async function benchSeams(network: PeopleNetwork): Promise<Figure[]> {
  const figures: Figure[] = [];
  for (const name of ['gardener', 'walker', 'porter']) {
    const folder = path.join(name === 'gardener' ? demoPasses() : await drawnPasses([name]), name);
    const pass = readTruth(folder);
    const clip = readClip(folder, pass);
    const measure = new MotionMeasure(width, height);
    for (const { planes } of clip.pictures) measure.add(planes.y, planes.width, planes.height);
    const shot = { width, height, motion: measure.result() };
    const frames = clip.pictures.flatMap((_, t) => (isWhole(pass, t) ? [t] : []));
    const [start] = frames;
    const line = pass.truth[start];
    // As Find people draws it: from above the frame to below it.
    const whole = [[line[0][0], -20], ...line, [line[line.length - 1][0], height + 20]];
    const coordinates = fewestPoints(whole.flat(), false, width);
    const began = performance.now();
    const { poses } = await carrySubject(
      clip,
      shot,
      {
        kind: 'seam',
        from: { frame: start, coordinates, parts: [] },
        to: null,
        direction: 1,
        most: frames[frames.length - 1] - start,
        stops: false,
        origin: -1,
        strokesOn: () => [],
        people: network,
      },
      identity,
      () => true,
    );
    const ms = (performance.now() - began) / (poses.length || 1);
    const held = frames.slice(1).map((frame) => {
      const pose = poses.find((each) => each.frame === frame);
      return {
        off: pose ? offOf(pass.truth[frame], pose.coordinates) : Infinity,
        flagged: pose?.unsure != null,
      };
    });
    const far = held.filter(({ off }) => off > tooFar);
    const share = (100 * far.length) / held.length;
    const offs = held.map(({ off }) => off);
    console.log(
      `${name}: ${held.length} frames from ${start}, ${coordinates.length / 6} points; off median ${quantile(offs, 0.5).toFixed(1)} px, p85 ${quantile(offs, 0.85).toFixed(1)}; ${share.toFixed(0)} % over ${tooFar} px, of which ${far.filter(({ flagged }) => flagged).length} flagged; ${ms.toFixed(0)} ms a frame`,
    );
    console.log(`  ${offs.map((off) => (off === Infinity ? '-' : off.toFixed(1))).join(' ')}`);
    figures.push({ name: `people: seam of the ${name}, frames off`, value: share, unit: '%', atMost: 15 });
  }
  return figures;
}

function isWhole(pass: PassTruth, t: number): boolean {
  return pass.truth[t]?.length > 0 && pass.truth[t].every(([x]) => x >= 50 && x <= pass.width - 50);
}

/** The 95th percentile of distances from the truth to a pose, px. */
function offOf(truth: readonly (readonly [number, number])[], coordinates: readonly number[]): number {
  const own = flattenOutline(coordinates, false, 1, 0.2);
  const distances = truth.map(([x, y]) => distanceToLine(x, y, own, false));
  return quantile(distances, 0.95);
}
