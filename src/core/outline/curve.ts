import { type Cubic, flatteningSteps, pointAt } from '../geometry/bezier';
import { numbersPerPoint as N } from '../model/choices';

/** Number of points of a pose. */
export function pointCount(coordinates: ArrayLike<number>): number {
  return coordinates.length / N;
}

/** Number of curve segments of a pose; a loop's last one leads back to its first point. */
export function segmentCount(coordinates: ArrayLike<number>, closed: boolean): number {
  const points = pointCount(coordinates);
  return closed && points > 1 ? points : Math.max(0, points - 1);
}

/** The cubic from point `segment` to the next. */
export function segmentCubic(coordinates: ArrayLike<number>, segment: number): Cubic {
  const i = segment * N;
  const j = ((segment + 1) % pointCount(coordinates)) * N;
  const c = coordinates;
  return [
    c[i],
    c[i + 1],
    c[i] + c[i + 4],
    c[i + 1] + c[i + 5],
    c[j] + c[j + 2],
    c[j + 1] + c[j + 3],
    c[j],
    c[j + 1],
  ];
}

/**
 * The outline as a polyline (x, y, x, y …) within `tolerance` of the curve, both scaled by `scale`; a loop's
 * first point is not repeated at its end.
 *
 * @param tolerance in scaled pixels.
 * @param visit told of every point of the polyline: its segment, and the parameter on it.
 */
export function flattenOutline(
  coordinates: ArrayLike<number>,
  closed: boolean,
  scale = 1,
  tolerance = 0.02,
  visit?: (segment: number, t: number) => void,
): number[] {
  const polyline: number[] = [];
  const segments = segmentCount(coordinates, closed);
  for (let s = 0; s < segments; s++) {
    const cubic = segmentCubic(coordinates, s).map((value) => value * scale) as unknown as Cubic;
    if (s === 0) {
      polyline.push(cubic[0], cubic[1]);
      visit?.(0, 0);
    }
    const steps = flatteningSteps(cubic, tolerance);
    const last = closed && s === segments - 1 ? steps - 1 : steps;
    for (let k = 1; k <= last; k++) {
      polyline.push(...(k === steps ? [cubic[6], cubic[7]] : pointAt(cubic, k / steps)));
      visit?.(s, k / steps);
    }
  }
  return polyline;
}
