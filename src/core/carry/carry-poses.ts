import type { OutlineRow, PoseRow } from '../document/tables';
import { type Doubt, numbersPerPoint as N } from '../model/choices';
import { type Affine, applyAffine } from '../geometry/affine';
import { inBetween } from '../outline/in-between';
import { type Carried, carryBetween, carryOneWay, Followings } from './between';
import type { LineModel } from './line-model';
import { modelOfPose, modelThrough, poseOnLine } from './pose-line';
import type { Frames } from './frames';

/** A pose that was carried to a frame, as a row has it. */
export type CarriedPose = Pick<PoseRow, 'frame' | 'coordinates' | 'doubt' | 'offBy'> & {
  unsure: Doubt | null;
};

/** It ends by itself at a frame this doubtful, or after so many unsure ones in a row; others are flagged and passed. */
const stopFrom = 0.63;
const mostUnsure = 6;

/** Why carrying ended. */
export type CarryEnd = 'done' | 'unsure' | 'left' | 'shot ends' | 'stopped';

export interface CarryJob {
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>;
  from: { frame: number; coordinates: readonly number[] };
  /** The pose at which it is to arrive; null: it goes on by itself … */
  to: { frame: number; coordinates: readonly number[] } | null;
  /** … in this direction, … */
  direction: 1 | -1;
  /** … for so many frames at most, and no farther than it can be trusted if `stops`. */
  most: number;
  stops: boolean;
}

/**
 * Carries a pose over frames.
 *
 * @param toPicture from the shot's px to the pictures'.
 * @param told of each pose as it is made, and of the share done; returns whether to go on.
 * @param followings what was followed before between known poses of this kind of outline in these frames.
 */
export async function carryPoses(
  frames: Frames,
  { outline, from, to, direction, most, stops }: CarryJob,
  toPicture: Affine,
  told: (pose: CarriedPose | null, share: number) => boolean,
  followings = new Followings(frames, outline.kind === 'loop'),
): Promise<{ poses: CarriedPose[]; end: CarryEnd }> {
  const model = modelOfPose(outline, from.coordinates, toPicture);
  const eitherSide = outline.kind === 'loop';
  const start = { frame: from.frame, model };
  if (to) {
    const other = { frame: to.frame, model: modelThrough(model, outline, to.coordinates, toPicture) };
    const [first, last] = from.frame < to.frame ? [start, other] : [other, start];
    const [a, b] = from.frame < to.frame ? [from, to] : [to, from];
    const stopped = new Error('stopped');
    try {
      const carried = await carryBetween(followings, first, last, (share) => {
        if (!told(null, share)) throw stopped;
      });
      const poses = carried.map((each) => {
        const share = (each.frame - a.frame) / (b.frame - a.frame);
        const usual = inBetween(a.coordinates, b.coordinates, share);
        const along = modelThrough(model, outline, usual, toPicture);
        return posed(outline, usual, along, each, toPicture);
      });
      return { poses, end: 'done' };
    } catch (error) {
      if (error === stopped) return { poses: [], end: 'stopped' };
      throw error;
    }
  }
  const poses: CarriedPose[] = [];
  let inARow = 0;
  const picture = await frames.picture(from.frame);
  for await (const each of carryOneWay(frames, start, direction, eitherSide)) {
    const pose = posed(outline, from.coordinates, model, each, toPicture);
    poses.push(pose);
    if (!told(pose, poses.length / most)) return { poses, end: 'stopped' };
    if (outside(each.model, picture.width, picture.height)) return { poses, end: 'left' };
    inARow = pose.unsure ? inARow + 1 : 0;
    if (stops && (pose.doubt >= stopFrom || inARow >= mostUnsure)) return { poses, end: 'unsure' };
    if (poses.length >= most) return { poses, end: 'done' };
  }
  return { poses, end: 'shot ends' };
}

function outside(model: LineModel, width: number, height: number): boolean {
  return model.runs.every(({ line }) =>
    line.x.every((x, i) => x < 0 || x > width || line.y[i] < 0 || line.y[i] > height),
  );
}

function posed(
  outline: CarryJob['outline'],
  coordinates: readonly number[],
  before: LineModel,
  { frame, model, confidence }: Carried,
  toPicture: Affine,
): CarriedPose {
  const next = poseOnLine(outline, coordinates, before, model, toPicture);
  const doubt = Math.round(confidence.doubt * 1000) / 1000;
  if (!confidence.reason) return { frame, coordinates: next, doubt, unsure: null, offBy: [] };
  return {
    frame,
    coordinates: next,
    doubt,
    unsure: confidence.reason,
    offBy: offByOf(next, model, confidence.places, toPicture),
  };
}

/** px by which the line may be off about each point. */
function offByOf(
  coordinates: readonly number[],
  model: LineModel,
  places: readonly Float64Array[],
  toPicture: Affine,
): number[] {
  const scale = Math.hypot(toPicture[0], toPicture[1]);
  const count = coordinates.length / N;
  const worst = new Array<number>(count).fill(0);
  const points = Array.from({ length: count }, (_, p) =>
    applyAffine(toPicture, coordinates[p * N], coordinates[p * N + 1]),
  );
  // Each place counts for the point that is nearest to it.
  for (const [r, { line }] of model.runs.entries())
    for (let i = 0; i < line.count; i++) {
      let [nearest, least] = [0, Infinity];
      for (let p = 0; p < count; p++) {
        const far = (points[p][0] - line.x[i]) ** 2 + (points[p][1] - line.y[i]) ** 2;
        if (far < least) [least, nearest] = [far, p];
      }
      worst[nearest] = Math.max(worst[nearest], places[r][i] / scale);
    }
  return worst.map((value) => Math.min(1000, Math.round(value * 10) / 10));
}
