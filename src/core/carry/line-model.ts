import { type Affine, applyAffine } from '../geometry/affine';
import type { EdgeLine } from '../edge/straight';
import { solved } from '../numbers/cholesky';

/** A stretch of line without a corner that is followed by itself. */
export interface Run {
  line: EdgeLine;
  /** For each place, where along the run before it lies: an index between its places. */
  cameFrom: Float64Array;
}

/** A line whose places are moved across: a seam by rows of its own, a loop by its corner points. */
export interface LineModel {
  /** The runs as they lie now; directions away from the side that is on the left of a run walked forward. */
  readonly runs: readonly Run[];
  /** The model moved by each run's similarity and its places' own movement across, px. */
  moved(maps: readonly Affine[], own: readonly Float64Array[]): LineModel;
  /** The model with its places moved by `offsets` across, as far as its shape goes along; `weights` say how sure each is. */
  offset(offsets: readonly Float64Array[], weights: readonly Float64Array[]): LineModel;
  /** The model with its points where these are: the same rows of a seam, the same corners of a loop. */
  through(points: readonly (readonly [number, number])[]): LineModel;
  /** The model with its places as near to each other on both of two lines: a side of a loop may be long on one of them only. */
  denseFor(other: LineModel): LineModel;
  /** x, y of its points: of a seam its places, of a loop its corners. */
  points(): [number, number][];
}

function emptyLine(count: number): EdgeLine {
  const [x, y, nx, ny] = [0, 1, 2, 3].map(() => new Float64Array(count));
  return { count, x, y, nx, ny, room: [Infinity, Infinity] };
}

function unmoved(count: number): Float64Array {
  return Float64Array.from({ length: count }, (_, i) => i);
}

/** A seam's rows: places every `spacing` px along an axis that stays, each at a height of its own over it. */
interface Rows {
  ox: number;
  oy: number;
  ax: number;
  ay: number;
  spacing: number;
}

/**
 * A seam: each place lies on a line of its own across the seam's chord, every `spacing` px of it, and moves on that
 * line only. So nothing slides along the edge, and places neither bunch nor part.
 */
export class SeamModel implements LineModel {
  readonly runs: readonly Run[];

  private constructor(
    private readonly rows: Rows,
    private readonly heights: Float64Array,
    cameFrom: Float64Array,
  ) {
    const { ox, oy, ax, ay, spacing } = rows;
    const line = emptyLine(heights.length);
    for (let i = 0; i < heights.length; i++) {
      // Across: to the right of the axis walked forward, y down.
      line.x[i] = ox + ax * i * spacing - ay * heights[i];
      line.y[i] = oy + ay * i * spacing + ax * heights[i];
      line.nx[i] = -ay;
      line.ny[i] = ax;
    }
    this.runs = [{ line, cameFrom }];
  }

  /** @param points x, y along the seam, from its first point to its last. */
  static along(points: readonly (readonly [number, number])[], spacing: number): SeamModel {
    const [first, last] = [points[0], points[points.length - 1]];
    let [dx, dy] = [last[0] - first[0], last[1] - first[1]];
    // Nearly upright or level it is taken as that: its ends stay at the frame's border however far it goes across.
    if (Math.abs(dx) < 0.5 * Math.abs(dy)) dx = 0;
    else if (Math.abs(dy) < 0.5 * Math.abs(dx)) dy = 0;
    const length = Math.hypot(dx, dy);
    const [ax, ay] = [dx / length, dy / length];
    // From end to end in whole rows.
    const count = Math.max(3, Math.round(length / spacing) + 1);
    const rows = { ox: first[0], oy: first[1], ax, ay, spacing: length / (count - 1) };
    const { heights, cameFrom } = over(rows, count, points);
    return new SeamModel(rows, heights, cameFrom);
  }

  moved(maps: readonly Affine[], own: readonly Float64Array[]): SeamModel {
    const { line } = this.runs[0];
    const points: [number, number][] = [];
    for (let i = 0; i < line.count; i++)
      points.push(
        applyAffine(maps[0], line.x[i] + own[0][i] * line.nx[i], line.y[i] + own[0][i] * line.ny[i]),
      );
    const { heights, cameFrom } = over(this.rows, line.count, points);
    return new SeamModel(this.rows, heights, cameFrom);
  }

  offset(offsets: readonly Float64Array[]): SeamModel {
    const heights = this.heights.map((height, i) => height + offsets[0][i]);
    return new SeamModel(this.rows, heights, unmoved(heights.length));
  }

  through(points: readonly (readonly [number, number])[]): SeamModel {
    const { heights, cameFrom } = over(this.rows, this.heights.length, points);
    return new SeamModel(this.rows, heights, cameFrom);
  }

  denseFor(): SeamModel {
    return this;
  }

  points(): [number, number][] {
    const { line } = this.runs[0];
    return Array.from({ length: line.count }, (_, i) => [line.x[i], line.y[i]]);
  }
}

