import { type BothView, bothViews, views, type View } from '@/core/compose/scene';
import { nextOutline } from '@/core/document/plans';
import {
  addPoint,
  deleteOutline,
  drawOutline,
  movedPoints,
  otherSide,
  removePoints,
  removePose,
  setOutline,
  setPose,
  setPoseAndOffset,
  smoothPoses,
  thinOut,
} from '@/core/document/actions';
import { poseAtFrame } from '@/core/document/document';
import { numbersPerPoint, type OutlineKind } from '@/core/document/rows';
import { sideWithLess } from '@/core/matte/side';
import { middleOfLongestGap, softlyMoved, startingCoordinates } from '@/core/outline';
import { parseTimecode } from '@/core/time/timecode';
import { useDocument } from './document-store';
import { crossingFrameIn, sourceFrameOf, type Traced, tracedNow } from './traced';
import { setView, useView } from './view-store';

/** What a person does, by key, button or hand: each reads the stores, makes at most one edit and returns nothing. */

export function current() {
  const traced = tracedNow();
  const view = useView.getState();
  const outline =
    traced && (traced.outlines.find(({ id }) => id === view.outlineId) ?? traced.outlines[0] ?? null);
  return { traced, view, outline, source: traced ? sourceFrameOf(traced, view.frame) : 0 };
}

export const edit = (...args: Parameters<ReturnType<typeof useDocument.getState>['edit']>) =>
  useDocument.getState().edit(...args);

export function goTo(frame: number) {
  const length = useDocument.getState().document?.crossing.length ?? 1;
  setView({ frame: Math.min(length - 1, Math.max(0, Math.round(frame))), draft: null });
}

/** Goes to a frame, and selects all from where the selection began up to there. */
export function selectTo(frame: number) {
  const { frame: here, range } = useView.getState();
  const anchor = range ? (here === range[0] ? range[1] : range[0]) : here;
  goTo(frame);
  const to = useView.getState().frame;
  setView({ range: [Math.min(anchor, to), Math.max(anchor, to)], scope: 'selected' });
}

export function step(by: number) {
  setView({ playing: false });
  goTo(useView.getState().frame + by);
}

/**
 * Goes where a person has typed: `+12` or `-12` from here, `120` to that frame, `00:00:01:05` to that timecode.
 *
 * @returns a sentence when it cannot be read.
 */
export function jumpTo(typed: string): string | null {
  setView({ playing: false });
  if (/^[+-]\d+$/.test(typed)) step(Number(typed));
  else if (/^\d+$/.test(typed)) goTo(Number(typed));
  else {
    const { crossing } = useDocument.getState().document!;
    try {
      goTo(parseTimecode(typed, { num: crossing.rateNum, den: crossing.rateDen }));
    } catch (error) {
      return error instanceof RangeError ? error.message : String(error);
    }
  }
  return null;
}

/** Goes to the nearest frame with a pose of the outline in hand, ahead or back. */
export function goToPose(direction: 1 | -1) {
  const { traced, outline, source } = current();
  if (!traced || !outline) return;
  const frames = (traced.document.poses[outline.id] ?? []).map((pose) => pose.frame);
  const target =
    direction > 0 ? frames.find((frame) => frame > source) : frames.findLast((frame) => frame < source);
  if (target !== undefined) goToSource(traced, target);
}

export function goToSource(traced: Traced, source: number) {
  goTo(crossingFrameIn(traced, source));
}

export function togglePlaying() {
  const { playing } = useView.getState();
  setView({ playing: !playing, dropped: 0, draft: null });
}

export function showView(view: View) {
  setView({ view });
}

/** Shows both shots at once, in the way used last unless another is given. */
export function showBoth(bothView: BothView = useView.getState().bothView) {
  setView({ view: bothView, bothView });
}

/** The next way of seeing both shots. */
export function nextBoth() {
  const { view, bothView } = useView.getState();
  const at = bothViews.indexOf(bothView);
  showBoth((bothViews as readonly View[]).includes(view) ? bothViews[(at + 1) % bothViews.length] : bothView);
}

/** One pixel of the crossing to one of the screen; the picture, which knows its size, does it. */
export function showFullSize() {
  window.dispatchEvent(new Event('kiv-full-size'));
}

