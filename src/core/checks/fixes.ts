import { coverageAt } from '../compose/coverage-curve';
import type { Shots } from '../compose/source-frames';
import { keyEdge, setEdge } from '../actions/edge-actions';
import { removePose, setOutline, setPose } from '../actions/actions';
import { applyChanges } from '../document/document';
import type { CrossingDocument, OutlineRow, PoseRow } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';
import { numbersPerPoint as N } from '../model/choices';
import { featherOfWidth } from '../edge/profile';
import { MatteScratch } from '../matte/matte';
import { boundsOf, inwardDirections, smoothedPoses, startingCoordinates } from '../outline';
import { blurWidth, type FrameReading } from './edge-checks';

/** What mends a finding: each returns the row changes of one edit, none where it cannot. */

/** The pose with every point moved by `depth` px into the region, at right angles to the line. */
export function movedInward(
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
  coordinates: readonly number[],
  depth: number,
): number[] {
  const line = coordinates.filter((_, i) => i % N < 2);
  const next = coordinates.slice();
  inwardDirections(outline, line).forEach(([x, y], p) => {
    next[p * N] += x * depth;
    next[p * N + 1] += y * depth;
  });
  return next;
}

/** Puts the line on the picture's edge at these frames, making poses there. @param source of a crossing frame. */
export function putOnEdge(
  document: CrossingDocument,
  outline: OutlineRow,
  readings: readonly FrameReading[],
  source: (frame: number) => number,
): RowChange[] {
  return readings.flatMap(({ frame, reading }) => {
    const at = source(frame);
    const coordinates = startingCoordinates(document.poses[outline.id] ?? [], at);
    return coordinates
      ? setPose(document, outline.id, at, movedInward(outline, coordinates, reading.offset))
      : [];
  });
}

/** Smooths the tracks of the points at these source frames only. */
export function smoothAt(
  document: CrossingDocument,
  outlineId: string,
  meant: (source: number) => boolean,
): RowChange[] {
  const poses = document.poses[outlineId] ?? [];
  const fixed = new Set(poses.map(({ frame }) => frame).filter((frame) => !meant(frame)));
  // Without the poses that are off themselves, those around them say where they should be.
  const moved = new Map<number, number[]>();
  for (const pose of poses.filter(({ frame }) => !fixed.has(frame))) {
    const others = poses.filter(({ frame }) => fixed.has(frame));
    const coordinates = startingCoordinates(others, pose.frame);
    if (coordinates) moved.set(pose.frame, [...coordinates]);
  }
  const placed = poses.map((pose) => ({ ...pose, coordinates: moved.get(pose.frame) ?? pose.coordinates }));
  const smooth = smoothedPoses(placed, fixed);
  return poses.flatMap((pose) => {
    const coordinates = smooth.get(pose.frame) ?? moved.get(pose.frame);
    return coordinates ? [changeRow('pose', pose, { ...pose, coordinates })] : [];
  });
}

/** Takes away the poses at these source frames. */
export function removePoses(
  document: CrossingDocument,
  outlineId: string,
  meant: (source: number) => boolean,
): RowChange[] {
  return (document.poses[outlineId] ?? [])
    .filter(({ frame }) => meant(frame))
    .flatMap(({ frame }) => removePose(document, outlineId, frame));
}

/** How far past the border ends are drawn, px. */
const beyondBorder = 12;

/** Draws the ends of a seam out past the frame at these source frames, straight on or to the nearest border. */
export function drawOut(
  document: CrossingDocument,
  outline: OutlineRow,
  frame: { width: number; height: number },
  meant: (source: number) => boolean,
): RowChange[] {
  return (document.poses[outline.id] ?? [])
    .filter((pose) => meant(pose.frame))
    .map((pose) => {
      const coordinates = pose.coordinates.slice();
      for (const [end, next] of [
        [0, N],
        [coordinates.length - N, coordinates.length - 2 * N],
      ])
        drawEndOut(coordinates, end, next, frame);
      return changeRow('pose', pose, { ...pose, coordinates });
    });
}

function drawEndOut(
  coordinates: number[],
  end: number,
  next: number,
  { width, height }: { width: number; height: number },
) {
  const [x, y] = [coordinates[end], coordinates[end + 1]];
  const gaps = [x, y, width - x, height - y];
  const nearest = Math.min(...gaps);
  if (nearest <= 0) return;
  const border = gaps.indexOf(nearest);
  const [nx, ny] = [
    [-1, 0],
    [0, -1],
    [1, 0],
    [0, 1],
  ][border];
  let [dx, dy] = [x - coordinates[next], y - coordinates[next + 1]];
  const towards = dx * nx + dy * ny;
  // A line that runs along the border, or back, is turned to it.
  if (towards < 0.5 * Math.hypot(dx, dy)) [dx, dy] = [nx, ny];
  const by = (nearest + beyondBorder) / (dx * nx + dy * ny);
  coordinates[end] = x + dx * by;
  coordinates[end + 1] = y + dy * by;
}

/**
 * Moves the last pose of an outline on, the way it was going, until it covers the frame with its softness.
 *
 * @param frame crossing frame of the last pose.
 */
