import { setOnward, setOutline } from '@/core/actions/actions';
import {
  joinSeams,
  looseOutline,
  type LooseOutline,
  mirrorOutline,
  moveInOrder,
  movePoses,
  placeOutline,
  removePoses,
  reverseOutline,
  setCombine,
  splitOutline,
  spreadPoses,
} from '@/core/actions/outline-actions';
import { setLayer } from '@/core/actions/layer-actions';
import type { CarriedBy, Combine } from '@/core/model/choices';
import type { Onward } from '@/core/model/time';
import { alignedPose, boundsOf, pointKindAt, turnedPose, withPointKind } from '@/core/outline';
import { commitMove, commitPose, softMove } from './commands';
import { selectedSources } from '../session/scope';
import { edit } from '../session/edit';
import { current, currentCoordinates } from '../session/in-hand';
import { setView } from '../view/view-store';

/** What a person does to whole outlines and to stretches of poses; sentences say what could not be done. */

export function combineAs(outlineId: string, combine: Combine) {
  const { traced } = current();
  const outline = traced?.document.outlines[outlineId];
  if (traced && outline) edit(`${outline.name}: ${combine}`, setCombine(traced.document, outlineId, combine));
}

export function moveOutline(by: -1 | 1) {
  const { traced, outline } = current();
  if (traced && outline)
    edit(`Move ${outline.name} ${by < 0 ? 'up' : 'down'}`, moveInOrder(traced.document, outline.id, by));
}

/** How the loop in hand is carried from now on; without a way the other one. */
export function carryBy(way?: CarriedBy): string | null {
  const { traced, outline } = current();
  if (!traced || !outline) return 'Choose an outline in the list first.';
  if (outline.subjectId !== null) return 'A part or hole of a subject is carried with it.';
  const carriedBy = way ?? (outline.carriedBy === 'edge' ? 'cutting' : 'edge');
  const says =
    carriedBy === 'edge'
      ? 'along its edge'
      : outline.kind === 'loop'
        ? 'by cutting it out'
        : 'by cutting out what it lies on';
  edit(`Carry ${outline.name} ${says}`, setOutline(traced.document, outline.id, { carriedBy }));
  return way ? null : `${outline.name} is carried ${says} from now on.`;
}

/** The traced layer's outlines keep what they enclose, or cut it away again. */
export function keepOtherSide(): string | null {
  const { traced } = current();
  if (!traced) return 'There is no shot to trace on. Add one in step Shots.';
  const keeps = !traced.layer.keeps;
  edit(
    keeps ? 'Keep what the outlines enclose' : 'Cut what the outlines enclose',
    setLayer(traced.document, traced.layer.id, { keeps }),
  );
  return keeps
    ? 'What the outlines enclose is kept now, all else is cut.'
    : 'What the outlines enclose is cut away now.';
}

export function reverse() {
  const { traced, outline } = current();
  if (traced && outline) edit(`Reverse ${outline.name}`, reverseOutline(traced.document, outline.id));
  setView({ points: new Set() });
}

export function mirror() {
  const { traced, outline } = current();
  if (traced && outline)
    edit(`Mirror ${outline.name}`, mirrorOutline(traced.document, outline.id, traced.shot.width));
}

export function duplicate() {
  const { traced, outline } = current();
  const loose = traced && outline && looseOutline(traced.document, outline.id);
  if (!loose) return;
  const id = crypto.randomUUID();
  const copy = { ...loose, outline: { ...loose.outline, name: `${outline.name}, copy`.slice(0, 120) } };
  edit(`Duplicate ${outline.name}`, placeOutline(traced.document, traced.layer.id, copy, id));
  setView({ outlineId: id, points: new Set() });
}

export function split(): string | null {
  const { traced, outline, view } = current();
  if (!traced || !outline) return null;
  const changes = splitOutline(traced.document, outline.id, view.points, () => crypto.randomUUID());
  if (changes.length === 0)
    return outline.kind === 'seam'
      ? 'Select one point between the ends: the seam is parted there.'
      : 'Select two points that do not lie next to each other: the loop is parted along the line between them.';
  edit(`Split ${outline.name}`, changes);
  setView({ points: new Set() });
  return null;
}

/** Joins the seam in hand with another of its layer. */
export function joinWith(otherId: string): string | null {
  const { traced, outline } = current();
  if (!traced || !outline) return null;
  const changes = joinSeams(traced.document, outline.id, otherId);
  if (changes.length === 0) return 'Only two seams on the same shot can be joined. Choose another seam.';
  edit(`Join ${outline.name} and ${traced.document.outlines[otherId].name}`, changes);
  setView({ points: new Set() });
  return null;
}

/** Where a copied outline is kept in the browser. */
const copiedOutline = 'kiv-copied-outline';

/** Lays a copy of the outline in hand aside, for other shots and crossings of this browser. */
export function copyOutline() {
  const { traced, outline } = current();
  const loose = traced && outline && looseOutline(traced.document, outline.id);
  if (loose) localStorage.setItem(copiedOutline, JSON.stringify(loose));
}

export function pasteOutline(): string | null {
  const { traced } = current();
  const kept = localStorage.getItem(copiedOutline);
  if (!traced || !kept) return 'Copy an outline first.';
  let loose: LooseOutline;
  try {
    loose = JSON.parse(kept) as LooseOutline;
  } catch {
    return 'The copied outline cannot be read any more; copy it again.';
  }
  const id = crypto.randomUUID();
  edit(`Paste ${loose.outline.name}`, placeOutline(traced.document, traced.layer.id, loose, id));
  setView({ outlineId: id, points: new Set() });
  return null;
}