export function nextView(by: number) {
  const at = (views as readonly View[]).indexOf(useView.getState().view);
  showView(views[(at + by + views.length) % views.length]);
}

/** Coordinates that the outline in hand is drawn with at the current frame, posed or not. */
export function currentCoordinates(): readonly number[] | null {
  const { traced, outline, source } = current();
  return traced && outline ? startingCoordinates(traced.document.poses[outline.id] ?? [], source) : null;
}

function framePhrase(): string {
  return `frame ${useView.getState().frame}`;
}

function pointPhrase(count: number, all: number): string {
  return count === all ? 'outline' : count === 1 ? '1 point' : `${count} points`;
}

/** The row changes that give the outline in hand these coordinates at the current frame. */
export function poseChanges(coordinates: readonly number[]) {
  const { traced, outline, source } = current();
  if (!traced || !outline || outline.locked) return [];
  const takes = posesInScope();
  return takes
    ? setPoseAndOffset(traced.document, outline.id, source, coordinates, takes)
    : setPose(traced.document, outline.id, source, coordinates);
}

/** Which poses besides the one on this frame a change goes for, by their source frame; null: none. */
function posesInScope(): ((source: number) => boolean) | null {
  const { view } = current();
  if (view.scope === 'all') return () => true;
  return view.scope === 'selected' ? selectedSources() : null;
}

/** Whether the traced shot shows a source frame on the frames selected in the sheet. */
export function selectedSources(): (source: number) => boolean {
  const { traced, view } = current();
  const [first, last] = view.range ?? [view.frame, view.frame];
  const sources = new Set<number>();
  for (let frame = first; traced && frame <= last; frame++) sources.add(sourceFrameOf(traced, frame));
  return (source) => sources.has(source);
}

export function commitPose(what: string, coordinates: readonly number[]) {
  const { scope, range } = useView.getState();
  const where =
    scope === 'all'
      ? 'all poses'
      : scope === 'selected' && range
        ? `frames ${range[0]} to ${range[1]}`
        : framePhrase();
  edit(`${what}, ${where}`, poseChanges(coordinates));
  setView({ draft: null });
}

export function commitMove(coordinates: readonly number[], moved: number) {
  commitPose(`Move ${pointPhrase(moved, coordinates.length / numbersPerPoint)}`, coordinates);
}

/** The pose with some points moved, and others following as far as the soft reach goes. */
export function softMove(
  coordinates: readonly number[],
  points: ReadonlySet<number>,
  dx: number,
  dy: number,
) {
  const { view, outline } = current();
  return view.soft > 0
    ? softlyMoved(coordinates, points, dx, dy, view.soft, outline?.kind === 'loop')
    : movedPoints(coordinates, points, dx, dy);
}

/** Moves the selected points, or the whole outline when none is selected, by px of the shot. */
export function nudge(dx: number, dy: number) {
  const coordinates = currentCoordinates();
  if (!coordinates) return;
  const { points } = useView.getState();
  const all = coordinates.length / numbersPerPoint;
  const moved = points.size > 0 ? points : new Set(Array.from({ length: all }, (_, i) => i));
  commitMove(softMove(coordinates, moved, dx, dy), moved.size);
}

export function selectAllPoints() {
  const coordinates = currentCoordinates();
  if (coordinates)
    setView({ points: new Set(Array.from({ length: coordinates.length / numbersPerPoint }, (_, i) => i)) });
}

/** Makes an outline from what was drawn at the current frame. */
export function finishDrawing(kind: OutlineKind, coordinates: readonly number[]) {
  const { traced, source, view } = current();
  if (!traced) return;
  const count = coordinates.length / numbersPerPoint;
  const number = 1 + traced.outlines.filter((row) => row.kind === kind).length;
  const planned = nextOutline(traced.document, traced.layer.id);
  const name = planned.name ?? `${kind === 'seam' ? 'Seam' : 'Loop'} ${number}`;
  const outline = {
    id: crypto.randomUUID(),
    layerId: traced.layer.id,
    cutsLayerId: planned.cutsLayerId,
    name,
    kind,
    sweptSide: kind === 'seam' ? sideWithLess(coordinates, traced.shot) : ('right' as const),
    points: Array.from({ length: count }, () => crypto.randomUUID().slice(0, 8)),
  };
  edit(`Draw ${name}, frame ${view.frame}`, drawOutline(traced.document, outline, source, coordinates));
  setView({ outlineId: outline.id, tool: 'edit', points: new Set() });
}

