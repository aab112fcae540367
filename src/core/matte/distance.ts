import { blockShift, blocksPerRow, type MatteScratch } from './scratch';

/**
 * Distance in px from the pixel centres to a line, within `reach` of it, written into `scratch.distance`; the runs
 * of pixels written to are marked in `scratch.touched`, all else stays Infinity.
 *
 * Every segment is scan-converted as the rectangle about it, every bend as the wedge on its outer side, and the
 * smallest distance kept (Mauch 2000, the characteristics/scan-conversion method). Only what of the line lies in
 * the frame counts; where it leaves the frame it is taken to go on straight, so that softness never begins at
 * the frame's border.
 *
 * @param line polyline x, y … in pixels.
 * @param factors a number at each of its points, or null: then `scratch.factor` is given what lies at the nearest
 * place of the line, linear along it.
 */
export function bandDistance(
  line: ArrayLike<number>,
  closed: boolean,
  reach: number,
  width: number,
  height: number,
  scratch: MatteScratch,
  factors: ArrayLike<number> | null = null,
) {
  scratch.fit(width, height, factors !== null);
  const band = new BandWriter(reach, width, height, scratch);
  const segments = segmentsOf(line, closed);
  const last = segments.length - 1;
  const turnBetween = (a: Segment, b: Segment) =>
    Math.atan2(a.ux * b.uy - a.uy * b.ux, a.ux * b.ux + a.uy * b.uy);
  let turnBefore = closed && last >= 0 ? turnBetween(segments[last], segments[0]) : null;
  for (let k = 0; k <= last; k++) {
    const { ax, ay, ux, uy, length, vertex, next } = segments[k];
    const after = k < last ? segments[k + 1] : closed ? segments[0] : null;
    const turnAfter = after && turnBetween(segments[k], after);
    if (
      turnBefore !== null &&
      Math.abs(turnBefore) >= gentleTurn &&
      ax >= -reach &&
      ay >= -reach &&
      ax <= width + reach &&
      ay <= height + reach
    ) {
      const before = segments[k === 0 ? last : k - 1];
      band.bend(ax, ay, before.ux, before.uy, ux, uy, factors ? factors[vertex] : null);
    }
    const visible = inFrame(ax, ay, ux, uy, length, width, height);
    if (visible) {
      const from = visible[0] > 0 ? visible[0] - 2 * reach : -longer(turnBefore, reach);
      const to = visible[1] < length ? visible[1] + 2 * reach : length + longer(turnAfter, reach);
      if (factors) {
        const [fa, fb] = [factors[vertex], factors[next]];
        const at = (place: number) => fa + ((fb - fa) * Math.min(length, Math.max(0, place))) / length;
        band.segment(ax + ux * from, ay + uy * from, ux, uy, to - from, [at(from), at(to)]);
      } else band.segment(ax + ux * from, ay + uy * from, ux, uy, to - from, null);
    }
    turnBefore = turnAfter;
  }
}

/**
 * Turn, in radians, under which a bend has no wedge of its own: the segments reach on over it instead. What that
 * gets wrong is under reach · turn² / 2: a hundredth of a pixel for 20 px.
 */
const gentleTurn = 0.035;

function longer(turn: number | null, reach: number): number {
  return turn !== null && Math.abs(turn) < gentleTurn ? reach * Math.tan(Math.abs(turn) / 2) : 0;
}

interface Segment {
  ax: number;
  ay: number;
  ux: number;
  uy: number;
  length: number;
  /** Numbers of the points at its ends. */
  vertex: number;
  next: number;
}

/** The segments of a polyline that have a length. */
function segmentsOf(line: ArrayLike<number>, closed: boolean): Segment[] {
  const n = line.length;
  const segments: Segment[] = [];
  for (let a = 0; a < (closed ? n : n - 2); a += 2) {
    const b = a + 2 === n ? 0 : a + 2;
    const ax = line[a];
    const ay = line[a + 1];
    const dx = line[b] - ax;
    const dy = line[b + 1] - ay;
    const length = Math.hypot(dx, dy);
    if (length < 1e-9) continue;
    segments.push({ ax, ay, ux: dx / length, uy: dy / length, length, vertex: a / 2, next: b / 2 });
  }
  return segments;
}

/** The stretch of a segment that lies in the frame, in px from its start, or null (Liang and Barsky 1984). */
function inFrame(
  x: number,
  y: number,
  ux: number,
  uy: number,
  length: number,
  width: number,
  height: number,
) {
  let from = 0;
  let to = length;
  for (let axis = 0; axis < 2; axis++) {
    const p = axis === 0 ? x : y;
    const d = axis === 0 ? ux : uy;
    const size = axis === 0 ? width : height;
    if (Math.abs(d) < 1e-12) {
      if (p < 0 || p > size) return null;
      continue;
    }
    from = Math.max(from, Math.min(-p / d, (size - p) / d));
    to = Math.min(to, Math.max(-p / d, (size - p) / d));
  }
  return from < to ? ([from, to] as const) : null;
}

class BandWriter {
  private readonly distance: Float32Array;
  private readonly factor: Float32Array;
  private readonly touched: Uint8Array;
  private readonly blocks: number;
  private from = 0;
  private to = 0;

  constructor(
    private readonly reach: number,
    private readonly width: number,
    private readonly height: number,
    scratch: MatteScratch,
  ) {
    this.distance = scratch.distance;
    this.factor = scratch.factor;
    this.touched = scratch.touched;
    this.blocks = blocksPerRow(width);
  }

