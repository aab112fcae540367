import { bilinear, type PicturePlanes, shotToPlanes } from '../picture/planes';
import type { OutlineRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { flattenOutline, regionSide } from '../outline';

/** A stretch of line walked in even steps, with the direction into its region at each. */
export interface Walk {
  /** x, y of each place, px of the shot. */
  places: Float64Array;
  /** Unit vector into the region at each place. */
  inward: Float64Array;
  /** px between places. */
  step: number;
}

/** px along the line over which its direction is taken, so that a point's corner does not fan the strip out. */
const smoothing = 6;

/**
 * Walks an outline in steps of about `step` px, as far as it lies in the shot's frame.
 *
 * @param coordinates of its pose, px of the shot.
 */
export function walkOutline(
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
  coordinates: readonly number[],
  shot: { width: number; height: number },
  step: number,
): Walk {
  const closed = outline.kind === 'loop';
  const line = flattenOutline(coordinates, closed, 1, 0.1);
  if (closed) line.push(line[0], line[1]);
  const lengths = [0];
  for (let i = 2; i < line.length; i += 2)
    lengths.push(lengths[i / 2 - 1] + Math.hypot(line[i] - line[i - 2], line[i + 1] - line[i - 1]));
  const whole = lengths[lengths.length - 1] ?? 0;
  const side = regionSide(outline, line);
  let at = 1;
  const placeAt = (far: number): [number, number] => {
    while (at < lengths.length - 1 && lengths[at] < far) at++;
    while (at > 1 && lengths[at - 1] > far) at--;
    const t = (far - lengths[at - 1]) / (lengths[at] - lengths[at - 1] || 1);
    const i = 2 * at;
    return [line[i - 2] + (line[i] - line[i - 2]) * t, line[i - 1] + (line[i + 1] - line[i - 1]) * t];
  };
  const places: number[] = [];
  const inward: number[] = [];
  for (let far = step / 2; far < whole; far += step) {
    const [x, y] = placeAt(far);
    if (x < 0 || y < 0 || x > shot.width || y > shot.height) continue;
    const [ax, ay] = placeAt(Math.max(0, far - smoothing));
    const [bx, by] = placeAt(Math.min(whole, far + smoothing));
    const length = Math.hypot(bx - ax, by - ay) || 1;
    places.push(x, y);
    // Seen along the line, y down, its right lies at (−dy, dx).
    inward.push((-side * (by - ay)) / length, (side * (bx - ax)) / length);
  }
  return { places: Float64Array.from(places), inward: Float64Array.from(inward), step };
}

/**
 * The picture around a line, straightened: a column for each place of the walk, a row for each place across it, from
 * `reach` px outside the region to `reach` px inside. Samples beyond the picture are NaN.
 */
export interface Strip {
  columns: number;
  rows: number;
  /** px across from row to row. */
  across: number;
  reach: number;
  y: Float32Array;
  u: Float32Array;
  v: Float32Array;
}

export function straighten(
  planes: PicturePlanes,
  shot: Shot,
  walk: Walk,
  reach: number,
  across: number,
): Strip {
  const columns = walk.places.length / 2;
  const rows = 2 * Math.round(reach / across) + 1;
  const [y, u, v] = [0, 1, 2].map(() => new Float32Array(columns * rows).fill(NaN));
  const [a, b, c, d, e, f] = shotToPlanes(shot, planes);
  const perChromaX = planes.chromaWidth / planes.width;
  const perChromaY = planes.chromaHeight / planes.height;
  for (let row = 0; row < rows; row++) {
    const depth = (row - (rows - 1) / 2) * across;
    for (let k = 0; k < columns; k++) {
      const sx = walk.places[2 * k] + walk.inward[2 * k] * depth;
      const sy = walk.places[2 * k + 1] + walk.inward[2 * k + 1] * depth;
      if (sx < 0 || sy < 0 || sx > shot.width || sy > shot.height) continue;
      const px = a * sx + c * sy + e;
      const py = b * sx + d * sy + f;
      const i = row * columns + k;
      y[i] = bilinear(planes.y, planes.width, planes.height, px - 0.5, py - 0.5);
      const cx = (px - 0.5) * perChromaX;
      const cy = py * perChromaY - 0.5;
      u[i] = bilinear(planes.u, planes.chromaWidth, planes.chromaHeight, cx, cy);
      v[i] = bilinear(planes.v, planes.chromaWidth, planes.chromaHeight, cx, cy);
    }
  }
  return { columns, rows, across, reach: ((rows - 1) / 2) * across, y, u, v };
}