export function flipSide() {
  const { traced, outline } = current();
  if (!traced || outline?.kind !== 'seam') return;
  edit(
    `Flip the swept side of ${outline.name}`,
    setOutline(traced.document, outline.id, { sweptSide: otherSide(outline.sweptSide) }),
  );
}

export function removeSelectedPoints(): string | null {
  const { traced, outline, view } = current();
  if (!traced || !outline || view.points.size === 0) return null;
  const locked = lockedNow();
  if (locked) return locked;
  const changes = removePoints(traced.document, outline.id, view.points);
  if (changes.length === 0)
    return `${outline.kind === 'seam' ? 'A seam needs two points' : 'A loop needs three points'}; delete the outline instead.`;
  edit(`Remove ${pointPhrase(view.points.size, 0)} of ${outline.name}`, changes);
  setView({ points: new Set() });
  return null;
}

export function addPointAt(segment: number, t: number) {
  const { traced, outline } = current();
  if (!traced || !outline) return;
  edit(
    `Add a point to ${outline.name}`,
    addPoint(traced.document, outline.id, segment, t, crypto.randomUUID().slice(0, 8)),
  );
  setView({ points: new Set([segment + 1]) });
}

/** Why the outline in hand is left alone, or null. */
function lockedNow(): string | null {
  const { outline } = current();
  return outline?.locked ? `${outline.name} is locked. Unlock it in Trace.` : null;
}

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
  if (!poseAtFrame(traced.document, outline.id, source)) return 'There is no pose on this frame.';
  const changes = removePose(traced.document, outline.id, source);
  if (changes.length === 0) return 'This is the outline’s only pose; delete the outline instead.';
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
  if (landed !== middle) return 'The middle of the longest gap lies outside the crossing.';
  return poseHere();
}

/** Takes superfluous poses away; returns what came of it. */
export function thinOutPoses(tolerance: number): string {
  const locked = lockedNow();
  if (locked) return locked;
  const { traced, outline } = current();
  const changes = traced && outline ? thinOut(traced.document, outline.id, tolerance) : [];
  if (changes.length === 0 || !outline)
    return `No pose can go: each is needed to stay within ${tolerance} px.`;
  edit(`Thin out ${outline.name}`, changes);
  return `${changes.length} ${changes.length === 1 ? 'pose is' : 'poses are'} gone; the line stays within ${tolerance} px. Ctrl Z brings them back.`;
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

const poseShelf = 'kiv-copied-pose';

/** Lays aside where the points are here, for other frames, outlines, shots and crossings of this browser. */
export function copyPoseHere(): string | null {
  const coordinates = currentCoordinates();
  if (!coordinates) return 'There is no outline to copy a pose of.';
  localStorage.setItem(poseShelf, JSON.stringify(coordinates));
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
  edit(`Put the copied pose, ${framePhrase()}`, setPose(traced.document, outline.id, source, copied));
  return null;
}

function copiedPose(): number[] | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(poseShelf) ?? 'null');
    return Array.isArray(kept) && kept.length > 0 && kept.every(Number.isFinite) ? (kept as number[]) : null;
  } catch {
    return null;
  }
}

export function deleteOutlineInHand() {
  const { traced, outline } = current();
  if (!traced || !outline) return;
  edit(`Delete ${outline.name}`, deleteOutline(traced.document, outline.id));
  setView({ outlineId: null, points: new Set() });
}

export function changeOutline(label: string, settings: Parameters<typeof setOutline>[2]) {
  const { traced, outline } = current();
  if (traced && outline)
    edit(`${label} of ${outline.name}`, setOutline(traced.document, outline.id, settings));
  setView({ draft: null });
}

/** Shows a setting while a slider is still in hand. */
export function draftOutline(settings: Parameters<typeof setOutline>[2]) {
  const { traced, outline } = current();
  if (traced && outline) setView({ draft: setOutline(traced.document, outline.id, settings) });
}
