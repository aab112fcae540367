import { numbersPerPoint as N } from '@/core/document/rows';

/** An outline while it is being drawn, in shot px; the last point's handles follow the pressed pointer. */
export interface Drawing {
  kind: 'seam' | 'loop';
  coordinates: number[];
  /** True while the pointer is down on the newest point. */
  pulling: boolean;
}

export function begun(kind: 'seam' | 'loop', x: number, y: number): Drawing {
  return { kind, coordinates: [x, y, 0, 0, 0, 0], pulling: true };
}

export function withPoint(drawing: Drawing, x: number, y: number): Drawing {
  return { ...drawing, coordinates: [...drawing.coordinates, x, y, 0, 0, 0, 0], pulling: true };
}

/** Turns the newest point into a curve whose handles reach to and away from the pointer. */
export function pulled(drawing: Drawing, x: number, y: number, least: number): Drawing {
  const coordinates = drawing.coordinates.slice();
  const i = coordinates.length - N;
  const [dx, dy] = [x - coordinates[i], y - coordinates[i + 1]];
  const far = Math.hypot(dx, dy) >= least;
  coordinates.splice(i + 2, 4, ...(far ? [-dx, -dy, dx, dy] : [0, 0, 0, 0]));
  return { ...drawing, coordinates };
}

export function withoutLast(drawing: Drawing): Drawing | null {
  return drawing.coordinates.length > N
    ? { ...drawing, coordinates: drawing.coordinates.slice(0, -N), pulling: false }
    : null;
}

/** Whether there is enough of it to be an outline. */
export function isEnough({ kind, coordinates }: Drawing): boolean {
  return coordinates.length / N >= (kind === 'seam' ? 2 : 3);
}
