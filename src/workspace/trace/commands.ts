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
import { softlyMoved } from '@/core/outline';
import { chooseSide, judgeByMovement, judgeByPoses } from './swept-side';
import { type DrawnBy, setView, useView } from '../view/view-store';
import { current, framePhrase, currentCoordinates, lockedNow } from '../session/in-hand';
import { edit } from '../session/edit';
import { posesInScope } from '../session/scope';

/** Tracing's commands, by key, button or hand: each reads the stores and makes at most one edit. */

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
    purpose: planned.purpose,
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
    return `${outline.kind === 'seam' ? 'A seam needs two points' : 'A loop needs three points'}; remove the outline instead.`;
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

export function deleteOutlineInHand() {
  const { traced, outline } = current();
  if (!traced || !outline) return;
  edit(`Remove ${outline.name}`, deleteOutline(traced.document, outline.id));
  setView({ outlineId: null, points: new Set() });
}

export function changeOutline(label: string, settings: Parameters<typeof setOutline>[2]) {
  const { traced, outline } = current();
  if (traced && outline)
    edit(`${label} of ${outline.name}`, setOutline(traced.document, outline.id, settings));
  setView({ draft: null });
}