/** Heights of a polyline over the rows; where it lies over one several times, the outermost on its right; beyond its ends, as at them. */
function over(rows: Rows, count: number, points: readonly (readonly [number, number])[]) {
  const { ox, oy, ax, ay, spacing } = rows;
  const heights = new Float64Array(count).fill(NaN);
  const cameFrom = new Float64Array(count);
  const at = points.map(([x, y]) => [
    ((x - ox) * ax + (y - oy) * ay) / spacing,
    -(x - ox) * ay + (y - oy) * ax,
  ]);
  for (let k = 0; k + 1 < at.length; k++) {
    const [[u0, h0], [u1, h1]] = [at[k], at[k + 1]];
    const [low, high] = u0 < u1 ? [u0, u1] : [u1, u0];
    for (let i = Math.max(0, Math.ceil(low - 1e-6)); i <= Math.min(count - 1, Math.floor(high + 1e-6)); i++) {
      const share = high - low < 1e-9 ? 0 : (i - u0) / (u1 - u0);
      const height = h0 + (h1 - h0) * share;
      if (!(heights[i] >= height)) {
        heights[i] = height;
        cameFrom[i] = k + share;
      }
    }
  }
  const known = heights.findIndex((height) => height === height);
  if (known < 0) return { heights: heights.fill(0), cameFrom };
  let last = count - 1;
  while (heights[last] !== heights[last]) last--;
  for (let i = 0; i < known; i++) [heights[i], cameFrom[i]] = [heights[known], cameFrom[known]];
  for (let i = last + 1; i < count; i++) [heights[i], cameFrom[i]] = [heights[last], cameFrom[last]];
  return { heights, cameFrom };
}

/** Half of how wide a polygon is, on its inner side; directions are to the right of its sides walked forward. */
function roomWithin(corners: readonly (readonly [number, number])[]): [number, number] {
  let [area, length] = [0, 0];
  for (let j = 0; j < corners.length; j++) {
    const [[ax, ay], [bx, by]] = [corners[j], corners[(j + 1) % corners.length]];
    area += (ax * by - bx * ay) / 2;
    length += Math.hypot(bx - ax, by - ay);
  }
  const half = Math.max(6, Math.abs(area) / length);
  return area > 0 ? [Infinity, half] : [half, Infinity];
}

type Corner = readonly [number, number];

function placesOn([ax, ay]: Corner, [bx, by]: Corner, spacing: number): number {
  return Math.max(2, Math.round(Math.hypot(bx - ax, by - ay) / spacing));
}

/** Bend, radians, from which a loop's point is a corner that parts its runs. */
const sharp = 0.6;

/** A loop: a polygon whose sides are followed by themselves, from corner to corner, and whose points follow from them. */
export class LoopModel implements LineModel {
  readonly runs: readonly Run[];
  /** For each run and place: the point before it, and how far to the next, 0 to 1. */
  private readonly held: { point: Int32Array; share: Float64Array }[] = [];

  private constructor(
    private readonly corners: readonly (readonly [number, number])[],
    /** First point of each run, and places on each side; the same for all frames. */
    private readonly parts: readonly number[],
    private readonly perSide: readonly number[],
    /** px between places where there are fewest. */
    private readonly spacing: number,
  ) {
    const n = corners.length;
    const room = roomWithin(corners);
    const sideNormal = (j: number): [number, number] => {
      const [[x0, y0], [x1, y1]] = [corners[j % n], corners[(j + 1) % n]];
      const length = Math.hypot(x1 - x0, y1 - y0) || 1;
      return [-(y1 - y0) / length, (x1 - x0) / length];
    };
    this.runs = parts.map((start, r) => {
      const end =
        parts.length === 1 ? start + n : parts[(r + 1) % parts.length] + (r + 1 < parts.length ? 0 : n);
      const sides = Array.from({ length: end - start }, (_, k) => start + k);
      const count = sides.reduce((sum, side) => sum + perSide[side % n], 0);
      const line: EdgeLine = { ...emptyLine(count), room };
      const point = new Int32Array(count);
      const share = new Float64Array(count);
      let i = 0;
      for (const side of sides) {
        const [a, b] = [corners[side % n], corners[(side + 1) % n]];
        const own = sideNormal(side);
        // Towards a neighbouring side of the same run the direction turns gradually.
        const before = side > start ? sideNormal(side - 1) : own;
        const after = side + 1 < end ? sideNormal(side + 1) : own;
        for (let k = 0; k < perSide[side % n]; k++, i++) {
          const t = (k + 0.5) / perSide[side % n];
          line.x[i] = a[0] + (b[0] - a[0]) * t;
          line.y[i] = a[1] + (b[1] - a[1]) * t;
          const [wa, wb] = [Math.max(0, 0.5 - t), Math.max(0, t - 0.5)];
          const nx = own[0] * (1 - wa - wb) + before[0] * wa + after[0] * wb;
          const ny = own[1] * (1 - wa - wb) + before[1] * wa + after[1] * wb;
          const length = Math.hypot(nx, ny) || 1;
          line.nx[i] = nx / length;
          line.ny[i] = ny / length;
          point[i] = side % n;
          share[i] = t;
        }
      }
      this.held.push({ point, share });
      return { line, cameFrom: unmoved(count) };
    });
  }

