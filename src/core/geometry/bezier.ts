/** A cubic Bézier's four control points: x0, y0, x1, y1, x2, y2, x3, y3. */
export type Cubic = readonly [number, number, number, number, number, number, number, number];

/** The point at parameter `t` in 0 to 1. */
export function pointAt(cubic: Cubic, t: number): [number, number] {
  const s = 1 - t;
  const b0 = s * s * s;
  const b1 = 3 * s * s * t;
  const b2 = 3 * s * t * t;
  const b3 = t * t * t;
  return [
    b0 * cubic[0] + b1 * cubic[2] + b2 * cubic[4] + b3 * cubic[6],
    b0 * cubic[1] + b1 * cubic[3] + b2 * cubic[5] + b3 * cubic[7],
  ];
}

/** The two cubics that together are the given one, parted at `t` (de Casteljau). */
export function splitCubic(cubic: Cubic, t: number): [Cubic, Cubic] {
  const mix = (p: number, q: number) => p + (q - p) * t;
  const [x0, y0, x1, y1, x2, y2, x3, y3] = cubic;
  const [ax, ay, bx, by, cx, cy] = [
    mix(x0, x1),
    mix(y0, y1),
    mix(x1, x2),
    mix(y1, y2),
    mix(x2, x3),
    mix(y2, y3),
  ];
  const [dx, dy, ex, ey] = [mix(ax, bx), mix(ay, by), mix(bx, cx), mix(by, cy)];
  const [mx, my] = [mix(dx, ex), mix(dy, ey)];
  return [
    [x0, y0, ax, ay, dx, dy, mx, my],
    [mx, my, ex, ey, cx, cy, x3, y3],
  ];
}

/**
 * How many equal parameter steps keep a polyline within `tolerance` (px) of the cubic: the chord of a step h is
 * off by at most h²/8 times the largest second derivative, itself bounded by 6 times the larger second
 * difference of the control points (Farin, Curves and Surfaces for CAGD).
 */
export function flatteningSteps(cubic: Cubic, tolerance: number): number {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = cubic;
  const bend = Math.max(
    Math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2),
    Math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3),
  );
  return Math.min(256, Math.max(1, Math.ceil(Math.sqrt((0.75 * bend) / tolerance))));
}

/** Where the cubic comes nearest to a point: parameter, place and distance (px). */
export function nearestOnCubic(cubic: Cubic, x: number, y: number) {
  const squared = (t: number) => {
    const [px, py] = pointAt(cubic, t);
    return (px - x) ** 2 + (py - y) ** 2;
  };
  const samples = 32;
  const coarse = Array.from({ length: samples + 1 }, (_, k) => squared(k / samples));
  let t = 0;
  for (let k = 0; k <= samples; k++) {
    if (coarse[k] > (coarse[k - 1] ?? Infinity) || coarse[k] > (coarse[k + 1] ?? Infinity)) continue;
    let low = Math.max(0, (k - 1) / samples);
    let high = Math.min(1, (k + 1) / samples);
    for (let step = 0; step < 40; step++) {
      const third = (high - low) / 3;
      if (squared(low + third) < squared(high - third)) high -= third;
      else low += third;
    }
    if (squared((low + high) / 2) < squared(t)) t = (low + high) / 2;
  }
  const [px, py] = pointAt(cubic, t);
  return { t, x: px, y: py, distance: Math.sqrt(squared(t)) };
}
