/** A turn (radians), a scale and the centres it maps onto each other: q = to + scale · R(turn) · (p − from). */
export interface Similarity {
  turn: number;
  scale: number;
  fromX: number;
  fromY: number;
  toX: number;
  toY: number;
}

/**
 * The similarity that best maps points p to points q in the sense of least squares (Umeyama 1991, in the plane,
 * without reflection), each given as x, y at `stride` numbers a point.
 */
export function bestSimilarity(p: ArrayLike<number>, q: ArrayLike<number>, stride: number): Similarity {
  const count = Math.floor(p.length / stride);
  let [fromX, fromY, toX, toY] = [0, 0, 0, 0];
  for (let i = 0; i < count * stride; i += stride) {
    fromX += p[i] / count;
    fromY += p[i + 1] / count;
    toX += q[i] / count;
    toY += q[i + 1] / count;
  }
  let [along, across, variance] = [0, 0, 0];
  for (let i = 0; i < count * stride; i += stride) {
    const px = p[i] - fromX;
    const py = p[i + 1] - fromY;
    const qx = q[i] - toX;
    const qy = q[i + 1] - toY;
    along += px * qx + py * qy;
    across += px * qy - py * qx;
    variance += px * px + py * py;
  }
  const size = Math.hypot(along, across);
  const degenerate = variance < 1e-12 || size < 1e-12;
  return {
    turn: degenerate ? 0 : Math.atan2(across, along),
    scale: degenerate ? 1 : size / variance,
    fromX,
    fromY,
    toX,
    toY,
  };
}