  static around(corners: readonly (readonly [number, number])[], spacing: number): LoopModel {
    const n = corners.length;
    const parts: number[] = [];
    const perSide: number[] = [];
    for (let j = 0; j < n; j++) {
      const [a, b, c] = [corners[(j + n - 1) % n], corners[j], corners[(j + 1) % n]];
      const bend = Math.atan2(
        (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]),
        (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]),
      );
      if (Math.abs(bend) > sharp) parts.push(j);
      perSide.push(placesOn(b, c, spacing));
    }
    return new LoopModel(corners, parts.length > 0 ? parts : [0], perSide, spacing);
  }

  moved(maps: readonly Affine[], own: readonly Float64Array[]): LoopModel {
    const along = this.runs.map(({ line }, r) => {
      const across = new Float64Array(line.count);
      for (let i = 0; i < line.count; i++) {
        const [x, y] = applyAffine(maps[r], line.x[i], line.y[i]);
        across[i] = (x - line.x[i]) * line.nx[i] + (y - line.y[i]) * line.ny[i] + own[r][i];
      }
      return across;
    });
    const weights = this.runs.map(({ line }) => new Float64Array(line.count).fill(1));
    // What the sides say nothing of goes with the mean of the maps.
    const n = this.corners.length;
    const drift = this.corners.map(() => [0, 0, 0]);
    for (let r = 0; r < this.runs.length; r++)
      for (const j of new Set([...this.held[r].point].flatMap((p) => [p, (p + 1) % n]))) {
        const [x, y] = applyAffine(maps[r], ...this.corners[j]);
        drift[j][0] += x - this.corners[j][0];
        drift[j][1] += y - this.corners[j][1];
        drift[j][2]++;
      }
    return this.shifted(
      along,
      weights,
      drift.map(([x, y, k]) => [x / (k || 1), y / (k || 1)]),
    );
  }

  offset(offsets: readonly Float64Array[], weights: readonly Float64Array[]): LoopModel {
    return this.shifted(
      offsets,
      weights,
      this.corners.map(() => [0, 0]),
    );
  }

  /** @throws RangeError when there are more or fewer points than corners. */
  through(points: readonly (readonly [number, number])[]): LoopModel {
    if (points.length !== this.corners.length)
      throw new RangeError('A loop keeps the number of its corners.');
    return new LoopModel(points, this.parts, this.perSide, this.spacing);
  }

  denseFor(other: LineModel): LoopModel {
    const there = other.points();
    const perSide = this.perSide.map((places, j) =>
      Math.max(places, placesOn(there[j], there[(j + 1) % there.length], this.spacing)),
    );
    return new LoopModel(this.corners, this.parts, perSide, this.spacing);
  }

  points(): [number, number][] {
    return this.corners.map(([x, y]) => [x, y]);
  }

  /** Least squares: the points' shifts that move each place across as told, with a slight pull to `usual`. */
  private shifted(
    across: readonly Float64Array[],
    weights: readonly Float64Array[],
    usual: readonly (readonly number[])[],
  ): LoopModel {
    const n = this.corners.length;
    const h = new Float64Array(4 * n * n);
    const g = new Float64Array(2 * n);
    const pull = 0.02;
    for (let k = 0; k < 2 * n; k++) {
      h[2 * n * k + k] += pull;
      g[k] += pull * usual[k >> 1][k & 1];
    }
    for (let r = 0; r < this.runs.length; r++) {
      const { line } = this.runs[r];
      const { point, share } = this.held[r];
      for (let i = 0; i < line.count; i++) {
        const [a, b] = [point[i], (point[i] + 1) % n];
        const terms: [number, number][] = [
          [2 * a, (1 - share[i]) * line.nx[i]],
          [2 * a + 1, (1 - share[i]) * line.ny[i]],
          [2 * b, share[i] * line.nx[i]],
          [2 * b + 1, share[i] * line.ny[i]],
        ];
        for (const [p, wp] of terms) {
          g[p] += weights[r][i] * wp * across[r][i];
          for (const [q, wq] of terms) h[2 * n * p + q] += weights[r][i] * wp * wq;
        }
      }
    }
    const shift = solved(h, g, 2 * n);
    const corners = this.corners.map(([x, y], j): [number, number] => [
      x + shift[2 * j],
      y + shift[2 * j + 1],
    ]);
    return new LoopModel(corners, this.parts, this.perSide, this.spacing);
  }
}
