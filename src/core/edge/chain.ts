import { pentadiagonal } from '../numbers/pentadiagonal';

/** What is known of the edge at every place of a line: how far off the line it lies, px, and how sure that is. */
export interface ChainBelief {
  /** Most likely offset. */
  mean: Float64Array;
  /** Variance about it, px². */
  variance: Float64Array;
  /** Probability that it is somewhere else altogether, 0 to 1. */
  doubt: Float64Array;
}

export interface ChainSettings {
  /** Standard deviation of the difference between neighbouring offsets, in steps. */
  stiffness: number;
  /** Probability of a leap between neighbours. */
  leap: number;
}

/**
 * The edge's offset at each place of a chain from each place's costs: the marginals of a Markov chain by dynamic
 * programming forward and backward (the sum-product algorithm; Pearl 1988, Rabiner 1989).
 *
 * @param costs `count` × `offsets`, negative logarithms of likelihoods.
 * @param step px between offsets; the middle one is 0, or `centre` at each place, in whole steps.
 */
export function chainBelief(
  costs: Float32Array,
  count: number,
  offsets: number,
  step: number,
  { stiffness, leap }: ChainSettings,
  centre?: Float64Array,
): ChainBelief {
  const reach = Math.min(offsets - 1, Math.ceil(4 * stiffness));
  const kernel = new Float64Array(reach + 1);
  let whole = 0;
  for (let k = 0; k <= reach; k++) {
    kernel[k] = Math.exp(-0.5 * (k / stiffness) ** 2);
    whole += k === 0 ? kernel[k] : 2 * kernel[k];
  }
  for (let k = 0; k <= reach; k++) kernel[k] *= (1 - leap) / whole;
  const likelihood = new Float64Array(count * offsets);
  for (let i = 0; i < count; i++) {
    let least = Infinity;
    for (let k = 0; k < offsets; k++) least = Math.min(least, costs[i * offsets + k]);
    for (let k = 0; k < offsets; k++) likelihood[i * offsets + k] = Math.exp(least - costs[i * offsets + k]);
  }
  const forward = new Float64Array(count * offsets).fill(1 / offsets);
  const backward = new Float64Array(count * offsets).fill(1 / offsets);
  const carried = new Float64Array(offsets);
  // Padded on both sides, so that every place has neighbours.
  const roomy = new Float64Array(offsets + 2 * reach);
  const spread = new Float64Array(offsets);
  const even = leap / offsets;
  const pass = (into: Float64Array, from: number, to: number) => {
    // What the chain says of `from`, with its own likelihood, spread out to `to`.
    let sum = 0;
    for (let k = 0, o = from * offsets; k < offsets; k++, o++) {
      const value = into[o] * likelihood[o];
      roomy[k + reach] = value;
      sum += value;
    }
    for (let k = 0; k < offsets; k++) {
      let near = kernel[0] * roomy[k + reach];
      for (let j = 1; j <= reach; j++) near += kernel[j] * (roomy[k + reach - j] + roomy[k + reach + j]);
      spread[k] = near / sum;
    }
    // Seen from its own centre.
    const apart = centre ? Math.round((centre[to] - centre[from]) / step) : 0;
    for (let k = 0, o = to * offsets; k < offsets; k++, o++) {
      const at = k + apart;
      into[o] = (at >= 0 && at < offsets ? spread[at] : 0) + even;
    }
  };
  for (let i = 1; i < count; i++) pass(forward, i - 1, i);
  for (let i = count - 2; i >= 0; i--) pass(backward, i + 1, i);
  const mean = new Float64Array(count);
  const variance = new Float64Array(count);
  const doubt = new Float64Array(count);
  const middle = (offsets - 1) / 2;
  const window = Math.ceil(3 / step);
  for (let i = 0; i < count; i++) {
    const o = i * offsets;
    let [whole, best, most] = [0, 0, -1];
    for (let k = 0; k < offsets; k++) {
      carried[k] = forward[o + k] * backward[o + k] * likelihood[o + k];
      whole += carried[k];
      if (carried[k] > most) [most, best] = [carried[k], k];
    }
    let [sum, first, second] = [0, 0, 0];
    for (let k = Math.max(0, best - window); k <= Math.min(offsets - 1, best + window); k++) {
      sum += carried[k];
      first += carried[k] * (k - middle);
      second += carried[k] * (k - middle) ** 2;
    }
    const at = first / sum;
    mean[i] = at * step + (centre ? centre[i] : 0);
    variance[i] = Math.max(second / sum - at * at, 0.02) * step * step;
    doubt[i] = 1 - sum / whole;
  }
  return { mean, variance, doubt };
}

/**
 * The offsets that weigh each place's belief against an even run: least squares with a second-difference term,
 * which gives way where the line has a corner (Huber's weights).
 *
 * @param evenness px of second difference between neighbours that is usual.
 */
export function evenOffsets(belief: ChainBelief, evenness: number): Float64Array {
  const count = belief.mean.length;
  const weights = Float64Array.from(belief.variance, (v, i) => (1 - belief.doubt[i]) / v);
  const bends = new Float64Array(count).fill(1 / evenness ** 2);
  const x = Float64Array.from(belief.mean);
  for (let round = 0; round < 3; round++) {
    const diagonal = new Float64Array(count);
    const one = new Float64Array(count);
    const two = new Float64Array(count);
    const right = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      diagonal[i] = weights[i] + 1e-4;
      right[i] = weights[i] * belief.mean[i];
    }
    for (let i = 1; i + 1 < count; i++) {
      const w = bends[i];
      diagonal[i - 1] += w;
      diagonal[i] += 4 * w;
      diagonal[i + 1] += w;
      one[i - 1] -= 2 * w;
      one[i] -= 2 * w;
      two[i - 1] += w;
    }
    pentadiagonal(diagonal, one, two, right, x);
    for (let i = 1; i + 1 < count; i++) {
      const bend = Math.abs(x[i - 1] - 2 * x[i] + x[i + 1]) / evenness;
      bends[i] = (bend > 1.5 ? 1.5 / bend : 1) / evenness ** 2;
    }
  }
  return x;
}

/** How much each place's belief counts where places are weighed together. */
export function weightsOf({ variance, doubt }: ChainBelief): Float64Array {
  return variance.map((v, i) => (1 - doubt[i]) / (v + 0.05));
}