  /** The rectangle of all places beside a segment of `length` px from (ax, ay) along the unit vector (ux, uy). */
  segment(
    ax: number,
    ay: number,
    ux: number,
    uy: number,
    length: number,
    factors: readonly [from: number, to: number] | null,
  ) {
    const { reach, distance, width } = this;
    const [nx, ny] = [-uy, ux];
    const by = ay + uy * length;
    const tall = Math.abs(ny) * reach;
    const first = Math.max(0, Math.floor(Math.min(ay, by) - tall - 0.5));
    const last = Math.min(this.height - 1, Math.ceil(Math.max(ay, by) + tall - 0.5));
    // Where a row enters and leaves the rectangle across and along the segment is linear in the row; a direction
    // that hardly changes along a row is as if a hair aslant. A hair more than the rectangle, so that no pixel falls
    // between it and its neighbour.
    const perNx = 1 / (Math.abs(nx) < 1e-9 ? 1e-9 : nx);
    const perUx = 1 / (Math.abs(ux) < 1e-9 ? 1e-9 : ux);
    const halfAcross = reach * Math.abs(perNx);
    const [low, high] = perUx >= 0 ? [-0.01, length + 0.01] : [length + 0.01, -0.01];
    const [alongFrom, alongTo] = [low * perUx, high * perUx];
    const [stepAcross, stepAlong] = [-ny * perNx, -uy * perUx];
    for (let y = first; y <= last; y++) {
      const dy = y + 0.5 - ay;
      const across0 = stepAcross * dy;
      const along0 = stepAlong * dy;
      const from = across0 - halfAcross > along0 + alongFrom ? across0 - halfAcross : along0 + alongFrom;
      const to = across0 + halfAcross < along0 + alongTo ? across0 + halfAcross : along0 + alongTo;
      if (from > to) continue;
      const left = Math.ceil(ax + from - 0.5);
      const right = Math.floor(ax + to - 0.5);
      const x0 = left < 0 ? 0 : left;
      const x1 = right > width - 1 ? width - 1 : right;
      if (x0 > x1) continue;
      this.touch(y, x0, x1);
      const row = y * width;
      let across = (x0 + 0.5 - ax) * nx + dy * ny;
      if (factors) {
        const perPx = (factors[1] - factors[0]) / (length || 1);
        for (let i = row + x0, x = x0 + 0.5 - ax; i <= row + x1; i++, x++) {
          const d = across < 0 ? -across : across;
          if (d < distance[i]) {
            distance[i] = d;
            this.factor[i] = factors[0] + perPx * (x * ux + dy * uy);
          }
          across += nx;
        }
        continue;
      }
      for (let i = row + x0; i <= row + x1; i++) {
        const d = across < 0 ? -across : across;
        if (d < distance[i]) distance[i] = d;
        across += nx;
      }
    }
  }

  /** The wedge of places whose nearest point is the bend at (x, y) between two unit directions. */
  bend(x: number, y: number, ux: number, uy: number, vx: number, vy: number, factor: number | null) {
    if (Math.abs(ux * vy - uy * vx) < 1e-6 && ux * vx + uy * vy > 0) return;
    const { reach, distance, width } = this;
    // The wedge lies between the two normals on the outer side; it holds straight up or down only in a wide turn.
    const outer = ux * vy - uy * vx > 0 ? -1 : 1;
    const up = uy <= 0 && vy >= 0 ? -1 : Math.min(0, outer * ux, outer * vx);
    const down = uy >= 0 && vy <= 0 ? 1 : Math.max(0, outer * ux, outer * vx);
    const first = Math.max(0, Math.floor(y + up * reach - 1));
    const last = Math.min(this.height - 1, Math.ceil(y + down * reach));
    for (let row = first; row <= last; row++) {
      const dy = row + 0.5 - y;
      const square = reach * reach - dy * dy;
      if (square < 0) continue;
      const half = Math.sqrt(square);
      this.from = -half;
      this.to = half;
      if (!this.within(ux, uy * dy, -0.01, Infinity) || !this.within(vx, vy * dy, -Infinity, 0.01)) continue;
      const x0 = Math.max(0, Math.ceil(x + this.from - 0.5));
      const x1 = Math.min(width - 1, Math.floor(x + this.to - 0.5));
      if (x0 > x1) continue;
      this.touch(row, x0, x1);
      for (let column = x0; column <= x1; column++) {
        const dx = column + 0.5 - x;
        const d = Math.sqrt(dx * dx + dy * dy);
        const i = row * width + column;
        if (d >= distance[i]) continue;
        distance[i] = d;
        if (factor !== null) this.factor[i] = factor;
      }
    }
  }

  /** Narrows the row's stretch to where low ≤ slope·x + constant ≤ high; false when nothing is left. */
  private within(slope: number, constant: number, low: number, high: number): boolean {
    if (slope > 1e-9) {
      this.from = Math.max(this.from, (low - constant) / slope);
      this.to = Math.min(this.to, (high - constant) / slope);
    } else if (slope < -1e-9) {
      this.from = Math.max(this.from, (high - constant) / slope);
      this.to = Math.min(this.to, (low - constant) / slope);
    } else if (constant < low || constant > high) {
      return false;
    }
    return this.from <= this.to;
  }

  private touch(y: number, x0: number, x1: number) {
    const row = y * this.blocks;
    for (let block = row + (x0 >> blockShift); block <= row + (x1 >> blockShift); block++)
      this.touched[block] = 1;
  }
}
