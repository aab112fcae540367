import type { CarriedPose } from '../carry/carry-poses';
import { poseAtFrame } from '../document/document';
import { type CrossingDocument, plainPose, poseId, type PoseRow } from '../document/tables';
import { changeRow, type RowChange } from '../document/edit';

/** Puts poses that were carried; those made by hand, or settled, stay as they are. */
export function putCarried(
  document: CrossingDocument,
  outlineId: string,
  carried: readonly CarriedPose[],
): RowChange[] {
  return carried.flatMap((pose) => {
    const before = poseAtFrame(document, outlineId, pose.frame);
    if (before && before.origin !== 'carried') return [];
    const after: PoseRow = {
      ...plainPose,
      ...before,
      ...pose,
      id: poseId(outlineId, pose.frame),
      outlineId,
      origin: 'carried',
      coordinates: pose.coordinates.slice(),
    };
    return [changeRow('pose', before, after)];
  });
}

/** Puts poses that were pulled onto the edge. */
export function putSettled(
  document: CrossingDocument,
  outlineId: string,
  settled: readonly { frame: number; coordinates: readonly number[] }[],
): RowChange[] {
  return settled.map(({ frame, coordinates }) => {
    const before = poseAtFrame(document, outlineId, frame);
    const after: PoseRow = {
      ...plainPose,
      onward: before?.onward ?? 'linear',
      id: poseId(outlineId, frame),
      outlineId,
      frame,
      origin: 'settled',
      coordinates: coordinates.slice(),
    };
    return changeRow('pose', before, after);
  });
}

/** An outline's unsure poses, the worst first. */
export function unsurePoses(poses: readonly PoseRow[]): PoseRow[] {
  return poses.filter(({ unsure }) => unsure !== null).sort((a, b) => b.doubt - a.doubt);
}

/** Unsure poses on frames that follow each other. */
export interface UnsureStretch {
  /** Source frames, the last included. */
  from: number;
  to: number;
  worst: PoseRow;
}

/** An outline's unsure poses by stretches, the one with the worst first: put right there, its neighbours often are right with it. */
export function unsureStretches(poses: readonly PoseRow[]): UnsureStretch[] {
  const stretches: UnsureStretch[] = [];
  let last: UnsureStretch | null = null;
  for (const pose of poses) {
    if (pose.unsure === null) continue;
    if (last && pose.frame === last.to + 1) {
      last.to = pose.frame;
      if (pose.doubt > last.worst.doubt) last.worst = pose;
    } else {
      last = { from: pose.frame, to: pose.frame, worst: pose };
      stretches.push(last);
    }
  }
  return stretches.sort((a, b) => b.worst.doubt - a.worst.doubt);
}

/** The nearest pose that a hand has made, or settled, before (−1) or after (1) a frame; null: there is none. */
export function nextByHand(poses: readonly PoseRow[], frame: number, direction: 1 | -1): PoseRow | null {
  const kept = poses.filter(({ origin }) => origin !== 'carried');
  const found =
    direction > 0 ? kept.find((pose) => pose.frame > frame) : kept.findLast((pose) => pose.frame < frame);
  return found ?? null;
}
