import { numbersPerPoint as N, type OutlineKind } from '@/core/model/choices';
import { fitOutline } from '@/core/geometry/fit-curve';
import type { Place } from '@/core/trail/edge-trail';

/**
 * An outline while it is being drawn, in shot px: point by point, where the last point's handles follow the pressed
 * pointer; freehand, along the trail of the pointer; along the picture's edge from press to press; or as a shape between the
 * corner pressed and the pointer.
 */
export type Drawing =
  | { by: 'points'; kind: OutlineKind; coordinates: number[]; pulling: boolean }
  | { by: 'trail'; kind: OutlineKind; trail: number[] }
  | EdgeDrawing
  | { by: 'corners'; shape: 'rectangle' | 'ellipse'; from: [number, number]; to: [number, number] };

/** Stretches of line from one press to the next, x, y by turns, and the one from the last press to the pointer. */
export interface EdgeDrawing {
  by: 'edge';
  kind: OutlineKind;
  presses: Place[];
  /** One fewer than there are presses. */
  stretches: number[][];
  live: number[];
}

export type PointDrawing = Extract<Drawing, { by: 'points' }>;

export function begun(kind: OutlineKind, x: number, y: number): PointDrawing {
  return { by: 'points', kind, coordinates: [x, y, 0, 0, 0, 0], pulling: true };
}

export function withPoint(drawing: PointDrawing, x: number, y: number): PointDrawing {
  return { ...drawing, coordinates: [...drawing.coordinates, x, y, 0, 0, 0, 0], pulling: true };
}

/** Turns the newest point into a curve whose handles reach to and away from the pointer. */
export function pulled(drawing: PointDrawing, x: number, y: number, least: number): PointDrawing {
  const coordinates = drawing.coordinates.slice();
  const i = coordinates.length - N;
  const [dx, dy] = [x - coordinates[i], y - coordinates[i + 1]];
  const far = Math.hypot(dx, dy) >= least;
  coordinates.splice(i + 2, 4, ...(far ? [-dx, -dy, dx, dy] : [0, 0, 0, 0]));
  return { ...drawing, coordinates };
}

export function begunOnEdge(kind: OutlineKind, at: Place): EdgeDrawing {
  return { by: 'edge', kind, presses: [at], stretches: [], live: [] };
}

/** px from one place of a straight stretch to the next: as far as along an edge, since they are fitted together. */
const straightStep = 2;

/** A straight stretch from one press to the next. */
export function straightTo(from: Place, to: Place): number[] {
  const count = Math.max(1, Math.round(Math.hypot(to[0] - from[0], to[1] - from[1]) / straightStep));
  return Array.from({ length: count }, (_, k) => (k + 1) / count).flatMap((t) => [
    from[0] + t * (to[0] - from[0]),
    from[1] + t * (to[1] - from[1]),
  ]);
}

/** The drawing with one press more, and the stretch that leads to it. */
export function withStretch(drawing: EdgeDrawing, to: Place, line: number[]): EdgeDrawing {
  const { presses, stretches } = drawing;
  return { ...drawing, presses: [...presses, to], stretches: [...stretches, line], live: [] };
}

/** The drawing without its newest point or stretch; nothing when that was its first, or when it is made in one go. */
export function withoutLast(drawing: Drawing): Drawing | null {
  if (drawing.by === 'edge' && drawing.presses.length > 1)
    return {
      ...drawing,
      presses: drawing.presses.slice(0, -1),
      stretches: drawing.stretches.slice(0, -1),
      live: [],
    };
  return drawing.by === 'points' && drawing.coordinates.length > N
    ? { ...drawing, coordinates: drawing.coordinates.slice(0, -N), pulling: false }
    : null;
}

/** Handle length of a quarter of a circle, in radii: off by 0.03 % at most. */
const quarter = (4 / 3) * (Math.SQRT2 - 1);

function cornersAt(places: readonly number[]): number[] {
  const coordinates: number[] = [];
  for (let i = 0; i < places.length; i += 2) coordinates.push(places[i], places[i + 1], 0, 0, 0, 0);
  return coordinates;
}

/** The whole line that has been pressed down. */
function lineOf({ presses, stretches }: EdgeDrawing): number[] {
  return [...presses[0], ...stretches.flat()];
}

/** What is drawn as it would be a pose, but for a trail or a line along the edge, which is still to be fitted. */
export function drawnCoordinates(drawing: Drawing): number[] {
  if (drawing.by === 'points') return drawing.coordinates;
  if (drawing.by === 'trail') return cornersAt(drawing.trail);
  if (drawing.by === 'edge') return cornersAt([...lineOf(drawing), ...drawing.live]);
  const [x0, x1] = [drawing.from[0], drawing.to[0]].sort((a, b) => a - b);
  const [y0, y1] = [drawing.from[1], drawing.to[1]].sort((a, b) => a - b);
  if (drawing.shape === 'rectangle')
    return [x0, y0, 0, 0, 0, 0, x1, y0, 0, 0, 0, 0, x1, y1, 0, 0, 0, 0, x0, y1, 0, 0, 0, 0];
  const [cx, cy, rx, ry] = [(x0 + x1) / 2, (y0 + y1) / 2, (x1 - x0) / 2, (y1 - y0) / 2];
  const [hx, hy] = [rx * quarter, ry * quarter];
  return [
    ...[cx, y0, -hx, 0, hx, 0],
    ...[x1, cy, 0, -hy, 0, hy],
    ...[cx, y1, hx, 0, -hx, 0],
    ...[x0, cy, 0, hy, 0, -hy],
  ];
}

/** px within which the points follow a line along the picture's edge: about as far as that is off itself. */
const edgeTolerance = 1.5;

/** The drawing as it becomes an outline: what was traced is given the fewest points that follow it within `tolerance` px. */
export function finished(drawing: Drawing, tolerance: number): { kind: OutlineKind; coordinates: number[] } {
  const kind = kindOf(drawing);
  const coordinates =
    drawing.by === 'trail'
      ? fitOutline(drawing.trail, tolerance, kind === 'loop')
      : drawing.by === 'edge'
        ? fitOutline(lineOf(drawing), Math.min(tolerance, edgeTolerance), kind === 'loop')
        : drawnCoordinates(drawing);
  return { kind, coordinates };
}

export function kindOf(drawing: Drawing): OutlineKind {
  return drawing.by === 'corners' ? 'loop' : drawing.kind;
}

/** Whether coordinates are enough to be an outline, and large enough to be meant as one. */
export function isEnough(kind: OutlineKind, coordinates: readonly number[]): boolean {
  const points = coordinates.length / N;
  if (points < (kind === 'seam' ? 2 : 3)) return false;
  const [xs, ys] = [0, 1].map((k) => coordinates.filter((_, i) => i % N === k));
  return Math.max(...xs) - Math.min(...xs) + Math.max(...ys) - Math.min(...ys) > 2;
}
