import { rateOf } from '@/core/time/rate';
import { type BothView, bothViews, views, type View } from '@/core/compose/scene';
import { nextOutline } from '@/core/document/plans';
import {
  addPoint,
  deleteOutline,
  drawOutline,
  pointIds,
  movedPoints,
  removePoints,
  setOutline,
  setPose,
  setPoseAndOffset,
} from '@/core/actions/actions';
import { numbersPerPoint, type OutlineKind } from '@/core/model/choices';
import { sideAtFirst } from '@/core/edge/swept-side';
import { softlyMoved, startingCoordinates } from '@/core/outline';
import { parseTimecode } from '@/core/time/timecode';
import { useDocument } from '../document/document-store';
import { chooseSide, judgeByMovement, judgeByPoses } from '../hand/swept-side';
import { crossingFrameIn, sourceFrameOf, type Traced, tracedNow } from './traced';
import { type DrawnBy, setView, useView } from '../view-store';

/** What a person does, by key, button or hand: each reads the stores, makes at most one edit and returns nothing. */

export function current() {
  const traced = tracedNow();
  const view = useView.getState();
  const outline =
    traced && (traced.outlines.find(({ id }) => id === view.outlineId) ?? traced.outlines[0] ?? null);
  return { traced, view, outline, source: traced ? sourceFrameOf(traced, view.frame) : 0 };
}

type EditArguments = Parameters<ReturnType<typeof useDocument.getState>['edit']>;
type OwnEditListener = (changes: EditArguments[1]) => void;
const ownEditListeners = new Set<OwnEditListener>();

/** Hears of what is edited here, by hand or command; not of undo, redo or other windows. */
export function onOwnEdit(listener: OwnEditListener): () => void {
  ownEditListeners.add(listener);
  return () => ownEditListeners.delete(listener);
}

export const edit = (...args: EditArguments) => {
  const done = useDocument.getState().edit(...args);
  if (done) ownEditListeners.forEach((listener) => listener(args[1]));
  return done;
};

export function goTo(frame: number) {
  const length = useDocument.getState().document?.crossing.length ?? 1;
  const { sideNote } = useView.getState();
  setView({
    frame: Math.min(length - 1, Math.max(0, Math.round(frame))),
    draft: null,
    // What is sure has been said; a guess stays until somebody decides.
    ...(sideNote?.judged.sure ? { sideNote: null } : {}),
  });
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
      goTo(parseTimecode(typed, rateOf(crossing)));
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

/** Folds both columns away, or brings them back. */
export function toggleFullPicture() {
  const { stepsFolded, sheetFolded } = useView.getState();
  const folded = !(stepsFolded && sheetFolded);
  setView({ stepsFolded: folded, sheetFolded: folded });
}

/** Width of window, px, below which the sheet is narrow unless told otherwise. */
export const narrowWindow = 1180;

export function toggleNarrowSheet() {
  const { sheetNarrow } = useView.getState();
  setView({ sheetFolded: false, sheetNarrow: !(sheetNarrow ?? window.innerWidth <= narrowWindow) });
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

export function framePhrase(): string {
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
  judgeByPoses();
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
  const judged = kind === 'seam' ? sideAtFirst(coordinates, traced.shot, source) : null;
  const outline = {
    id: crypto.randomUUID(),
    layerId: traced.layer.id,
    cutsLayerId: planned.cutsLayerId,
    name,
    kind,
    sweptSide: judged?.swept ?? ('right' as const),
    points: pointIds(count, () => crypto.randomUUID()),
  };
  edit(`Draw ${name}, frame ${view.frame}`, drawOutline(traced.document, outline, source, coordinates));
  setView({
    outlineId: outline.id,
    tool: 'edit',
    points: new Set(),
    sideNote: judged && { outlineId: outline.id, judged },
  });
  if (judged) void judgeByMovement(outline.id, traced.shot.id, source);
}

/** Goes on to the next way of drawing seams and loops. */
export function nextDrawnBy() {
  const ways: DrawnBy[] = ['points', 'freehand', 'edge'];
  setView(({ drawnBy }) => ({ drawnBy: ways[(ways.indexOf(drawnBy) + 1) % ways.length] }));
}

export function flipSide() {
  const { traced, outline } = current();
  if (!traced || outline?.kind !== 'seam') return;
  chooseSide(outline.id, true);
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
    addPoint(traced.document, outline.id, segment, t, pointIds(1, () => crypto.randomUUID())[0]),
  );
  setView({ points: new Set([segment + 1]) });
}

/** Why the outline in hand is left alone, or null. */
export function lockedNow(): string | null {
  const { outline } = current();
  return outline?.locked ? `${outline.name} is locked. Unlock it in Trace.` : null;
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
