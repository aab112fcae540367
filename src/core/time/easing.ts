/**
 * The easing of a cubic Bézier from (0, 0) by (x1, y1) and (x2, y2) to (1, 1): for a share of the time, the share of
 * the way (W3C, CSS Easing Functions Level 1, section 2.2). Beyond 0 and 1 it goes on along its end's tangent, as is
 * said there.
 *
 * @param x1, x2 in 0 to 1, so that time runs one way.
 */
export function cubicBezierEasing(x1: number, y1: number, x2: number, y2: number): (share: number) => number {
  if (!(x1 >= 0 && x1 <= 1 && x2 >= 0 && x2 <= 1))
    throw new RangeError('An easing’s handles lie between the times 0 and 1.');
  const value = (t: number, p: number, q: number) =>
    3 * (1 - t) * (1 - t) * t * p + 3 * (1 - t) * t * t * q + t * t * t;
  const slopeAtStart = x1 > 0 ? y1 / x1 : y1 === 0 && x2 > 0 ? y2 / x2 : 0;
  const slopeAtEnd = x2 < 1 ? (1 - y2) / (1 - x2) : y2 === 1 && x1 < 1 ? (1 - y1) / (1 - x1) : 0;
  return (share) => {
    if (share <= 0) return share * slopeAtStart;
    if (share >= 1) return 1 + (share - 1) * slopeAtEnd;
    // Time rises along the curve: halving always finds it, to the last bit that matters.
    let [low, high] = [0, 1];
    for (let step = 0; step < 48; step++) {
      const middle = (low + high) / 2;
      if (value(middle, x1, x2) < share) low = middle;
      else high = middle;
    }
    return value((low + high) / 2, y1, y2);
  };
}

/** Slow away and slow to a stop: `ease-in-out` of the same recommendation. */
export const easeInOut = cubicBezierEasing(0.42, 0, 0.58, 1);
