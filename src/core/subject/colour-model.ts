import { seeded } from '../random';

const { exp, floor, log, min } = Math;

/** Numbers of a colour: luma, Cb, Cr, code values. */
const D = 3;
/** Normal distributions of a model, after Rother et al. 2004. */
const parts = 5;
/** Rounds in which samples are given to their nearest part. */
const rounds = 6;
/** Code values, squared, added to every variance: quantisation, and grain that the samples do not show. */
const leastVariance = 6;
/** Share of colours that no part explains, over all the colours there are. */
const [unexplained, allColours] = [0.02, 256 * 160 * 160];

/** A mixture of normal distributions over colours. */
export class ColourModel {
  private constructor(
    /** For each part: mean, the six of the inverse covariance, and the logarithm of its weight over its volume. */
    private readonly means: Float64Array,
    private readonly inverses: Float64Array,
    private readonly heights: Float64Array,
  ) {}

  /**
   * Learnt from samples by k-means, then a normal distribution each (Rother, Kolmogorov, Blake, GrabCut, 2004).
   *
   * @param samples three numbers each.
   */
  static of(samples: readonly number[]): ColourModel | null {
    const count = samples.length / D;
    if (count === 0) return null;
    const owner = clustered(samples, min(parts, count));
    const kept: { mean: number[]; inverse: number[]; height: number }[] = [];
    for (let p = 0; p < parts; p++) {
      const own = owner.reduce((sum, k) => sum + (k === p ? 1 : 0), 0);
      if (own > 0) kept.push(normalOf(samples, owner, p, own, own / count));
    }
    return new ColourModel(
      Float64Array.from(kept.flatMap(({ mean }) => mean)),
      Float64Array.from(kept.flatMap(({ inverse }) => inverse)),
      Float64Array.from(kept.map(({ height }) => height)),
    );
  }

  /** How unlikely a colour is: the negative logarithm of its density. */
  surprise(y: number, u: number, v: number): number {
    const { means, inverses, heights } = this;
    let density = unexplained / allColours;
    for (let p = 0; p < heights.length; p++) {
      const [a, b, c] = [y - means[D * p], u - means[D * p + 1], v - means[D * p + 2]];
      const at = 6 * p;
      const far =
        inverses[at] * a * a +
        inverses[at + 3] * b * b +
        inverses[at + 5] * c * c +
        2 * (inverses[at + 1] * a * b + inverses[at + 2] * a * c + inverses[at + 4] * b * c);
      if (far < 60) density += exp(heights[p] - far / 2);
    }
    return -log(density);
  }
}

/** Each sample's cluster, by k-means from means that lie far apart (Arthur and Vassilvitskii 2007). */
function clustered(samples: readonly number[], k: number): Uint8Array {
  const count = samples.length / D;
  const owner = new Uint8Array(count);
  const means = new Float64Array(D * k);
  const nearest = new Float64Array(count).fill(Infinity);
  const random = seeded(1);
  const distance = (n: number, p: number) => {
    const [a, b, c] = [
      samples[D * n] - means[D * p],
      samples[D * n + 1] - means[D * p + 1],
      samples[D * n + 2] - means[D * p + 2],
    ];
    return a * a + b * b + c * c;
  };
  for (let p = 0; p < k; p++) {
    let at = floor(random() * count);
    if (p > 0) {
      let sum = 0;
      for (let n = 0; n < count; n++) sum += nearest[n];
      let left = random() * sum;
      for (at = 0; at < count - 1 && left > nearest[at]; at++) left -= nearest[at];
    }
    for (let c = 0; c < D; c++) means[D * p + c] = samples[D * at + c];
    for (let n = 0; n < count; n++) nearest[n] = min(nearest[n], distance(n, p));
  }
  for (let round = 0; round < rounds; round++) {
    const sums = new Float64Array(D * k);
    const sizes = new Float64Array(k);
    for (let n = 0; n < count; n++) {
      let [best, least] = [0, Infinity];
      for (let p = 0; p < k; p++) {
        const far = distance(n, p);
        if (far < least) [best, least] = [p, far];
      }
      owner[n] = best;
      sizes[best]++;
      for (let c = 0; c < D; c++) sums[D * best + c] += samples[D * n + c];
    }
    for (let p = 0; p < k; p++)
      if (sizes[p] > 0) for (let c = 0; c < D; c++) means[D * p + c] = sums[D * p + c] / sizes[p];
  }
  return owner;
}

function normalOf(samples: readonly number[], owner: Uint8Array, p: number, own: number, weight: number) {
  const mean = [0, 0, 0];
  owner.forEach((k, n) => k === p && mean.forEach((_, c) => (mean[c] += samples[D * n + c] / own)));
  // Upper triangle: yy, yu, yv, uu, uv, vv.
  const s = [leastVariance, 0, 0, leastVariance, 0, leastVariance];
  owner.forEach((k, n) => {
    if (k !== p) return;
    const [a, b, c] = mean.map((m, d) => samples[D * n + d] - m);
    [a * a, a * b, a * c, b * b, b * c, c * c].forEach((value, i) => (s[i] += value / own));
  });
  const [yy, yu, yv, uu, uv, vv] = s;
  const inverse = [
    uu * vv - uv * uv,
    yv * uv - yu * vv,
    yu * uv - yv * uu,
    yy * vv - yv * yv,
    yu * yv - yy * uv,
    yy * uu - yu * yu,
  ];
  const determinant = yy * inverse[0] + yu * inverse[1] + yv * inverse[2];
  return {
    mean,
    inverse: inverse.map((value) => value / determinant),
    height: log(weight) - 0.5 * log((2 * Math.PI) ** 3 * determinant),
  };
}
