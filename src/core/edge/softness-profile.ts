/** How an edge passes from object to what lies behind it: a Gaussian, and the way it moves while the shutter is open. */
export interface EdgeSoftness {
  /** Standard deviation, px. */
  sigma: number;
  /** Share of a frame's time that the shutter is open. */
  shutter: number;
}

/** px from the edge beyond which the picture is one or the other, at a speed of `speed` px a frame across. */
export function softReach({ sigma, shutter }: EdgeSoftness, speed: number): number {
  return 2 * sigma + 0.5 * shutter * Math.abs(speed);
}

/** px from 10 to 90 % of the way: a Gaussian's 2.563 σ, a box's 0.8 of its width. */
export function widthOfSoftness({ sigma, shutter }: EdgeSoftness, speed: number): number {
  return Math.hypot(2.563 * sigma, 0.8 * shutter * Math.abs(speed));
}

/** Share of the object at `far` px outside the edge. */
export function objectShare({ sigma, shutter }: EdgeSoftness, speed: number, far: number): number {
  const open = shutter * Math.abs(speed);
  if (open < 0.5 * sigma) return below(-far / sigma);
  let sum = 0;
  for (let k = 0; k < 7; k++) sum += below((((k + 0.5) / 7 - 0.5) * open - far) / sigma);
  return sum / 7;
}

/** The normal distribution's share below x, by a logistic curve (off by less than 0.01; Bowling et al. 2009). */
function below(x: number): number {
  return 1 / (1 + Math.exp(-(0.07056 * x * x * x + 1.5976 * x)));
}
