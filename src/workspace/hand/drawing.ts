import { numbersPerPoint as N, type OutlineKind } from '@/core/document/rows';
import { fitOutline } from '@/core/geometry/fit-curve';

/**
 * An outline while it is being drawn, in shot px: point by point, where the last point's handles follow the pressed
 * pointer; freehand, along the trail of the pointer; or as a shape between the corner pressed and the pointer.
 */
export type Drawing =
  | { by: 'points'; kind: OutlineKind; coordinates: number[]; pulling: boolean }
  | { by: 'trail'; kind: OutlineKind; trail: number[] }
  | { by: 'corners'; shape: 'rectangle' | 'ellipse'; from: [number, number]; to: [number, number] };

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

/** The drawing without its newest point; nothing when that was its first, or when it is made in one go. */
export function withoutLast(drawing: Drawing): Drawing | null {
  return drawing.by === 'points' && drawing.coordinates.length > N
    ? { ...drawing, coordinates: drawing.coordinates.slice(0, -N), pulling: false }
    : null;
}

/** Handle length of a quarter of a circle, in radii: off by 0.03 % at most. */
const quarter = (4 / 3) * (Math.SQRT2 - 1);

/** What is drawn as it would be a pose, but for a trail, which is still to be fitted. */
export function drawnCoordinates(drawing: Drawing): number[] {
  if (drawing.by === 'points') return drawing.coordinates;
  if (drawing.by === 'trail') {
    const coordinates: number[] = [];
    for (let i = 0; i < drawing.trail.length; i += 2)
      coordinates.push(drawing.trail[i], drawing.trail[i + 1], 0, 0, 0, 0);
    return coordinates;
  }
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

/** The drawing as it becomes an outline: a trail is given the fewest points that follow it within `tolerance` px. */
export function finished(drawing: Drawing, tolerance: number): { kind: OutlineKind; coordinates: number[] } {
  const kind = kindOf(drawing);
  const coordinates =
    drawing.by === 'trail'
      ? fitOutline(drawing.trail, tolerance, kind === 'loop')
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
