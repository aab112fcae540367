import { patchesOf } from '../src/core/subject/patches';
import { depthsOf } from '../src/core/subject/prior';
import type { Stroke } from '../src/core/subject/strokes';
import { height, width } from './passes/scene';

/** Share of the picture's diagonal within which two borders are the same, as the measure's authors have it. */
const sameWithin = 0.008;

/** How well the borders agree: F of Perazzi et al., CVPR 2016, from precision and recall within 0.8 % of the diagonal. */
export function boundaryF(truth: Uint8Array, found: Uint8Array): number {
  const [a, b] = [borderOf(truth), borderOf(found)];
  const reach = Math.ceil(sameWithin * Math.hypot(width, height));
  const share = (own: number[], others: number[]) => {
    const near = widened(others, reach);
    return own.length === 0 ? 0 : own.reduce((sum, i) => sum + near[i], 0) / own.length;
  };
  const [precision, recall] = [share(b, a), share(a, b)];
  return precision + recall === 0 ? 0 : (2 * precision * recall) / (precision + recall);
}

function borderOf(mask: Uint8Array): number[] {
  const border: number[] = [];
  for (let y = 0; y + 1 < height; y++)
    for (let x = 0; x + 1 < width; x++) {
      const i = y * width + x;
      if (mask[i] !== mask[i + 1] || mask[i] !== mask[i + width]) border.push(i);
    }
  return border;
}

/** Pixels within a disc about any of these. */
function widened(list: readonly number[], reach: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (const i of list) {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let dy = -reach; dy <= reach; dy++) {
      const row = y + dy;
      if (row < 0 || row >= height) continue;
      const far = Math.floor(Math.sqrt(reach * reach - dy * dy));
      out.fill(1, row * width + Math.max(0, x - far), row * width + Math.min(width - 1, x + far) + 1);
    }
  }
  return out;
}

/** Half the brush's width as a share of how deep the stroke's places lie at the least. */
const brushShare = 0.45;

/**
 * The stroke that a person would paint next: the first down the middle of the subject, then over the largest patch that is
 * wrong, through its deepest places (after Nickisch et al., ICVGIP 2010, whose robot paints the largest error).
 */
export function nextStroke(truth: Uint8Array, found: Uint8Array, first: boolean): Stroke {
  const wrong = first ? truth : truth.map((value, i) => (value === found[i] ? 0 : 1));
  const patches = patchesOf(wrong, width, height);
  let largest = -1;
  patches.size.forEach((size, k) => {
    if (patches.value[k] && (largest < 0 || size > patches.size[largest])) largest = k;
  });
  const own = Uint8Array.from(patches.of, (k) => (k === largest ? 1 : 0));
  const members = Array.from(own.keys()).filter((i) => own[i]);
  const depth = depthsOf(own, width, height);
  const places = deepestPlaces(members, depth);
  const mark = truth[places[0]] ? ('this' as const) : ('not this' as const);
  const least = Math.min(...places.map((i) => depth[i]));
  return {
    mark,
    radius: Math.max(2, Math.min(14, brushShare * least)),
    path: places.flatMap((i) => [(i % width) + 0.5, Math.floor(i / width) + 0.5]),
  };
}

/** The deepest place in each fifth of a patch along its longer way, so far as the way between them stays in it. */
function deepestPlaces(members: readonly number[], depth: Float32Array): number[] {
  const [xs, ys] = [members.map((i) => i % width), members.map((i) => Math.floor(i / width))];
  const span = (list: number[]) =>
    list.reduce((a, b) => Math.max(a, b)) - list.reduce((a, b) => Math.min(a, b));
  const along = span(xs) > span(ys) ? xs : ys;
  const [low, far] = [along.reduce((a, b) => Math.min(a, b)), span(along) + 1];
  const best = new Array<number>(5).fill(-1);
  members.forEach((i, k) => {
    const fifth = Math.min(4, Math.floor((5 * (along[k] - low)) / far));
    if (best[fifth] < 0 || depth[i] > depth[best[fifth]]) best[fifth] = i;
  });
  const places = best.filter((i) => i >= 0);
  const deepest = places.reduce((a, b) => (depth[a] > depth[b] ? a : b));
  const at = places.indexOf(deepest);
  const clear = (a: number, b: number) => {
    for (let t = 0; t <= 1; t += 0.01) {
      const x = Math.round((a % width) + t * ((b % width) - (a % width)));
      const y = Math.round(Math.floor(a / width) + t * (Math.floor(b / width) - Math.floor(a / width)));
      if (depth[y * width + x] < 2) return false;
    }
    return true;
  };
  let [from, to] = [at, at];
  while (from > 0 && clear(places[from - 1], places[from])) from--;
  while (to + 1 < places.length && clear(places[to], places[to + 1])) to++;
  return places.slice(from, to + 1);
}
