/**
 * Slope of a smooth track at a key, from the slopes of the spans before and after it, so that the cubics that meet
 * there never overshoot: none where the track turns round, else the mean, at most three times the gentler one
 * (Fritsch and Carlson 1980, the square within their region of monotonicity).
 *
 * @param before, after value a frame; null where the track ends at the key.
 */
export function monotoneSlope(before: number | null, after: number | null): number {
  if (before === null) return after ?? 0;
  if (after === null) return before;
  if (before * after <= 0) return 0;
  const mean = (before + after) / 2;
  const most = 3 * Math.min(Math.abs(before), Math.abs(after));
  return Math.sign(mean) * Math.min(Math.abs(mean), most);
}

/**
 * Value at `fraction` (0 to 1) of a span of `length` frames of the cubic with these values and slopes (value a
 * frame) at its ends.
 */
export function hermite(
  fraction: number,
  length: number,
  from: number,
  to: number,
  slopeFrom: number,
  slopeTo: number,
): number {
  const t = fraction;
  const s = 1 - t;
  return (
    from * (1 + 2 * t) * s * s +
    to * (3 - 2 * t) * t * t +
    length * (slopeFrom * t * s * s - slopeTo * t * t * s)
  );
}