/** Makes the selected points, or all, corners or smooth. */
export function convertPoints(kind: 'corner' | 'smooth') {
  const coordinates = currentCoordinates();
  const { outline, view } = current();
  if (!coordinates || !outline) return;
  const points = view.points.size > 0 ? view.points : new Set(outline.points.keys());
  commitPose(
    `${points.size === 1 ? 'Point' : 'Points'} to ${kind === 'corner' ? 'corners' : 'curves'}`,
    withPointKind(coordinates, points, kind, outline.kind === 'loop'),
  );
}

/** Corners to curves, and curves to corners. */
export function togglePointKind() {
  const coordinates = currentCoordinates();
  const { view } = current();
  if (!coordinates) return;
  const first = [...view.points][0] ?? 0;
  convertPoints(pointKindAt(coordinates, first) === 'corner' ? 'smooth' : 'corner');
}

export function align(how: 'level' | 'upright' | 'in line'): string | null {
  const coordinates = currentCoordinates();
  const { view } = current();
  if (!coordinates || view.points.size < 2)
    return 'Select the points to align first: press them with Shift, or drag a box.';
  commitPose('Align points', alignedPose(coordinates, view.points, how));
  return null;
}

/** Centre, width and height of what is selected, or of the outline, px. */
export function measuresNow(): { x: number; y: number; width: number; height: number } | null {
  const coordinates = currentCoordinates();
  if (!coordinates) return null;
  const [left, top, right, bottom] = boundsOf(coordinates, current().view.points);
  return { x: (left + right) / 2, y: (top + bottom) / 2, width: right - left, height: bottom - top };
}

/** Puts the centre of what is selected, or of the outline, at a place. */
export function putAt(x: number, y: number) {
  const coordinates = currentCoordinates();
  const now = measuresNow();
  const { outline, view } = current();
  if (!coordinates || !now || !outline) return;
  const points = view.points.size > 0 ? view.points : new Set(outline.points.keys());
  commitMove(softMove(coordinates, points, x - now.x, y - now.y), points.size);
}

/** Scales (percent) and turns (degrees) what is selected, or the outline, about the box's pivot or its middle. */
export function scaleAndTurn(scale: number, turn: number) {
  const coordinates = currentCoordinates();
  const now = measuresNow();
  const { view } = current();
  if (!coordinates || !now) return;
  const pivot = view.pivot ?? ([now.x, now.y] as const);
  commitPose(
    turn === 0 ? `Scale to ${scale} %` : `Turn by ${turn}°`,
    turnedPose(coordinates, view.points, pivot, {
      scaleX: scale / 100,
      scaleY: scale / 100,
      turn: (turn * Math.PI) / 180,
    }),
  );
}

/** How the in-betweens run on: from the pose at or before this frame, or from all that are in the scope. */
export function runOnward(onward: Onward) {
  const { traced, outline, view, source } = current();
  if (!traced || !outline) return;
  const poses = traced.document.poses[outline.id] ?? [];
  const own = poses.findLast((pose) => pose.frame <= source);
  const takes =
    view.scope === 'all'
      ? () => true
      : view.scope === 'selected' && view.range
        ? selectedSources()
        : (frame: number) => frame === own?.frame;
  edit(`In-betweens ${onward}`, setOnward(traced.document, outline.id, onward, takes));
}

/** Poses of the outline in hand on the frames that are selected. */
export function posesSelected() {
  const { traced, outline } = current();
  const takes = selectedSources();
  return ((traced && outline && traced.document.poses[outline.id]) ?? []).filter(({ frame }) => takes(frame));
}

export function removeSelectedPoses(): string | null {
  const { traced, outline, view } = current();
  const poses = posesSelected();
  if (!traced || !outline || !view.range) return null;
  if (poses.length === 0) return 'The selected frames have no poses. Select frames with beads in the sheet.';
  if (poses.length === traced.document.poses[outline.id].length)
    return 'These are all its poses; remove the outline instead.';
  edit(
    `Remove poses, frames ${view.range[0]} to ${view.range[1]}`,
    removePoses(
      traced.document,
      outline.id,
      poses.map(({ frame }) => frame),
    ),
  );
  return null;
}

export function spreadSelectedPoses(): string | null {
  const { traced, outline } = current();
  const poses = posesSelected();
  if (!traced || !outline) return null;
  const changes =
    poses.length < 3
      ? []
      : spreadPoses(traced.document, outline.id, poses[0].frame, poses[poses.length - 1].frame);
  if (changes.length === 0)
    return poses.length < 3 ? 'Select frames with three poses or more.' : 'They lie evenly already.';
  edit(`Spread poses of ${outline.name} evenly`, changes);
  return null;
}

/** Moves the poses on the selected frames by some source frames. */
export function shiftSelectedPoses(by: number): string | null {
  const { traced, outline, view } = current();
  const poses = posesSelected();
  if (!traced || !outline || poses.length === 0)
    return 'The selected frames have no poses. Select frames with beads in the sheet.';
  const moves = new Map(poses.map(({ frame }) => [frame, frame + by]));
  const changes = movePoses(traced.document, outline.id, moves);
  if (changes.length === 0)
    return 'Another pose, or the start of the shot, is in the way. Shift fewer frames, or fewer steps.';
  edit(`Move ${poses.length === 1 ? 'a pose' : `${poses.length} poses`} by ${by}`, changes);
  if (view.range) setView({ range: [view.range[0] + by, view.range[1] + by] });
  return null;
}
