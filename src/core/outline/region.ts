import type { OutlineKind, Side } from '../model/choices';

/** The region that an outline encloses or sweeps, ready for a matte. */
export interface Region {
  /** Closed polygon, x, y … in pixels, first point not repeated; filled by the non-zero rule. */
  polygon: number[];
  /** The part of its boundary that was drawn, from which softness is measured: a polyline, closed for a loop. */
  line: number[];
  closed: boolean;
  /** What the softness is multiplied by at each of the line's points; null where it is 1 everywhere. */
  factors: number[] | null;
}

/**
 * The region of a flattened outline in a frame of `width` × `height` px.
 *
 * A loop is its own region. A seam runs on past the frame from both ends, along its own direction there, and is
 * closed around the frame on its swept side.
 *
 * @param factors of the softness at each of the polyline's points, or null.
 */
export function regionOf(
  polyline: number[],
  kind: OutlineKind,
  sweptSide: Side,
  width: number,
  height: number,
  factors: number[] | null = null,
): Region {
  if (kind === 'loop') return { polygon: polyline, line: polyline, closed: true, factors };
  const box = boxAround(polyline, width, height);
  const line = [
    ...runOn(polyline, 'start', box, width, height),
    ...polyline,
    ...runOn(polyline, 'end', box, width, height),
  ];
  return {
    polygon: [...line, ...wayRound(line, sweptSide, box)],
    line,
    closed: false,
    factors: factors && [factors[0], ...factors, factors[factors.length - 1]],
  };
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** A box well outside the frame and every point of the line. */
function boxAround(polyline: readonly number[], width: number, height: number): Box {
  let [left, top, right, bottom] = [0, 0, width, height];
  for (let i = 0; i < polyline.length; i += 2) {
    left = Math.min(left, polyline[i]);
    right = Math.max(right, polyline[i]);
    top = Math.min(top, polyline[i + 1]);
    bottom = Math.max(bottom, polyline[i + 1]);
  }
  const margin = width + height;
  return { left: left - margin, top: top - margin, right: right + margin, bottom: bottom + margin };
}

/**
 * The point of the box that an end runs on to. An end inside the frame goes on straight; one that already lies
 * outside goes straight too unless that would lead back into the picture: then away from the nearest border.
 */
function runOn(
  polyline: readonly number[],
  end: 'start' | 'end',
  box: Box,
  width: number,
  height: number,
): number[] {
  const last = polyline.length - 2;
  const tip = end === 'start' ? 0 : last;
  const [x, y] = [polyline[tip], polyline[tip + 1]];
  let [dx, dy] = endDirection(polyline, end);
  const outside = x < 0 || y < 0 || x > width || y > height;
  if (outside && meetsFrame(x, y, dx, dy, width, height)) {
    const away: [number, number, number][] = [
      [-x, -1, 0],
      [x - width, 1, 0],
      [-y, 0, -1],
      [y - height, 0, 1],
    ];
    [, dx, dy] = away.reduce((best, candidate) => (candidate[0] > best[0] ? candidate : best));
  }
  const reachX = dx > 0 ? (box.right - x) / dx : dx < 0 ? (box.left - x) / dx : Infinity;
  const reachY = dy > 0 ? (box.bottom - y) / dy : dy < 0 ? (box.top - y) / dy : Infinity;
  const reach = Math.min(reachX, reachY);
  return [x + dx * reach, y + dy * reach];
}

/** Unit direction in which an end of the line points, outward; downward for a line without length. */
function endDirection(polyline: readonly number[], end: 'start' | 'end'): [number, number] {
  const step = end === 'start' ? 2 : -2;
  const tip = end === 'start' ? 0 : polyline.length - 2;
  for (let i = tip + step; i >= 0 && i < polyline.length; i += step) {
    const dx = polyline[tip] - polyline[i];
    const dy = polyline[tip + 1] - polyline[i + 1];
    const length = Math.hypot(dx, dy);
    if (length > 1e-6) return [dx / length, dy / length];
  }
  return [0, end === 'start' ? -1 : 1];
}

function meetsFrame(x: number, y: number, dx: number, dy: number, width: number, height: number): boolean {
  let [enter, leave] = [0, Infinity];
  for (const [p, d, size] of [
    [x, dx, width],
    [y, dy, height],
  ]) {
    if (Math.abs(d) < 1e-12) {
      if (p < 0 || p > size) return false;
      continue;
    }
    enter = Math.max(enter, Math.min(-p / d, (size - p) / d));
    leave = Math.min(leave, Math.max(-p / d, (size - p) / d));
  }
  return leave > enter;
}

/**
 * The corners of the box to walk past from the line's end back to its start, so that the polygon lies on the
 * swept side. Seen on the screen (y down), a region to the right of the line is gone round clockwise.
 */
function wayRound(line: readonly number[], side: Side, box: Box): number[] {
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  const perimeter = 2 * (width + height);
  // Clockwise from the top-left corner.
  const place = (x: number, y: number) => {
    const nearest = [y - box.top, box.right - x, box.bottom - y, x - box.left].map(Math.abs);
    const edge = nearest.indexOf(Math.min(...nearest));
    if (edge === 0) return x - box.left;
    if (edge === 1) return width + y - box.top;
    if (edge === 2) return width + height + box.right - x;
    return 2 * width + height + box.bottom - y;
  };
  const corners = [
    { at: 0, x: box.left, y: box.top },
    { at: width, x: box.right, y: box.top },
    { at: width + height, x: box.right, y: box.bottom },
    { at: 2 * width + height, x: box.left, y: box.bottom },
  ];
  const from = place(line[line.length - 2], line[line.length - 1]);
  const to = place(line[0], line[1]);
  const turned = (value: number) => ((value % perimeter) + perimeter) % perimeter;
  const ahead = (at: number) => (side === 'right' ? turned(at - from) : turned(from - at));
  return corners
    .filter((corner) => ahead(corner.at) > 0 && ahead(corner.at) < ahead(to))
    .sort((a, b) => ahead(a.at) - ahead(b.at))
    .flatMap(({ x, y }) => [x, y]);
}