export function pushOut(
  document: CrossingDocument,
  shots: Shots,
  outline: OutlineRow,
  frame: number,
): RowChange[] {
  const poses = document.poses[outline.id] ?? [];
  const last: PoseRow | undefined = poses[poses.length - 1];
  const shot = shots[document.layers[outline.layerId]?.shotId];
  if (!last || !shot) return [];
  const scratch = new MatteScratch();
  const softness = outline.featherInside + outline.featherOutside + 4;
  const none = new Set<number>();
  // Away from what is cut: the line's mean direction outward.
  const unit = movedInward(outline, last.coordinates, -1).map((value, i) => value - last.coordinates[i]);
  let [wx, wy] = [0, 0];
  for (let i = 0; i < unit.length; i += N) [wx, wy] = [wx + unit[i], wy + unit[i + 1]];
  const length = Math.hypot(wx, wy) || 1;
  const [left, top, right, bottom] = boundsOf(last.coordinates, none);
  const most = Math.max(shot.width, shot.height, right - left, bottom - top) * 2;
  const changesBy = (by: number): RowChange[] => {
    const coordinates =
      outline.kind === 'loop'
        ? movedInward(outline, last.coordinates, -by)
        : last.coordinates.map((value, i) =>
            i % N === 0 ? value + (wx / length) * by : i % N === 1 ? value + (wy / length) * by : value,
          );
    return [changeRow('pose', last, { ...last, coordinates })];
  };
  for (let by = softness; by < most; by = by * 1.25 + 4) {
    const changes = changesBy(by);
    if (coverageAt(applyChanges(document, changes), shots, frame, scratch) >= 0.9999)
      return changesBy(by + softness);
  }
  return [];
}

/** Gives the edge the picture's own softness, as read at these frames: their median, or each as a key. */
export function matchSoftness(
  document: CrossingDocument,
  outline: OutlineRow,
  readings: readonly FrameReading[],
  source: (frame: number) => number,
  keyed: boolean,
): RowChange[] {
  const widths = readings.map(({ reading }) => reading.width).sort((a, b) => a - b);
  if (widths.length === 0) return [];
  const soft = (width: number, speed: number) => {
    const rounded = Math.round(featherOfWidth(unblurred(width, speed, outline)) * 5) / 10;
    return { featherInside: rounded, featherOutside: rounded };
  };
  if (!keyed || readings.length === 1) {
    const speeds = readings.map(({ speed }) => speed).sort((a, b) => a - b);
    const middle = widths.length >> 1;
    return setEdge(document, outline.id, source(readings[0].frame), soft(widths[middle], speeds[middle]));
  }
  return readings.flatMap(({ frame, reading, speed }) =>
    keyEdge(document, outline.id, source(frame), soft(reading.width, speed)),
  );
}

/** What of a width the shutter does not blur already: it is not made soft twice. */
function unblurred(width: number, speed: number, { shutter }: Pick<OutlineRow, 'shutter'>): number {
  const blur = blurWidth(speed, shutter);
  return Math.sqrt(Math.max(0, width * width - blur * blur));
}

/** The most that a feather is multiplied by at a point. */
const mostFactor = 10;

/**
 * Gives the edge the picture's own softness at each point: the feather of most of them, and what it is multiplied by at
 * each. A point about which nothing could be read has what those beside it have.
 *
 * @param widths of the picture's edge about each point, px; null where it could not be read.
 * @param source the frame, of the shot.
 * @param speed px a frame across the line.
 * @returns none where too few could be read.
 */
export function matchAtPoints(
  document: CrossingDocument,
  outline: OutlineRow,
  source: number,
  widths: readonly (number | null)[],
  speed: number,
): RowChange[] {
  const own = widths.map((width) => (width === null ? null : unblurred(width, speed, outline)));
  const known = own.filter((width) => width !== null).sort((a, b) => a - b);
  if (known.length < Math.max(2, own.length / 4)) return [];
  const usual = Math.max(0.5, known[known.length >> 1]);
  const feather = Math.round(featherOfWidth(usual) * 5) / 10;
  const factors = own.map((_, p) => {
    const width = own[p] ?? beside(own, p, outline.kind === 'loop');
    return Math.round(Math.min(mostFactor, width / usual) * 100) / 100;
  });
  return setEdge(document, outline.id, source, { featherInside: feather, featherOutside: feather, factors });
}

/** The value at a place that has none, from the nearest on both sides, by how near they are. */
function beside(values: readonly (number | null)[], at: number, closed: boolean): number {
  const count = values.length;
  const look = (way: 1 | -1) => {
    for (let far = 1; far < count; far++) {
      const k = closed ? (at + way * far + count) % count : at + way * far;
      const value = values[k] ?? null;
      if (value !== null) return { far, value };
    }
    return null;
  };
  const [before, after] = [look(-1), look(1)];
  if (!before || !after) return (before ?? after)!.value;
  return (before.value * after.far + after.value * before.far) / (before.far + after.far);
}

/** Degrees of shutter, whole fives, whose blur is as wide as the picture's edge at most of these frames. */
export function shutterOfPicture(readings: readonly FrameReading[]): number {
  const degrees = readings
    .map(({ reading, speed }) => reading.width / Math.max(0.01, blurWidth(speed, 1)))
    .sort((a, b) => a - b);
  return Math.min(360, Math.max(5, Math.round((degrees[degrees.length >> 1] ?? 0) / 5) * 5));
}

/**
 * Blurs the matte with the outline's movement, even about the frame, and leaves as softness what the picture has
 * besides.
 *
 * @param shutter degrees that it is open.
 */
export function blurWithMovement(
  document: CrossingDocument,
  outline: OutlineRow,
  readings: readonly FrameReading[],
  source: (frame: number) => number,
  shutter: number,
): RowChange[] {
  const open = { shutter, phase: -shutter / 2 };
  const blurred: OutlineRow = { ...outline, ...open };
  const soft = matchSoftness(document, blurred, readings, source, false);
  const own = soft.find((change) => change.table === 'outline')?.after;
  if (own && 'shutter' in own) return [changeRow('outline', outline, { ...own, ...open })];
  return [...setOutline(document, outline.id, open), ...soft];
}
