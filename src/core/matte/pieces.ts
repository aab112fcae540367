/** A piece of a line: a straight segment, or an arc that stands for several. */
export interface Piece {
  ax: number;
  ay: number;
  bx: number;
  by: number;
  /** Unit direction at its start, and at its end. */
  ux: number;
  uy: number;
  endX: number;
  endY: number;
  /** px from start to end, straight. */
  length: number;
  /** Numbers of the points at its ends. */
  vertex: number;
  next: number;
  arc: Arc | null;
}

/** The circle that an arc is part of; px. */
export interface Arc {
  cx: number;
  cy: number;
  radius: number;
}

/** Radians from the end of one piece to the start of the next. */
export function turnBetween(a: Piece, b: Piece): number {
  return Math.atan2(a.endX * b.uy - a.endY * b.ux, a.endX * b.ux + a.endY * b.uy);
}

/**
 * The pieces of a polyline (x, y … in px), segments without length left out. With a `tolerance` (px) above 0, runs
 * of segments in the frame are taken together as the arc through their first, middle and last point, where that
 * stays within the tolerance of all their points and of the segments themselves: a true polygon's corners are
 * further off than that, and stay.
 */
export function piecesOf(
  line: ArrayLike<number>,
  closed: boolean,
  tolerance: number,
  width: number,
  height: number,
): Piece[] {
  const points = line.length >> 1;
  const end = closed ? points : points - 1;
  const pieces: Piece[] = [];
  const inside = (point: number) => {
    const i = 2 * (point === points ? 0 : point);
    return line[i] >= 0 && line[i + 1] >= 0 && line[i] <= width && line[i + 1] <= height;
  };
  for (let from = 0; from < end;) {
    let to = from + 1;
    let circle: Circle | null = null;
    if (tolerance > 0 && inside(from) && inside(to)) {
      while (to < end && inside(to + 1)) {
        const wider = circleOver(line, from, to + 1, tolerance);
        if (!wider) break;
        circle = wider;
        to++;
      }
    }
    const piece = pieceBetween(line, from, to, circle);
    if (piece) pieces.push(piece);
    from = to;
  }
  return pieces;
}

interface Circle extends Arc {
  /** 1 where it is gone round clockwise on the screen, −1 the other way. */
  way: 1 | -1;
}

function pieceBetween(
  line: ArrayLike<number>,
  from: number,
  to: number,
  circle: Circle | null,
): Piece | null {
  const next = 2 * to === line.length ? 0 : to;
  const [ax, ay, bx, by] = [line[2 * from], line[2 * from + 1], line[2 * next], line[2 * next + 1]];
  const length = Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2);
  if (length < 1e-9) return null;
  if (!circle) {
    const [ux, uy] = [(bx - ax) / length, (by - ay) / length];
    return { ax, ay, bx, by, ux, uy, endX: ux, endY: uy, length, vertex: from, next, arc: null };
  }
  const { cx, cy, radius, way } = circle;
  const [ux, uy] = [(-way * (ay - cy)) / radius, (way * (ax - cx)) / radius];
  const [endX, endY] = [(-way * (by - cy)) / radius, (way * (bx - cx)) / radius];
  return { ax, ay, bx, by, ux, uy, endX, endY, length, vertex: from, next, arc: circle };
}

/** Widest that an arc may turn, in radians: its sector is still one side of both its normals. */
const widestArc = 1.2;
/** px: a larger circle is as good as straight over any picture, and rounding would tell. */
const largestRadius = 1e7;

/** The circle that stands for the segments from one point to another, or null where none does. */
function circleOver(line: ArrayLike<number>, from: number, to: number, tolerance: number): Circle | null {
  const n = line.length;
  const a = 2 * from;
  const m = 2 * ((from + to) >> 1);
  const b = 2 * to === n ? 0 : 2 * to;
  // The circle through three points: its centre relative to the first.
  const px = line[m] - line[a];
  const py = line[m + 1] - line[a + 1];
  const qx = line[b] - line[a];
  const qy = line[b + 1] - line[a + 1];
  const twice = 2 * (px * qy - py * qx);
  const pp = px * px + py * py;
  const qq = qx * qx + qy * qy;
  if (twice === 0 || qq === 0) return null;
  const ox = (qy * pp - py * qq) / twice;
  const oy = (px * qq - qx * pp) / twice;
  const square = ox * ox + oy * oy;
  if (square > largestRadius * largestRadius) return null;
  const radius = Math.sqrt(square);
  if (qq > square * (2 * Math.sin(widestArc / 2)) ** 2) return null;
  const cx = line[a] + ox;
  const cy = line[a + 1] + oy;
  const way = twice > 0 ? 1 : -1;
  for (let k = from; k < to; k++) {
    const i = 2 * k;
    const j = 2 * k + 2 === n ? 0 : 2 * k + 2;
    const rx = line[i] - cx;
    const ry = line[i + 1] - cy;
    const off = Math.sqrt(rx * rx + ry * ry) - radius;
    if (off > tolerance || off < -tolerance) return null;
    const dx = line[j] - line[i];
    const dy = line[j + 1] - line[i + 1];
    // How far the arc stands out from the segment; and always on round the circle, never back nor the long way.
    if (dx * dx + dy * dy > 8 * radius * tolerance || (rx * dy - ry * dx) * way <= 0) return null;
  }
  return { cx, cy, radius, way };
}
