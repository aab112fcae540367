import type { OutlineRow } from '../document/tables';
import { numbersPerPoint as N } from '../model/choices';
import { type Affine, applyAffine, invert } from '../geometry/affine';
import { pointAt } from '../geometry/bezier';
import { bestSimilarity } from '../geometry/similarity';
import { missed, missing, poseLaid } from '../outline/pose-laid';
import { pointCount, segmentCount, segmentCubic } from '../outline/curve';
import { solved } from '../numbers/cholesky';
import { type LineModel, LoopModel, SeamModel } from './line-model';

/** px of the picture between places of a line that is followed. */
const spacing = 4;
/** Places on a curved side of a loop. */
const perCurve = 6;
/** Most corners of a loop that is followed: its points are solved for together. */
const mostCorners = 120;
/** Most points of a pose that are fitted together; those of more go along with the line beside them. */
const fewPoints = 60;

type Outline = Pick<OutlineRow, 'kind' | 'sweptSide'>;

/** A pose as a line that can be followed: what a seam sweeps lies on its right. */
export function modelOfPose(outline: Outline, coordinates: readonly number[], toPicture: Affine): LineModel {
  if (outline.kind === 'loop') return LoopModel.around(loopPoints(coordinates, toPicture), spacing);
  return SeamModel.along(seamPoints(outline, coordinates, toPicture), spacing);
}

/** The same line through another pose of the outline. */
export function modelThrough(
  model: LineModel,
  outline: Outline,
  coordinates: readonly number[],
  toPicture: Affine,
): LineModel {
  return model.through(
    outline.kind === 'loop'
      ? loopPoints(coordinates, toPicture)
      : seamPoints(outline, coordinates, toPicture),
  );
}

function seamPoints(outline: Outline, coordinates: readonly number[], toPicture: Affine) {
  const points: [number, number][] = [];
  for (let s = 0; s < segmentCount(coordinates, false); s++) {
    const cubic = segmentCubic(coordinates, s);
    const length = Math.hypot(cubic[6] - cubic[0], cubic[7] - cubic[1]);
    const steps = straight(coordinates, s) ? 1 : Math.min(200, Math.max(8, Math.ceil(length / spacing)));
    for (let k = s === 0 ? 0 : 1; k <= steps; k++)
      points.push(applyAffine(toPicture, ...pointAt(cubic, k / steps)));
  }
  return outline.sweptSide === 'right' ? points : points.reverse();
}

/** The same places on the outline in every pose: its points, and some between where a side is curved; of many points some. */
function loopPoints(coordinates: readonly number[], toPicture: Affine) {
  const points: [number, number][] = [];
  const sides = segmentCount(coordinates, true);
  const stride = Math.ceil(sides / mostCorners);
  const curved = Math.max(1, Math.min(perCurve, Math.floor(mostCorners / sides)));
  for (let s = 0; s < sides; s += stride) {
    const steps = straight(coordinates, s) ? 1 : curved;
    const cubic = segmentCubic(coordinates, s);
    for (let k = 0; k < steps; k++) points.push(applyAffine(toPicture, ...pointAt(cubic, k / steps)));
  }
  return points;
}

function straight(coordinates: readonly number[], segment: number): boolean {
  const [i, j] = [segment * N, ((segment + 1) % pointCount(coordinates)) * N];
  return (
    coordinates[i + 4] === 0 &&
    coordinates[i + 5] === 0 &&
    coordinates[j + 2] === 0 &&
    coordinates[j + 3] === 0
  );
}

/** Places on each segment at which a pose is held against a line. */
const perSegment = 24;

/**
 * The pose on a line that was followed: the pose before, moved by the similarity between the two lines, and then its
 * points and handles as the least squares of the distances across the line want them. Along the line they are held:
 * points do not slide.
 *
 * @param before the line that `coordinates` were on, in the picture's px as `after` is.
 */
export function poseOnLine(
  outline: Outline,
  coordinates: readonly number[],
  before: LineModel,
  after: LineModel,
  toPicture: Affine,
): number[] {
  const closed = outline.kind === 'loop';
  const toShot = invert(toPicture);
  const [a, b] = [flat(before.points(), toShot), flat(after.points(), toShot)];
  const map = bestSimilarity(a, b, 2);
  const [c, s] = [map.scale * Math.cos(map.turn), map.scale * Math.sin(map.turn)];
  const pose = coordinates.map((_, i) => {
    const at = i - (i % 2);
    const [x, y] = [coordinates[at], coordinates[at + 1]];
    if (i % N >= 2) return i % 2 === 0 ? c * x - s * y : s * x + c * y;
    const [dx, dy] = [x - map.fromX, y - map.fromY];
    return i % 2 === 0 ? map.toX + c * dx - s * dy : map.toY + s * dx + c * dy;
  });
  if (coordinates.length / N > fewPoints) return alongLine(coordinates, closed, a, b);
  // In the order of the pose: a seam's ends stay as far along it as they were, at the frame's border or beyond.
  const line = closed || outline.sweptSide === 'right' ? b : flat(after.points().reverse(), toShot);
  for (let round = 0; round < 3; round++) fitOnce(pose, closed, line);
  const fitted = pose.map((value) => Math.round(value * 1000) / 1000);
  if (closed) return fitted;
  // Round a limb its points bunch; on the next frame they are spread again.
  const unit = 1 / Math.hypot(toPicture[0], toPicture[1]);
  const measure = { unit, seen: () => true };
  const off = missed(fitted, line, false, measure);
  if (off <= missing) return fitted;
  const laid = poseLaid(fitted, line, false, measure);
  return laid.off < off ? [...laid.coordinates] : fitted;
}

