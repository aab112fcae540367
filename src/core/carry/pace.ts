import { colourDistance } from '../edge/layer-costs';
import { type EdgeLine, straightPicture } from '../edge/straight';
import { type Affine, identity, invert } from '../geometry/affine';
import type { FramePicture } from '../picture/frame-picture';
import { acrossOf } from './across';
import { bandBeside } from './band';
import { bandMotion } from './band-motion';
import { still } from './behind-way';
import type { FollowSettings } from './follow-settings';
import type { RunContext } from './run-state';
import type { CameFrom } from './run-work';

/**
 * How an edge goes on from a frame on which it is known, from both its neighbours: in the one it has covered more, in the other less, by
 * as much. Null where they do not agree, or do not show it clearly.
 */
export async function paceAt(
  { frames, direction, settings }: RunContext,
  frame: number,
  line: EdgeLine,
): Promise<CameFrom | null> {
  if (frame < 1 || frame + 1 >= frames.count) return null;
  const here = (await frames.picture(frame)).denoised;
  const steps: number[] = [];
  for (const other of [frame + direction, frame - direction]) {
    if (frames.breathe) await frames.breathe();
    const by = stepTo(here, (await frames.picture(other)).denoised, line, settings);
    if (by === null) return null;
    steps.push(by);
  }
  const [on, back] = steps;
  const { leastApart, apart } = settings.pace;
  const agree = Math.abs(on + back) <= Math.max(leastApart, apart * Math.abs(on));
  return agree ? { by: (on - back) / 2, frames: 1, known: true } : null;
}

/**
 * px across by which the edge has gone in another picture, away from the object; null where none fits clearly better. For each step
 * all samples outside it are held against what lay outside before, and those inside against what the object showed, each by a movement of its own:
 * too short a step leaves what has changed unexplained, too long a one says of what is known that it was not seen.
 */
export function stepTo(
  here: FramePicture,
  there: FramePicture,
  line: EdgeLine,
  { learning, pace }: FollowSettings,
): number | null {
  const reach = Math.round(learning.acrossShare * here.width);
  const search = { acrossPx: reach, downPx: learning.downShare * here.width, trust: learning.trust };
  const wayOf = (from: number, to: number) =>
    bandMotion(here, there, bandBeside(line, from, to), identity, search)?.map ?? identity;
  const { near, far, depth } = pace;
  const [close, wide] = [near, far * here.width];
  const strip = { from: -reach, step: 1, across: 2 * reach + 1 };
  const seen = straightPicture(there, line, { ...strip, passage: null });
  // Near the edge something else may be what moves; deep down there may be nothing of it.
  const outside = [wayOf(close, close + depth), wayOf(wide, wide + depth)].map((map) => costs(map, 1));
  const inside = [wayOf(-close - depth, -close), wayOf(-wide - depth, -wide)].map((map) => costs(map, -1));
  let best = { cost: Infinity, by: 0, clear: false };
  for (const out of outside)
    for (const within of inside) if (lowest(out, within).cost < best.cost) best = lowest(out, within);
  return best.clear ? best.by : null;

  /** Cost of the samples across, of all places together, as what lay on one side of the line and went by a map. */
  function costs(map: Affine, side: 1 | -1): Float64Array {
    const sums = new Float64Array(strip.across);
    const known = straightPicture(here, line, {
      ...strip,
      passage: { map: invert(map), ...still(line.count) },
    });
    const border = acrossOf(map, line);
    for (let i = 0, s = 0; i < line.count; i++)
      for (let m = 0; m < strip.across; m++, s++) {
        if (seen.y[s] !== seen.y[s]) continue;
        const was = side * (strip.from + m - border) > pace.margin && known.y[s] === known.y[s];
        const off = was
          ? colourDistance(seen.y[s] - known.y[s], seen.u[s] - known.u[s], seen.v[s] - known.v[s])
          : 0;
        sums[m] += was ? Math.min(1, off / pace.differs ** 2) : pace.unseen;
      }
    return sums;
  }

  /** The step that costs least. */
  function lowest(out: Float64Array, within: Float64Array): { cost: number; by: number; clear: boolean } {
    const cost = new Float64Array(strip.across);
    cost[0] = out.reduce((sum, each) => sum + each, 0);
    for (let m = 1; m < strip.across; m++) cost[m] = cost[m - 1] - out[m - 1] + within[m - 1];
    let least = 0;
    for (let m = 1; m < strip.across; m++) if (cost[m] < cost[least]) least = m;
    const by = strip.from + least;
    const apart = Math.max(pace.leastApart, Math.round(pace.apart * Math.abs(by)));
    const clear = [least - apart, least + apart].every(
      (m) => m >= 0 && m < strip.across && cost[m] - cost[least] > pace.clear * apart * line.count,
    );
    return { cost: cost[least], by, clear };
  }
}
