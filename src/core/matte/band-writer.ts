import type { Arc, Piece } from './pieces';
import { blockShift, blocksPerRow } from './runs';
import { type MatteScratch, nearSteps } from './scratch';

/** Binary places of the whole numbers in which a distance is carried along a row. */
const stepBits = 17;
const oneStep = 1 << stepBits;

/** Writes distances into the band about a line, piece by piece, and keeps the smallest. */
export class BandWriter {
  private readonly distance: Uint16Array;
  /** Steps of distance to a px. */
  private readonly perPx: number;
  private readonly factor: Float32Array;
  private readonly touched: Uint8Array;
  private readonly blocks: number;
  private readonly stride: number;
  private from = 0;
  private to = 0;
  /** Pixels of a ring's row that are drawn in one go. */
  private chunk = 3;

  constructor(
    private readonly reach: number,
    private readonly width: number,
    private readonly height: number,
    scratch: MatteScratch,
  ) {
    this.distance = scratch.distance;
    this.perPx = nearSteps / reach;
    this.factor = scratch.factor;
    this.touched = scratch.touched;
    this.blocks = blocksPerRow(width);
    this.stride = this.blocks << blockShift;
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
    const { reach, distance, width, stride, perPx } = this;
    const [nx, ny] = [-uy, ux];
    const acrossStep = Math.round(nx * perPx * oneStep);
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
      const row = y * stride;
      // In whole numbers, with 17 binary places, of which the half rounds.
      const start = ((x0 + 0.5 - ax) * nx + dy * ny) * perPx;
      let across = (start * oneStep + oneStep / 2) | 0;
      if (factors) {
        const perPlace = (factors[1] - factors[0]) / (length || 1);
        for (let i = row + x0, x = x0 + 0.5 - ax; i <= row + x1; i++, x++) {
          const steps = across >> stepBits;
          const d = steps < 0 ? -steps : steps;
          if (d < distance[i]) {
            distance[i] = d;
            this.factor[i] = factors[0] + perPlace * (x * ux + dy * uy);
          }
          across = (across + acrossStep) | 0;
        }
        continue;
      }
      this.walk(row + x0, x1 - x0 + 1, across, acrossStep, 0);
    }
  }

  /**
   * Distances along `count` pixels of a row, by differences in whole numbers: `off` at the first, `step` more from
   * there to the next, and each step longer by `bend` than the one before.
   */
  private walk(i: number, count: number, off: number, step: number, bend: number) {
    const { distance } = this;
    for (const end = i + count; i < end; i++) {
      const steps = off >> stepBits;
      const d = steps < 0 ? -steps : steps;
      if (d < distance[i]) distance[i] = d;
      off = (off + step) | 0;
      step = (step + bend) | 0;
    }
  }

  /**
   * The sector of a ring about an arc: between the normals at its ends, each moved on by what is given, in px.
   */
  arc({ ax, ay, ux, uy, bx, by, endX, endY }: Piece, { cx, cy, radius }: Arc, before: number, after: number) {
    const { reach } = this;
    const outer = radius + reach;
    const inner = radius - reach;
    // Over n pixels a parabola is off by n³/125 of the third derivative, itself at most 1.155/r²: so long that this
    // stays under a hundredth of a pixel.
    this.chunk = inner > 4 ? Math.floor(Math.cbrt(1.08 * inner * inner)) : 3;
    // Its four corners and, where it passes the circle's highest or lowest point, that.
    const [ya, yb] = [(ay - cy) / radius, (by - cy) / radius];
    const passes = uy * endY <= 0;
    const top = passes && ya < 0 ? -outer : Math.min(ya * outer, yb * outer, ya * inner, yb * inner);
    const bottom = passes && ya > 0 ? outer : Math.max(ya * outer, yb * outer, ya * inner, yb * inner);
    const first = Math.max(0, Math.floor(cy + top - before - after - 1)) | 0;
    const last = Math.min(this.height - 1, Math.ceil(cy + bottom + before + after)) | 0;
    const outerSquare = outer * outer;
    const innerSquare = inner > 0 ? inner * inner : 0;
    const [low, high] = [-0.01 - before, 0.01 + after];
    for (let row = first; row <= last; row++) {
      const dy = row + 0.5 - cy;
      const square = outerSquare - dy * dy;
      if (square < 0) continue;
      const half = Math.sqrt(square);
      this.from = -half;
      this.to = half;
      if (
        !this.within(ux, uy * (row + 0.5 - ay) + ux * (cx - ax), low, Infinity) ||
        !this.within(endX, endY * (row + 0.5 - by) + endX * (cx - bx), -Infinity, high)
      )
        continue;
      const hollow = innerSquare - dy * dy;
      const { from, to } = this;
      if (hollow <= 0) this.ring(row, dy, cx, radius, from, to);
      else {
        const hole = Math.sqrt(hollow);
        if (from < -hole) this.ring(row, dy, cx, radius, from, to < -hole ? to : -hole);
        if (to > hole) this.ring(row, dy, cx, radius, from > hole ? from : hole, to);
      }
    }
  }

  /** The pixels of a row of the ring between two places, counted from the ring's middle. */
  private ring(row: number, dy: number, cx: number, radius: number, from: number, to: number) {
    const { width, stride, perPx, chunk } = this;
    const left = Math.ceil(cx + from - 0.5);
    const right = Math.floor(cx + to - 0.5);
    const x0 = left < 0 ? 0 : left;
    const x1 = right > width - 1 ? width - 1 : right;
    if (x0 > x1) return;
    this.touch(row, x0, x1);
    const square = dy * dy * perPx * perPx;
    const size = radius * perPx;
    for (let x = x0; x <= x1; x += chunk) {
      const count = x + chunk <= x1 + 1 ? chunk : x1 + 1 - x;
      const start = (x + 0.5 - cx) * perPx;
      if (count < 4) this.roots(row * stride + x, count, start, square, size);
      else this.parabola(row * stride + x, count, start, square, size);
    }
  }

  /** The distance to a circle at `count` pixels of a row, each by its square root; all in steps. */
  private roots(i: number, count: number, dx: number, square: number, size: number) {
    const { distance, perPx } = this;
    for (const end = i + count; i < end; i++, dx += perPx) {
      const off = Math.sqrt(dx * dx + square) - size;
      const d = ((off < 0 ? -off : off) + 0.5) | 0;
      if (d < distance[i]) distance[i] = d;
    }
  }

  /** The same along the parabola through the first, middle and last of them. */
  private parabola(i: number, count: number, dx: number, square: number, size: number) {
    const { perPx } = this;
    const half = (count - 1) / 2;
    const dm = dx + half * perPx;
    const de = dm + half * perPx;
    const d0 = Math.sqrt(dx * dx + square);
    const d1 = Math.sqrt(de * de + square);
    const bend = (d0 - 2 * Math.sqrt(dm * dm + square) + d1) / (half * half);
    const off = ((d0 - size) * oneStep + oneStep / 2) | 0;
    const step = (((d1 - d0) / (count - 1) - bend * (half - 0.5)) * oneStep) | 0;
    this.walk(i, count, off, step, Math.round(bend * oneStep));
  }

  /** The wedge of places whose nearest point is the bend at (x, y) between two unit directions. */
  bend(x: number, y: number, ux: number, uy: number, vx: number, vy: number, factor: number | null) {
    if (Math.abs(ux * vy - uy * vx) < 1e-6 && ux * vx + uy * vy > 0) return;
    const { reach, distance, width, stride, perPx } = this;
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
        const d = (Math.sqrt(dx * dx + dy * dy) * perPx + 0.5) | 0;
        const i = row * stride + column;
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
