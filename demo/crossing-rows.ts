import {
  type OutlineRow,
  plainCrossing,
  plainLayer,
  plainOutline,
  plainPose,
  type PoseRow,
  poseId,
} from '../src/core/document/tables';
import { numbersPerPoint } from '../src/core/model/choices';
import type { Polygon } from './frame';

/** Rows of the demo's crossings. */

export const id = (last: string) => `6f1c0b52-6f0e-4c57-9a8b-0d6a6c0a1e${last}`;
export const size = { ...plainCrossing, width: 1280, height: 720, rateNum: 25, rateDen: 1 };

export const layer = (last: string, role: string, shotFile: string, position: number, rest: object = {}) => ({
  ...plainLayer,
  id: id(last),
  role,
  shotFile,
  position,
  ...rest,
});

export const outline = (
  last: string,
  layerId: string,
  rest: Partial<OutlineRow> & { points: string[] },
): OutlineRow => ({
  ...plainOutline,
  id: id(last),
  layerId: id(layerId),
  cutsLayerId: null,
  name: 'Edge',
  kind: 'seam',
  sweptSide: 'right',
  position: 0,
  featherInside: 7,
  featherOutside: 7,
  ...rest,
});

export const pose = (outlineId: string, frame: number, coordinates: number[]): PoseRow => ({
  id: poseId(outlineId, frame),
  outlineId,
  frame,
  ...plainPose,
  origin: 'by hand',
  onward: 'linear',
  coordinates,
});

/** To a hundredth of a px. */
export const hundredth = (value: number) => Math.round(value * 100) / 100;

/** Corners without handles. */
export function cornersOf(polygon: Polygon): number[] {
  const coordinates: number[] = [];
  for (let i = 0; i < polygon.length; i += 2) coordinates.push(polygon[i], polygon[i + 1], 0, 0, 0, 0);
  return coordinates;
}

/** Rows, as indices of the edge's list, at which a person would put a point down a back. */
export const chosen = [0, 10, 14, 24, 36, 52, 70, 89];

/** A pose through the edge at the chosen rows, with handles a third of the way along the curve (Catmull-Rom). */
export function poseAlong(rows: number[], edge: (number | null)[]): number[] {
  const at = chosen.map((k) => {
    const x = edge[k];
    if (x === null) throw new Error(`The edge does not reach row ${rows[k]}.`);
    return [x, rows[k]];
  });
  const coordinates: number[] = [];
  at.forEach(([x, y], k) => {
    const [px, py] = at[Math.max(0, k - 1)];
    const [nx, ny] = at[Math.min(at.length - 1, k + 1)];
    const slope = (nx - px) / (ny - py);
    const handle = (toY: number) => [((toY - y) / 3) * slope, (toY - y) / 3].map(rounded);
    coordinates.push(
      rounded(x),
      y,
      ...(k === 0 ? [0, 0] : handle(py)),
      ...(k === at.length - 1 ? [0, 0] : handle(ny)),
    );
  });
  if (coordinates.length !== chosen.length * numbersPerPoint) throw new Error('A pose is incomplete.');
  return coordinates;
}

function rounded(value: number): number {
  return Math.round(value * 100) / 100;
}
