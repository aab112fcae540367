import { removePose, setPose, smoothPoses, thinOut } from '@/core/actions/actions';
import { poseAtFrame } from '@/core/document/document';
import { numbersPerPoint } from '@/core/model/choices';
import { middleOfLongestGap } from '@/core/outline';
import { selectedSources } from '../session/scope';
import { goToSource } from '../session/go-to';
import { edit } from '../session/edit';
import { current, currentCoordinates, framePhrase, lockedNow } from '../session/in-hand';
import { sourceFrameOf } from '../session/traced';
import { setView, useView } from '../view/view-store';

/** What a person does with the poses of the outline in hand; each returns a sentence where it cannot, or says what came of it. */

/** Makes a pose here from what is drawn. */
export function poseHere(): string | null {
  const coordinates = currentCoordinates();
  const { traced, outline, source } = current();
  if (!coordinates || !traced || !outline || poseAtFrame(traced.document, outline.id, source)) return null;
  const locked = lockedNow();
  if (locked) return locked;
  edit(`Make a pose, ${framePhrase()}`, setPose(traced.document, outline.id, source, coordinates));
  return null;
}

export function removePoseHere(): string | null {
  const { traced, outline, source } = current();
  if (!traced || !outline) return null;
  const locked = lockedNow();
  if (locked) return locked;
  if (!poseAtFrame(traced.document, outline.id, source))
    return 'This frame has no pose of its own. Go to a frame that has one (N), or move a point to make one.';
  const changes = removePose(traced.document, outline.id, source);
  if (changes.length === 0) return 'This is the outline’s only pose; remove the outline instead.';
  edit(`Remove pose, ${framePhrase()}`, changes);
  return null;
}

/** Goes to the middle of the longest gap between poses and makes the in-between there a pose, to be corrected. */
export function halve(): string | null {
  const { traced, outline } = current();
  const poses = (outline && traced?.document.poses[outline.id]) ?? [];
  const locked = lockedNow();
  if (locked) return locked;
  const middle = middleOfLongestGap(poses);
  if (!traced || middle === null)
    return poses.length < 2
      ? 'It takes two poses to have a gap between them.'
      : 'Every frame has a pose already.';
  setView({ playing: false });
  goToSource(traced, middle);
  const landed = sourceFrameOf(traced, useView.getState().frame);
  if (landed !== middle)
    return 'The longest gap between poses lies outside the crossing. Slip the shot, or make the crossing longer.';
  return poseHere();
}

/** Takes superfluous poses away; returns what came of it. */
export function thinOutPoses(tolerance: number): string {
  const locked = lockedNow();
  if (locked) return locked;
  const { traced, outline } = current();
  const changes = traced && outline ? thinOut(traced.document, outline.id, tolerance) : [];
  if (changes.length === 0 || !outline)
    return `No pose can be removed: each is needed to stay within ${tolerance} px.`;
  edit(`Thin out ${outline.name}`, changes);
  return `${changes.length} ${changes.length === 1 ? 'pose' : 'poses'} removed; the line stays within ${tolerance} px. Ctrl Z brings them back.`;
}

/**
 * Smooths the tracks of the points, on the frames that are selected or on all; the pose on this frame stays. Returns
 * what came of it.
 */
export function smoothTracks(): string {
  const locked = lockedNow();
  if (locked) return locked;
  const { traced, outline, source, view } = current();
  const selected = view.range ? selectedSources() : () => true;
  const takes = (frame: number) => frame !== source && selected(frame);
  const changes = traced && outline ? smoothPoses(traced.document, outline.id, takes) : [];
  if (changes.length === 0 || !outline)
    return view.range
      ? 'No selected pose has two others to each side to be smoothed with.'
      : 'Smoothing takes five poses at least.';
  edit(
    view.range ? `Smooth ${outline.name}, frames ${view.range.join(' to ')}` : `Smooth ${outline.name}`,
    changes,
  );
  return `${changes.length} ${changes.length === 1 ? 'pose is' : 'poses are'} smoothed; the outline’s two at either end and the one on this frame stay.`;
}

const copiedPoseName = 'kiv-copied-pose';

/** Lays aside where the points are here, for other frames, outlines, shots and crossings of this browser. */
export function copyPoseHere(): string | null {
  const coordinates = currentCoordinates();
  if (!coordinates) return 'Choose an outline first, then copy its pose.';
  localStorage.setItem(copiedPoseName, JSON.stringify(coordinates));
  return 'Copied. Go to another frame, or another outline, and put it there.';
}

/** Puts the points of the outline in hand where those of the copied pose were. */
export function pastePoseHere(): string | null {
  const { traced, outline, source } = current();
  const copied = copiedPose();
  if (!traced || !outline || !copied) return 'Copy a pose first.';
  const locked = lockedNow();
  if (locked) return locked;
  const count = copied.length / numbersPerPoint;
  if (count !== outline.points.length)
    return `The copied pose has ${count} points and ${outline.name} has ${outline.points.length}; copy the outline instead.`;
  edit(`Paste a pose, ${framePhrase()}`, setPose(traced.document, outline.id, source, copied));
  return null;
}

function copiedPose(): number[] | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(copiedPoseName) ?? 'null');
    return Array.isArray(kept) && kept.length > 0 && kept.every(Number.isFinite) ? (kept as number[]) : null;
  } catch {
    return null;
  }
}
