import { median, quantile } from '../numbers/quantile';
import type { Crosser } from '../model/shot';

/** A followed point: where it is, how it moves against the scene, and against the frame; shares of the frame. */
export interface Feature {
  x: number;
  y: number;
  dx: number;
  own: number;
}

export interface FrameFeatures {
  /** Points that move with the scene. */
  still: Feature[];
  /** Points that move otherwise. */
  moving: Feature[];
}

const columns = 48;
/** Fewest points, and least excess over still ones, that make something out of a stretch. */
const fewest = 6;
/** Row bands in which the trailing edge is looked for, and most frames that its course at a border is fitted to. */
const bands = 6;
const longestFit = 10;
/** The frame's rim, as a share, within which points cannot be followed. */
const rim = 0.035;

/**
 * What crosses the picture, from the points that do not move with the scene. In each frame it is the stretch of
 * columns that holds most moving and fewest still points (the largest sum of a run of numbers, Kadane's method).
 *
 * @param frames of the whole shot.
 * @param shotWidth px.
 * @returns null when nothing moves otherwise than the scene for more than a few frames.
 */
export function crosserOf(frames: readonly FrameFeatures[], shotWidth: number): Crosser | null {
  const extents = frames.map(extentOf);
  const there = extents.flatMap((extent, frame) => (extent ? [frame] : []));
  if (there.length < 5) return null;
  const [firstSeen, lastSeen] = [there[0], there[there.length - 1]];
  const moving = frames.slice(firstSeen, lastSeen + 1).flatMap(({ moving: list }) => list);
  const direction = Math.sign(median(moving.map(({ own }) => own))) || 1;
  // Seen along its way: the trailing edge is the end that comes last. It is aslant: of its rows the first to come
  // away from the border opens the gap, the last to leave closes it.
  const edges = extents.map((extent, frame) => extent && trailingEdges(frames[frame], extent, direction));
  const isIn = (frame: number) => edges[frame] !== null && edges[frame]!.last > rim + 1 / columns;
  const touchesEntry = there.filter((frame) => !isIn(frame));
  const lastAtEntry = touchesEntry[touchesEntry.length - 1];
  const inside = there.filter((frame) => isIn(frame) && (lastAtEntry === undefined || frame > lastAtEntry));
  const travelled = inside.length > 1 ? edges[inside[inside.length - 1]]!.last - edges[inside[0]]!.last : 0;
  const ys = moving.map(({ y }) => y);
  const [top, bottom] = [quantile(ys, 0.01), quantile(ys, 0.99)].map((y) => edgeOf(y));
  if (touchesEntry.length > 0 && inside.length > 2 && travelled > 0.2) {
    const lasts = inside.map((frame) => [frame, edges[frame]!.last] as const);
    const firsts = inside.map((frame) => [frame, edges[frame]!.first] as const);
    // Points are not followed up to the border itself: the edge's course is carried on to it, at the object's speed.
    const course = Math.abs(median(moving.map(({ own }) => own)));
    const entering = frameAt(0, firsts.filter(([, x]) => x < 0.5).slice(0, longestFit), course);
    const leaving = frameAt(1, lasts.filter(([, x]) => x > 0.4).slice(-longestFit), course);
    const seenLast = inside[inside.length - 1];
    const gotAcross = lasts[lasts.length - 1][1] + 2 * Math.max(0, course) > 1 - 2 * rim;
    const opens = entering === null ? inside[0] : Math.ceil(entering);
    const closes = gotAcross && leaving !== null ? Math.floor(leaving) : seenLast;
    return {
      kind: 'across',
      opens: Math.min(inside[0], Math.max(firstSeen, opens)),
      closes: Math.max(seenLast, Math.min(frames.length - 1, closes)),
      direction: direction as 1 | -1,
      speed: course * shotWidth,
      top,
      bottom,
      reach: gotAcross ? 1 : Math.max(...lasts.map(([, x]) => x)),
    };
  }
  const widest = Math.max(...there.map((frame) => extents[frame]!.to - extents[frame]!.from));
  return {
    kind: 'opens',
    opens: firstSeen,
    closes: lastSeen,
    direction: 0,
    speed: 0,
    top,
    bottom,
    reach: widest,
  };
}

/**
 * The trailing edge in bands of rows, measured from the border that the object comes from: how far the band that
 * comes first has got, and the one that comes last.
 */
function trailingEdges(
  { moving }: FrameFeatures,
  extent: { from: number; to: number },
  direction: number,
): { first: number; last: number } {
  const along = moving
    .filter(({ x }) => x >= extent.from && x <= extent.to)
    .map(({ x, y }) => ({ x: direction > 0 ? x : 1 - x, y }));
  const edges = Array.from({ length: bands }, (_, k) => along.filter(({ y }) => Math.floor(y * bands) === k))
    .filter((band) => band.length > 3)
    .map((band) => Math.min(...band.map(({ x }) => x)));
  const all = edges.length > 0 ? edges : along.map(({ x }) => x);
  return { first: Math.max(...all), last: Math.min(...all) };
}

type Course = readonly (readonly [frame: number, x: number])[];

/** The frame at which an edge that runs through the points at `speed` is at `x`: the middle of what each says. */
function frameAt(x: number, points: Course, speed: number): number | null {
  if (points.length === 0 || speed <= 0) return null;
  return median(points.map(([frame, at]) => frame + (x - at) / speed));
}

/** Points near the rim stand for what lies at the border. */
function edgeOf(y: number): number {
  return y < 2.2 * rim ? 0 : y > 1 - 2.2 * rim ? 1 : y;
}

function extentOf({ still, moving }: FrameFeatures): { from: number; to: number } | null {
  if (moving.length < fewest) return null;
  const excess = new Float64Array(columns);
  const column = (x: number) => Math.min(columns - 1, Math.max(0, Math.floor(x * columns)));
  for (const { x } of moving) excess[column(x)]++;
  for (const { x } of still) excess[column(x)]--;
  let [best, from, to] = [0, 0, 0];
  for (let end = 0, sum = 0, start = 0; end < columns; end++) {
    if (sum <= 0) [sum, start] = [0, end];
    sum += excess[end];
    if (sum > best) [best, from, to] = [sum, start, end + 1];
  }
  if (best < fewest) return null;
  const inside = moving.map(({ x }) => x).filter((x) => x >= from / columns && x <= to / columns);
  if (inside.length < fewest) return null;
  return { from: Math.min(...inside), to: Math.max(...inside) };
}
