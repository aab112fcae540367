import { BandWriter } from './band-writer';
import { piecesOf, turnBetween } from './pieces';
import type { MatteScratch } from './scratch';

/**
 * Distance from the pixel centres to a line, within `reach` px of it, written into `scratch.distance` in steps of
 * reach / `nearSteps`; the runs of pixels written to are marked in `scratch.touched`, all else stays `far`.
 *
 * Every segment is scan-converted as the rectangle about it, every arc as the sector of a ring, every bend as the
 * wedge on its outer side, and the smallest distance kept (Mauch 2000, the characteristics/scan-conversion method).
 * Only what of the line lies in the frame counts; where it leaves the frame it is taken to go on straight, so that
 * softness never begins at the frame's border.
 *
 * @param line polyline x, y … in pixels.
 * @param factors a number at each of its points, or null: then `scratch.factor` is given what lies at the nearest
 * place of the line, linear along it.
 * @param tolerance px by which runs of short segments may be off when they are taken together as an arc; with 0, or
 * factors, none are.
 */
export function bandDistance(
  line: ArrayLike<number>,
  {
    closed,
    reach,
    width,
    height,
    scratch,
  }: { closed: boolean; reach: number; width: number; height: number; scratch: MatteScratch },
  factors: ArrayLike<number> | null = null,
  tolerance = 0,
) {
  scratch.fit(width, height, factors !== null);
  const band = new BandWriter(reach, width, height, scratch);
  const pieces = piecesOf(line, closed, factors ? 0 : tolerance, width, height);
  const last = pieces.length - 1;
  let turnBefore = closed && last >= 0 ? turnBetween(pieces[last], pieces[0]) : null;
  for (let k = 0; k <= last; k++) {
    const piece = pieces[k];
    const { ax, ay, ux, uy, length, vertex, next } = piece;
    const after = k < last ? pieces[k + 1] : closed ? pieces[0] : null;
    const turnAfter = after && turnBetween(piece, after);
    if (
      turnBefore !== null &&
      Math.abs(turnBefore) >= gentleTurn &&
      ax >= -reach &&
      ay >= -reach &&
      ax <= width + reach &&
      ay <= height + reach
    ) {
      const before = pieces[k === 0 ? last : k - 1];
      band.bend(ax, ay, before.endX, before.endY, ux, uy, factors ? factors[vertex] : null);
    }
    if (piece.arc) {
      band.arc(piece, piece.arc, longer(turnBefore, reach), longer(turnAfter, reach));
      turnBefore = turnAfter;
      continue;
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
