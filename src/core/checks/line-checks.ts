import { type OutlineRow, type PoseRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { pointAt } from '../geometry/bezier';
import { flattenOutline, segmentCount, segmentCubic, signedArea } from '../outline';
import { parabolaWeights } from '../outline/poses';
import type { Hit } from './findings';

/** Checks that need only the poses of an outline; frames are source frames, measures px of the shot. */

interface Frame {
  width: number;
  height: number;
}

/** Least jitter that is spoken of, px; and how many times the usual of its surroundings it has to be. */
const leastJitter = 0.45;
const aboveUsual = 2.2;
/** Poses farther apart than this are not placed frame by frame, and do not jitter. */
const longestStep = 2;
const samplesPerSegment = 6;

/**
 * Poses at which the line leaves the way of its neighbours: how far, along its normals, it lies off the parabolas
 * through two poses to either side (Savitzky and Golay 1964), root mean square over what of it is in the frame; found
 * where that is large against what is usual around it. In steady motion and in even acceleration it is nothing.
 */
export function jitterOf(outline: OutlineRow, poses: readonly PoseRow[], frame: Frame): Hit[] {
  const closed = outline.kind === 'loop';
  const rough = poses.map((_pose, k) => {
    const near = poses.slice(Math.max(0, k - 2), k + 3);
    if (near.length < 5 || near.some(({ frame: at }, j) => j > 0 && at - near[j - 1].frame > longestStep))
      return null;
    return roughness(near, closed, frame);
  });
  const hits: Hit[] = [];
  rough.forEach((own, k) => {
    if (!own || own.measure < leastJitter) return;
    const [before, after] = [rough[k - 1]?.measure ?? 0, rough[k + 1]?.measure ?? 0];
    // The neighbours of a pose that is off are dragged along: the largest one is meant.
    if (before > own.measure || after > own.measure) return;
    const around = rough
      .slice(Math.max(0, k - 8), k + 9)
      .filter((each, j, all) => each && Math.abs(j - all.indexOf(own)) > 2)
      .map((each) => each!.measure)
      .sort((a, b) => a - b);
    // Other errors near by do not make it usual: the third that lies lower speaks for the rest.
    const usual = around[Math.floor(around.length / 3)] ?? 0;
    if (own.measure > Math.max(leastJitter, aboveUsual * usual))
      // A pose that is off alone lies 1 − 17/35 of its error off the parabola.
      hits.push({ frame: poses[k].frame, measure: own.measure / (18 / 35), place: own.place });
  });
  return hits;
}

function roughness(near: readonly PoseRow[], closed: boolean, { width, height }: Frame) {
  const weights = parabolaWeights(near.map(({ frame }) => frame - near[2].frame));
  let [sum, count, worst] = [0, 0, 0];
  let place: [number, number] = [0, 0];
  for (let s = 0; s < segmentCount(near[2].coordinates, closed); s++) {
    const cubics = near.map(({ coordinates }) => segmentCubic(coordinates, s));
    for (let i = 0; i < samplesPerSegment; i++) {
      const t = (i + 0.5) / samplesPerSegment;
      const [x, y] = pointAt(cubics[2], t);
      if (x < 0 || y < 0 || x > width || y > height) continue;
      const [ax, ay] = pointAt(cubics[2], Math.max(0, t - 0.05));
      const [bx, by] = pointAt(cubics[2], Math.min(1, t + 0.05));
      const length = Math.hypot(bx - ax, by - ay) || 1;
      let [offX, offY] = [x, y];
      cubics.forEach((cubic, j) => {
        const [px, py] = pointAt(cubic, t);
        offX -= weights[j] * px;
        offY -= weights[j] * py;
      });
      const along = (-(by - ay) * offX + (bx - ax) * offY) / length;
      sum += along * along;
      count++;
      if (Math.abs(along) > worst) [worst, place] = [Math.abs(along), [x, y]];
    }
  }
  return count < 4 ? null : { measure: Math.sqrt(sum / count), place };
}

/** Poses that are the same as the one before, though the line moves before and after: a frame that was missed. */
export function standstillsOf(poses: readonly PoseRow[]): Hit[] {
  const moved = (k: number) => {
    if (k < 1 || k >= poses.length) return null;
    let far = 0;
    for (let i = 0; i < poses[k].coordinates.length; i += N)
      far = Math.max(
        far,
        Math.hypot(
          poses[k].coordinates[i] - poses[k - 1].coordinates[i],
          poses[k].coordinates[i + 1] - poses[k - 1].coordinates[i + 1],
        ),
      );
    return far / (poses[k].frame - poses[k - 1].frame);
  };
  const hits: Hit[] = [];
  for (let k = 1; k < poses.length; k++) {
    const [before, own, after] = [moved(k - 1), moved(k)!, moved(k + 1)];
    const near = poses[k].frame - poses[k - 1].frame <= longestStep;
    // What comes to rest, or has not begun to move, stands still for good reason.
    const usual = Math.min(before ?? 0, after ?? 0);
    if (near && own < 0.05 && usual > 1) hits.push({ frame: poses[k].frame, measure: usual });
  }
  return hits;
}

/** How far an end may lie in the frame, as a share of its smaller side: from there a seam runs on by itself unseen. */
const innermostEnd = 0.02;

/** Poses at which an end of a seam lies in the frame, not at its border or beyond; the measure is how far inside. */
export function endsInFrame(outline: OutlineRow, poses: readonly PoseRow[], { width, height }: Frame): Hit[] {
  if (outline.kind !== 'seam') return [];
  return poses.flatMap(({ frame, coordinates }): Hit[] => {
    let hit: Hit | null = null;
    for (const i of [0, coordinates.length - N]) {
      const [x, y] = [coordinates[i], coordinates[i + 1]];
      const inside = Math.min(x, y, width - x, height - y);
      if (inside > innermostEnd * Math.min(width, height) && inside > (hit?.measure ?? 0))
        hit = { frame, measure: inside, place: [x, y] };
    }
    return hit ? [hit] : [];
  });
}

/** Poses at which the line crosses itself, or a point lies on its neighbour. */
export function foldsOf(outline: OutlineRow, poses: readonly PoseRow[], { width, height }: Frame): Hit[] {
  const closed = outline.kind === 'loop';
  return poses.flatMap(({ frame, coordinates }): Hit[] => {
    const line = flattenOutline(coordinates, closed, 1, 0.5);
    // A gap that is still shut is no fold.
    if (closed && isShut(line)) return [];
    const place = selfCrossing(line, closed) ?? pointOnNeighbour(coordinates, closed);
    if (!place || place[0] < -2 || place[1] < -2 || place[0] > width + 2 || place[1] > height + 2) return [];
    return [{ frame, measure: 1, place }];
  });
}

/** Whether a loop encloses next to nothing: less than a strip of four px along it. */
function isShut(line: readonly number[]): boolean {
  let length = 0;
  for (let i = 0; i < line.length; i += 2) {
    const j = (i + 2) % line.length;
    length += Math.hypot(line[j] - line[i], line[j + 1] - line[i + 1]);
  }
  return Math.abs(signedArea(line)) < 2 * length;
}

/** Where a polyline crosses itself first, or null. */
export function selfCrossing(line: readonly number[], closed: boolean): [number, number] | null {
  const count = line.length / 2;
  const segments = closed ? count : count - 1;
  const at = (k: number) => [line[2 * (k % count)], line[2 * (k % count) + 1]] as const;
  for (let a = 0; a < segments; a++) {
    const [[ax, ay], [bx, by]] = [at(a), at(a + 1)];
    for (let b = a + 2; b < segments; b++) {
      if (closed && a === 0 && b === segments - 1) continue;
      const [[cx, cy], [dx, dy]] = [at(b), at(b + 1)];
      if (Math.max(cx, dx) < Math.min(ax, bx) || Math.min(cx, dx) > Math.max(ax, bx)) continue;
      if (Math.max(cy, dy) < Math.min(ay, by) || Math.min(cy, dy) > Math.max(ay, by)) continue;
      const across = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx);
      if (Math.abs(across) < 1e-12) continue;
      const t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / across;
      const u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / across;
      if (t >= 0 && t < 1 && u >= 0 && u < 1) return [ax + t * (bx - ax), ay + t * (by - ay)];
    }
  }
  return null;
}

function pointOnNeighbour(coordinates: readonly number[], closed: boolean): [number, number] | null {
  const count = coordinates.length / N;
  for (let p = closed ? 0 : 1; p < count; p++) {
    const [i, j] = [p * N, ((p + count - 1) % count) * N];
    if (Math.hypot(coordinates[i] - coordinates[j], coordinates[i + 1] - coordinates[j + 1]) < 0.5)
      return [coordinates[i], coordinates[i + 1]];
  }
  return null;
}