/** Rounds in which a pose is brought onto a line that may lie farther off than from one frame to the next. */
const rounds = 10;

/**
 * A pose with its points and handles as near to a line as they come, nothing sliding along it: for a line that was found
 * anew, not followed.
 *
 * @param line x, y by turns, shot px; walked as the pose is.
 */
export function poseOntoLine(
  coordinates: readonly number[],
  closed: boolean,
  line: readonly number[],
): number[] {
  const pose = coordinates.slice();
  for (let round = 0; round < rounds; round++) fitOnce(pose, closed, line);
  return pose.map((value) => Math.round(value * 1000) / 1000);
}

function flat(points: readonly (readonly [number, number])[], map: Affine): number[] {
  return points.flatMap(([x, y]) => applyAffine(map, x, y));
}

/** A pose of many points: each goes as the line does where it is nearest; what is finer than the line stays. */
function alongLine(
  coordinates: readonly number[],
  closed: boolean,
  before: number[],
  after: number[],
): number[] {
  const next = coordinates.slice();
  const count = before.length / 2;
  for (let p = 0; p < coordinates.length; p += N) {
    const [x, y] = [coordinates[p], coordinates[p + 1]];
    let least = Infinity;
    for (let k = 0; k + (closed ? 0 : 1) < count; k++) {
      const [i, j] = [2 * k, 2 * ((k + 1) % count)];
      const [dx, dy] = [before[j] - before[i], before[j + 1] - before[i + 1]];
      const along = ((x - before[i]) * dx + (y - before[i + 1]) * dy) / (dx * dx + dy * dy || 1);
      const share = Math.min(1, Math.max(0, along));
      const far = (before[i] + share * dx - x) ** 2 + (before[i + 1] + share * dy - y) ** 2;
      if (far >= least) continue;
      least = far;
      for (const c of [0, 1])
        next[p + c] =
          coordinates[p + c] +
          (1 - share) * (after[i + c] - before[i + c]) +
          share * (after[j + c] - before[j + c]);
    }
  }
  return next.map((value) => Math.round(value * 1000) / 1000);
}

/** Weight of a seam's ends, each of which counts as so many places. */
const ends = 20;

/** One Gauss–Newton step of the pose towards the polyline `line`, px of the shot. */
function fitOnce(pose: number[], closed: boolean, line: readonly number[]): void {
  const count = pose.length / N;
  const n = 6 * count;
  const h = new Float64Array(n * n);
  const g = new Float64Array(n);
  // A point may give way a little, a handle less; what has no handle gets none.
  for (let p = 0; p < count; p++)
    for (let k = 0; k < 6; k++) {
      const handle = k >= 2;
      const none = handle && pose[p * N + (k < 4 ? 2 : 4)] === 0 && pose[p * N + (k < 4 ? 3 : 5)] === 0;
      h[(6 * p + k) * (n + 1)] = none ? 1e9 : handle ? 1.5 : 0.15;
    }
  for (let segment = 0; segment < segmentCount(pose, closed); segment++) {
    const cubic = segmentCubic(pose, segment);
    const next = (segment + 1) % count;
    for (let k = 0; k < perSegment; k++) {
      const t = (k + 0.5) / perSegment;
      const [x, y] = pointAt(cubic, t);
      const near = nearest(line, closed, x, y);
      if (!near) continue;
      const [b0, b1, b2, b3] = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
      const terms: [number, number][] = [
        [6 * segment, (b0 + b1) * near.nx],
        [6 * segment + 1, (b0 + b1) * near.ny],
        [6 * segment + 4, b1 * near.nx],
        [6 * segment + 5, b1 * near.ny],
        [6 * next, (b2 + b3) * near.nx],
        [6 * next + 1, (b2 + b3) * near.ny],
        [6 * next + 2, b2 * near.nx],
        [6 * next + 3, b2 * near.ny],
      ];
      for (const [p, wp] of terms) {
        g[p] += wp * near.across;
        for (const [q, wq] of terms) h[n * p + q] += wp * wq;
      }
    }
  }
  if (!closed)
    for (const [p, k] of [
      [0, 0],
      [count - 1, line.length - 2],
    ])
      for (const c of [0, 1]) {
        h[(6 * p + c) * (n + 1)] += ends;
        g[6 * p + c] += ends * (line[k + c] - pose[p * N + c]);
      }
  const step = solved(h, g, n);
  for (let i = 0; i < n; i++) pose[i] += step[i];
}

/** How far a polyline lies from a place, across itself; null beyond its ends. */
function nearest(line: readonly number[], closed: boolean, x: number, y: number) {
  let least = Infinity;
  let found: { nx: number; ny: number; across: number } | null = null;
  const count = line.length / 2;
  for (let k = 0; k + (closed ? 0 : 1) < count; k++) {
    const [i, j] = [2 * k, 2 * ((k + 1) % count)];
    const [dx, dy] = [line[j] - line[i], line[j + 1] - line[i + 1]];
    const length = Math.hypot(dx, dy);
    if (length === 0) continue;
    const along = ((x - line[i]) * dx + (y - line[i + 1]) * dy) / (length * length);
    const share = Math.min(1, Math.max(0, along));
    const [ox, oy] = [line[i] + share * dx - x, line[i + 1] + share * dy - y];
    const far = Math.hypot(ox, oy);
    if (far >= least) continue;
    least = far;
    const [nx, ny] = [-dy / length, dx / length];
    const beyond = !closed && ((k === 0 && along < 0) || (k === count - 2 && along > 1));
    found = beyond ? null : { nx, ny, across: ox * nx + oy * ny };
  }
  return found;
}
