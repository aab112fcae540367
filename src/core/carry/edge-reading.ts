import type { OutlineRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { across, reach } from '../edge/measure';
import { type EdgeReading, edgeTolerance, readEdge, weightedMedian } from '../edge/profile';
import { denoisedVariance } from '../picture/frame-picture';
import { objectShare, widthOfSoftness } from '../edge/softness-profile';
import { straighten, type Walk } from '../edge/strip';
import { type Affine, applyAffine, invert } from '../geometry/affine';
import { regionSide } from '../outline';
import type { Frames } from './frames';
import type { LineModel } from './line-model';
import { modelOfPose } from './pose-line';
import { sightAt, shownShare } from './settle';

/** Share of the line that must agree on an edge for one frame alone to be believed. */
const believed = 0.5;
/** … and from which all sides of a loop are not led astray together. */
const certain = 0.7;
/** px by which two answers may differ and still be the same. */
const same = 1.5;

/**
 * What the picture says of the edge along a line. One frame says it where it shows a clear edge on the line. Where it
 * shows none, or one beside the line, which may be anything that lies behind, the frames around are asked as well.
 *
 * @param walk of the pose in the shot's px, as `walkOutline` gives it.
 * @param toPicture from the shot's px to the pictures'.
 * @returns null where neither says anything.
 */
export async function movingEdgeReading(
  frames: Frames,
  frame: number,
  {
    shot,
    outline,
    coordinates,
    walk,
    toPicture,
  }: {
    shot: Shot;
    outline: Pick<OutlineRow, 'kind' | 'sweptSide'>;
    coordinates: readonly number[];
    walk: Walk;
    toPicture: Affine;
  },
): Promise<EdgeReading | null> {
  const { planes } = await frames.picture(frame);
  const still = readEdge(straighten(planes, shot, walk, reach, across), walk.step);
  const clear = still !== null && still.support >= believed;
  if (clear && Math.abs(still.offset) <= edgeTolerance(still.width)) return still;
  // The sides of a loop agree only if the match is right.
  if (clear && outline.kind === 'loop' && still.support >= certain) return still;
  const model = modelOfPose(outline, coordinates, toPicture);
  const eitherSide = outline.kind === 'loop';
  // A seam is followed with its region on the right.
  const inward = outline.kind === 'loop' ? regionSide(outline, model.points().flat()) : 1;
  const scale = Math.hypot(toPicture[0], toPicture[1]);
  const near = await sightAt(frames, frame, model, eitherSide);
  // A wide edge draws a line that is off not all the way at once.
  const far = Math.abs(offsetBetween(model, near)) > same * scale;
  const found = far ? await sightAt(frames, frame, near.model, eitherSide) : near;
  const offset = tenth((inward * offsetBetween(model, found)) / scale);
  if (clear) {
    if (Math.abs(offset - still.offset) < same) return still;
    // Two answers: the still frame's stands where the finder, begun there, stays.
    const there = shifted(model, inward * still.offset * scale);
    const again = await sightAt(frames, frame, there, eitherSide);
    const stays = Math.abs(offsetBetween(there, again)) < same * scale;
    if (stays && unexplained(again) <= unexplained(found) + 0.05) return still;
  }
  const support = shownShare(found.sights);
  if (support < believed) return clear ? null : still;
  const walked = walkAlong(found.model, inward, toPicture);
  const own = readEdge(straighten(planes, shot, walked, reach, across), walked.step);
  if (own && own.support >= believed && Math.abs(own.offset) < edgeTolerance(own.width))
    return { ...own, offset, support };
  const [{ softness: seen, speed }] = found.sights;
  // It was looked at with its noise smoothed, which softened it.
  const softness = { ...seen, sigma: Math.sqrt(Math.max(0.25, seen.sigma ** 2 - denoisedVariance)) };
  const rows = 2 * Math.round(reach / across) + 1;
  const profile = Float32Array.from(
    { length: rows },
    (_, row) => 1 - objectShare(softness, speed, (row - (rows - 1) / 2) * across * scale),
  );
  return { offset, width: widthOfSoftness(softness, speed) / scale, support, profile };
}

type Found = Awaited<ReturnType<typeof sightAt>>;

/** px from one line to the other along the first one's directions: a median, each place weighed by how sure it is. */
function offsetBetween(model: LineModel, { model: found, sights }: Found): number {
  const values: [number, number][] = [];
  for (const [r, { belief, seen }] of sights.entries()) {
    const [a, b] = [model.runs[r].line, found.runs[r].line];
    for (let i = 0; i < a.count; i++) {
      if (!seen[i]) continue;
      const off = (b.x[i] - a.x[i]) * a.nx[i] + (b.y[i] - a.y[i]) * a.ny[i];
      values.push([off, 1 / (0.2 + belief.variance[i] + 4 * belief.doubt[i])]);
    }
  }
  return values.length > 0 ? weightedMedian(values) : 0;
}

function shifted(model: LineModel, by: number): LineModel {
  return model.offset(
    model.runs.map(({ line }) => new Float64Array(line.count).fill(by)),
    model.runs.map(({ line }) => new Float64Array(line.count).fill(1)),
  );
}

/** Mean cost of what is right beside the line. */
function unexplained({ sights }: Found): number {
  let [sum, count] = [0, 0];
  for (const { misfit, seen } of sights)
    for (let i = 0; i < misfit.length; i++) {
      if (!seen[i]) continue;
      sum += misfit[i];
      count++;
    }
  return count ? sum / count : Infinity;
}

/** The places of a followed line, px of the shot. */
function walkAlong(model: LineModel, inward: number, toPicture: Affine): Walk {
  const [places, directions]: number[][] = [[], []];
  const toShot = invert(toPicture);
  for (const { line } of model.runs)
    for (let i = 0; i < line.count; i++) {
      const [x, y] = applyAffine(toShot, line.x[i], line.y[i]);
      const [tx, ty] = applyAffine(toShot, line.x[i] + line.nx[i], line.y[i] + line.ny[i]);
      const length = inward * Math.hypot(tx - x, ty - y);
      places.push(x, y);
      directions.push((tx - x) / length, (ty - y) / length);
    }
  return { places: Float64Array.from(places), inward: Float64Array.from(directions), step: 4 };
}

function tenth(value: number): number {
  return Math.round(value * 10) / 10;
}
