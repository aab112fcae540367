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
    const sizes = new Uint32Array(parts);
    for (let n = 0; n < count; n++) sizes[owner[n]]++;
    for (let p = 0; p < parts; p++) {
      const own = sizes[p];
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
  for (let p = 0; p < k; p++) {
    let at = floor(random() * count);
    if (p > 0) {
      let sum = 0;
      for (let n = 0; n < count; n++) sum += nearest[n];
      let left = random() * sum;
      for (at = 0; at < count - 1 && left > nearest[at]; at++) left -= nearest[at];
    }
    const [a, b, c] = [samples[D * at], samples[D * at + 1], samples[D * at + 2]];
    means.set([a, b, c], D * p);
    for (let n = 0, i = 0; n < count; n++, i += D) {
      const [x, y, z] = [samples[i] - a, samples[i + 1] - b, samples[i + 2] - c];
      const far = x * x + y * y + z * z;
      if (far < nearest[n]) nearest[n] = far;
    }
  }
  for (let round = 0; round < rounds; round++) {
    const sums = new Float64Array(D * k);
    const sizes = new Float64Array(k);
    for (let n = 0, i = 0; n < count; n++, i += D) {
      const a = samples[i];
      const b = samples[i + 1];
      const c = samples[i + 2];
      let best = 0;
      let least = Infinity;
      for (let p = 0, m = 0; p < k; p++, m += D) {
        const x = a - means[m];
        const y = b - means[m + 1];
        const z = c - means[m + 2];
        const far = x * x + y * y + z * z;
        if (far < least) {
          best = p;
          least = far;
        }
      }
      owner[n] = best;
      sizes[best]++;
      sums[D * best] += a;
      sums[D * best + 1] += b;
      sums[D * best + 2] += c;
    }
    for (let p = 0; p < k; p++)
      if (sizes[p] > 0) for (let c = 0; c < D; c++) means[D * p + c] = sums[D * p + c] / sizes[p];
  }
  return owner;
}

function normalOf(samples: readonly number[], owner: Uint8Array, p: number, own: number, weight: number) {
  const mean = [0, 0, 0];
  for (let n = 0; n < owner.length; n++)
    if (owner[n] === p) for (let c = 0; c < D; c++) mean[c] += samples[D * n + c] / own;
  // Upper triangle: yy, yu, yv, uu, uv, vv.
  const s = [leastVariance, 0, 0, leastVariance, 0, leastVariance];
  for (let n = 0; n < owner.length; n++) {
    if (owner[n] !== p) continue;
    const a = samples[D * n] - mean[0];
    const b = samples[D * n + 1] - mean[1];
    const c = samples[D * n + 2] - mean[2];
    s[0] += (a * a) / own;
    s[1] += (a * b) / own;
    s[2] += (a * c) / own;
    s[3] += (b * b) / own;
    s[4] += (b * c) / own;
    s[5] += (c * c) / own;
  }
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
