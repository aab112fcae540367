import type { ObjectMemory } from '../edge/layer-costs';
import { type SideColours, sideColours } from '../edge/side-colours';
import { type EdgeLine, straightPicture } from '../edge/straight';
import { median } from '../numbers/quantile';
import type { FramePicture } from '../picture/frame-picture';
import { torn } from './leaps';

/**
 * For each place the nearest one of the same piece of the line that went less far than `elsewhere` px: itself, or −1 where there is
 * none.
 */
export function nearestStaying(line: EdgeLine, went: Float64Array, elsewhere: number): Int32Array {
  // All of the line may have gone far.
  const common = median(went);
  const near = Int32Array.from(went, (by, i) =>
    Math.abs(by) < elsewhere || Math.abs(by - common) < elsewhere ? i : -1,
  );
  const far = near.map((at) => (at < 0 ? line.count : 0));
  const pass = (i: number, from: number) => {
    const apart = Math.hypot(line.x[i] - line.x[from], line.y[i] - line.y[from]);
    if (apart > torn || near[from] < 0 || far[from] + 1 >= far[i]) return;
    [near[i], far[i]] = [near[from], far[from] + 1];
  };
  for (let i = 1; i < line.count; i++) pass(i, i - 1);
  for (let i = line.count - 2; i >= 0; i--) pass(i, i + 1);
  return near;
}

/** Places to either side whose colours are averaged. */
const together = 2;

/** Colours to either side of a line as one frame shows them, `depth` px beyond what is soft. */
export function coloursBeside(here: FramePicture, line: EdgeLine, soft: number, depth: number) {
  const reach = Math.ceil(soft + depth) + 1;
  const strip = { from: -reach, step: 1, across: 2 * reach + 1, passage: null };
  const beside = straightPicture(here, line, strip);
  return {
    inner: sideColours(beside, -reach, -soft - 1, together),
    outer: sideColours(beside, soft + 1, reach, together),
  };
}

/** A side's colours: as before at places that stayed, as seen now where they leapt. @param near of `nearestStaying`. */
export function renewedWhereLeapt(
  before: SideColours | null,
  now: SideColours,
  near: Int32Array,
): SideColours {
  if (!before) return now;
  const pick = (old: Float32Array, seen: Float32Array) =>
    old.map((value, k) => (stays(near, Math.floor(k / 3)) ? value : seen[k]));
  return { mean: pick(before.mean, now.mean), variance: pick(before.variance, now.variance) };
}

/** What is remembered of the object, without that of places that leapt. @param near of `nearestStaying`. */
export function forgottenWhereLeapt(memory: ObjectMemory, near: Int32Array): ObjectMemory {
  const weight = memory.weight.map((value, k) => (stays(near, Math.floor(k / memory.depths)) ? value : 0));
  return { ...memory, weight };
}

/** The shadow beside a line, without that of places that leapt: theirs is not known. @param leaps px of each place. */
export function unshadedWhereLeapt(shade: Float32Array, leaps: Float64Array): Float32Array {
  const across = shade.length / leaps.length;
  return shade.map((factor, k) => (leaps[Math.floor(k / across)] === 0 ? factor : 1));
}

function stays(near: Int32Array, place: number): boolean {
  return near[place] === place;
}
