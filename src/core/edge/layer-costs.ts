import type { SideColours } from './side-colours';
import { type EdgeSoftness, objectShare, softReach } from './softness-profile';
import type { StraightPicture } from './straight';
import { median } from '../numbers/quantile';

/**
 * The object's own colours by depth behind its edge, as it was seen before: `count` × `depths` samples `step` px
 * apart from the edge inward, unpremultiplied; weight 0 where it was never seen.
 */
export interface ObjectMemory {
  count: number;
  depths: number;
  step: number;
  y: Float32Array;
  u: Float32Array;
  v: Float32Array;
  weight: Float32Array;
}

/** What the finder weighs at each place of a line. */
export interface Surroundings {
  /** The frame around the line. */
  picture: StraightPicture;
  /** What lies behind, from a frame in which the edge has gone: the same samples; Y is NaN where it is not known. */
  behind: StraightPicture | null;
  /** Factor on its light by a shadow that goes along with the object: `count` × samples from the line outward, as the picture's. */
  shade: Float32Array | null;
  /** What the object looks like. */
  object: ObjectMemory | null;
  /** What the object shows at the same samples if it has gone on without its edge, from the frame before; Y is NaN where it is not known. */
  within?: StraightPicture | null;
  /** Colours of either side in the frame before. */
  inner: SideColours;
  outer: SideColours;
  /** px a frame of the edge across the line, at each place. */
  speed: Float64Array;
  softness: EdgeSoftness;
  /** Standard deviation of the picture's noise, code values. */
  noise: number;
}

/** Code values that a chroma difference counts for against one of luma. */
const chromaWeight = 2;
/** Most that one sample can cost. */
const mostSampleCost = 5;
/** Cost of a sample that moved with the object although its edge did not. */
const moveWithObjectCost = 0.4;
/** Samples behind the edge that are held against the object as it lies along the edge. */
const anchored = 12;
/** Neighbouring samples are correlated: divide by this many. */
const correlatedSamples = 5;

const none = new Float32Array(0);
const nothingRemembered: ObjectMemory = {
  count: 0,
  depths: 0,
  step: 1,
  y: none,
  u: none,
  v: none,
  weight: none,
};

/**
 * The cost of an edge at each offset of each place: the samples inside are held against the object, those outside
 * against what lies behind, those between against the mix of both by the edge's softness. Each of these explains a
 * side as well as it does where the side is not in question; where it explains it badly, the side's mean colours do.
 */
export class LayerCosts {
  /** Standard deviation, code values, with which what lies behind and the object explain their own sides. */
  readonly behindError: Float32Array;
  readonly objectError: Float32Array;
  private readonly behind: StraightPicture | null;
  /** Standard deviation with which what the object showed before explains it. */
  private readonly withinError: Float32Array;
  private readonly gain: number;
  private readonly objectGain: number;
  /** For each sample, `count` × `across`: its cost outside, summed from the outermost; and inside by the mean colours. */
  private readonly outside: Float32Array;
  private readonly inside: Float32Array;
  /** The latter summed from the innermost. */
  private readonly insideSums: Float32Array;
  /** What lies behind it, as well as is known: Y, U, V, and 1 where that is seen, 0 where it is the side's mean, −1 out of the picture. */
  private readonly back: Float32Array;
  /** The picture's Y; 0 where it is not in the picture. */
  private readonly luma: Float32Array;

  /** @param reach px to either side that the edge may be at. */
  constructor(
    private readonly around: Surroundings,
    reach: number,
  ) {
    const { picture, object } = around;
    this.behind = around.behind && around.shade ? shadedBy(around.behind, around.shade) : around.behind;
    this.gain = this.behind ? gainOf(picture, this.behind, reach) : 1;
    this.objectGain = object ? objectGainOf(picture, object, reach) : 1;
    this.behindError = this.errorsBehind(reach);
    this.objectError = this.errorsOfObject(reach);
    this.withinError = this.errorsWithin(reach);
    const size = picture.count * picture.across;
    this.outside = new Float32Array(size + picture.count);
    this.inside = new Float32Array(size);
    this.insideSums = new Float32Array(size + picture.count);
    this.back = new Float32Array(4 * size);
    this.luma = new Float32Array(size);
    for (let i = 0; i < picture.count; i++) this.weighSamples(i);
  }

  /**
   * `count` × (2 · half + 1) costs, negative log likelihoods, of offsets about `centre` (or 0) at each place.
   *
   * @param every half samples from offset to offset: 1 or 2.
   */
  at(centre: Float64Array | null, half: number, every: 1 | 2): Float32Array {
    const { picture, within, inner, outer, softness, speed, noise } = this.around;
    const { count, across, from, step, u: pu, v: pv } = picture;
    const { depths, y: oy, u: ou, v: ov, weight } = this.around.object ?? nothingRemembered;
    const { outside, inside, insideSums, back, luma, objectGain: gain } = this;
    const offsets = 2 * half + 1;
    const costs = new Float32Array(count * offsets);
    const fine = step / 2;
    const zero = Math.round(-from / fine);
    const sum = new Float64Array(offsets);
    const shared = new Map<number, Float32Array>();
    for (let i = 0; i < count; i++) {
      const c = 3 * i;
      const so = Math.hypot(this.objectError[i], noise);
      const [io, lo] = [0.5 / (so * so), 2 * Math.log(so / noise)];
      const { base: plain } = sideCost(inner, i, noise);
      const plainObject = depths > 0 && lo < plain;
      const sw = Math.hypot(this.withinError[i], noise);
      const plainWithin = !!within && 2 * Math.log(sw / noise) < Math.min(plain, plainObject ? lo : Infinity);
      const meanSpread = Math.sqrt(inner.variance[c] + noise * noise);
      const outSpread = Math.sqrt(outer.variance[c] + noise * noise);
      const sb = Math.hypot(this.behindError[i], noise);
      const pace = Math.round(4 * speed[i]);
      const soft = Math.ceil(softReach(softness, pace / 4) / fine);
      const shares = shared.get(pace) ?? sharesOf(softness, pace / 4, soft, fine);
      shared.set(pace, shares);
      // In half samples: sample m lies at 2m from the first, the edge at `first` + k · `every`.
      const first = zero + (centre ? Math.round(centre[i] / fine) : 0) - half * every;
      const [samples, memory] = [i * across, i * depths];
      const sums = i * (across + 1);
      for (let k = 0; k < offsets; k++) {
        const edge = first + k * every;
        const firstOutside = Math.min(across, Math.max(0, Math.floor((edge + soft) / 2) + 1));
        const firstNear = Math.max(0, Math.ceil((edge - soft) / 2) - anchored);
        sum[k] = outside[sums + firstOutside] + insideSums[sums + firstNear];
      }
      // Each distance from the edge for all offsets in one go: what the object is like there is the same for all.
      for (let far = -soft - 2 * anchored; far <= soft; far++) {
        const odd = (first + far) & 1;
        if (odd && every === 2) continue;
        const [skipped, stride] = every === 2 ? [0, 1] : [odd, 2];
        const o = memory - far;
        const remembered = far <= 0 && -far < depths && weight[o] > 0;
        // Sample m lies there for offset k.
        let k = skipped;
        let m = (first + far + skipped * every) / 2;
        if (m < 0) [k, m] = [k - m * stride, 0];
        let s = samples + m;
        const end = samples + across;
        if (far < -soft) {
          // Deep inside, compare with the object as a whole only.
          if (!remembered) {
            for (; k < offsets && s < end; k += stride, s++) sum[k] += inside[s];
            continue;
          }
          const [y, u, v] = [gain * oy[o], ou[o], ov[o]];
          for (; k < offsets && s < end; k += stride, s++) {
            const dy = luma[s] - y;
            const du = pu[s] - u;
            const dv = pv[s] - v;
            // Out of the picture nothing costs anything.
            sum[k] += Math.min(inside[s], (dy * dy + chromaWeight * (du * du + dv * dv)) * io + lo);
          }
          continue;
        }
        const share = shares[far + soft];
        const rest = 1 - share;
        const own = plainObject && remembered;
        const y = share * (own ? gain * oy[o] : inner.mean[c]);
        const u = share * (own ? ou[o] : inner.mean[c + 1]);
        const v = share * (own ? ov[o] : inner.mean[c + 2]);
        const objectSpread = share * (own ? so : meanSpread);
        const [factor, base] = spreadCost(objectSpread + rest * sb, noise);
        const [factorOfMean, baseOfMean] = spreadCost(objectSpread + rest * outSpread, noise);
        if (plainWithin) {
          const [f, base] = spreadCost(share * sw + rest * sb, noise);
          const [g, baseOfMean] = spreadCost(share * sw + rest * outSpread, noise);
          const { y: wy, u: wu, v: wv } = within!;
          for (; k < offsets && s < end; k += stride, s++) {
            const seen = back[4 * s + 3];
            if (seen < 0) continue;
            const known = wy[s] === wy[s];
            const dy = luma[s] - share * (known ? wy[s] : inner.mean[c]) - rest * back[4 * s];
            const du = pu[s] - share * (known ? wu[s] : inner.mean[c + 1]) - rest * back[4 * s + 1];
            const dv = pv[s] - share * (known ? wv[s] : inner.mean[c + 2]) - rest * back[4 * s + 2];
            const off = dy * dy + chromaWeight * (du * du + dv * dv);
            sum[k] += Math.min(mostSampleCost, seen > 0 ? off * f + base : off * g + baseOfMean);
          }
          continue;
        }
        for (; k < offsets && s < end; k += stride, s++) {
          const seen = back[4 * s + 3];
          if (seen < 0) continue;
          const dy = luma[s] - y - rest * back[4 * s];
          const du = pu[s] - u - rest * back[4 * s + 1];
          const dv = pv[s] - v - rest * back[4 * s + 2];
          const off = dy * dy + chromaWeight * (du * du + dv * dv);
          sum[k] += Math.min(
            mostSampleCost,
            seen > 0 ? off * factor + base : off * factorOfMean + baseOfMean,
          );
        }
      }
      for (let k = 0; k < offsets; k++) costs[i * offsets + k] = (sum[k] * step) / correlatedSamples;
    }
    return costs;
  }

  /** Mean cost of the samples within `near` of the edge at `offset`, at each place: how badly it is explained there. */
  misfit(offset: ArrayLike<number>, near = 8): Float32Array {
    const { picture, softness, speed } = this.around;
    const { count, across, from, step } = picture;
    const misfit = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      const soft = softReach(softness, speed[i]);
      const edge = (offset[i] - from) / step;
      const first = Math.max(0, Math.round(edge - soft / step) - near);
      const last = Math.min(across, Math.round(edge + soft / step) + near);
      const [inner, outer] = [Math.max(first, Math.floor(edge)), Math.max(first, Math.floor(edge) + 1)];
      const inside =
        this.insideSums[i * (across + 1) + Math.min(inner, last)] - this.insideSums[i * (across + 1) + first];
      const outside =
        this.outside[i * (across + 1) + Math.min(outer, last)] - this.outside[i * (across + 1) + last];
      misfit[i] = last > first ? (inside + outside) / (last - first) : mostSampleCost;
    }
    return misfit;
  }

  private weighSamples(i: number): void {
    const { picture, object, within, inner, outer, noise } = this.around;
    const { across, from, step } = picture;
    const { behind, gain } = this;
    const sw = Math.hypot(this.withinError[i], noise);
    const [iw, lw] = [0.5 / (sw * sw), 2 * Math.log(sw / noise)];
    const sb = Math.hypot(this.behindError[i], noise);
    const so = Math.hypot(this.objectError[i], noise);
    const [ib, io] = [0.5 / (sb * sb), 0.5 / (so * so)];
    const [lb, lo] = [2 * Math.log(sb / noise), 2 * Math.log(so / noise)];
    const outside = sideCost(outer, i, noise);
    const inside = sideCost(inner, i, noise);
    const { y: py, u: pu, v: pv } = picture;
    const { y: oy, u: ou, v: ov, weight, depths, step: apartBy } = object ?? nothingRemembered;
    for (let m = across - 1; m >= 0; m--) {
      const s = i * across + m;
      const sums = i * (across + 1) + m;
      const b = 4 * s;
      const y = py[s];
      if (y !== y) {
        this.outside[sums] = this.outside[sums + 1];
        this.back[b + 3] = -1;
        continue;
      }
      this.luma[s] = y;
      const u = pu[s];
      const v = pv[s];
      const known = behind !== null && behind.y[s] === behind.y[s] && sb < 40;
      const plain = known && lb < outside.base;
      this.back[b] = plain ? gain * behind.y[s] : outside.y;
      this.back[b + 1] = plain ? behind.u[s] : outside.u;
      this.back[b + 2] = plain ? behind.v[s] : outside.v;
      this.back[b + 3] = plain ? 1 : 0;
      let cost = Math.min(mostSampleCost, colourCost(outside, y, u, v));
      if (known)
        cost = Math.min(
          cost,
          colourDistance(y - gain * behind.y[s], u - behind.u[s], v - behind.v[s]) * ib + lb,
        );
      this.outside[sums] = this.outside[sums + 1] + cost;
      let own = Math.min(mostSampleCost, colourCost(inside, y, u, v));
      // What lies inside may also have moved with the object as a whole while its edge did not.
      const depth = Math.round(-(from + m * step) / apartBy);
      const o = i * depths + depth;
      if (depth >= 0 && depth < depths && weight[o] > 0)
        own = Math.min(
          own,
          colourDistance(y - this.objectGain * oy[o], u - ou[o], v - ov[o]) * io + lo + moveWithObjectCost,
        );
      if (within && within.y[s] === within.y[s])
        own = Math.min(own, colourDistance(y - within.y[s], u - within.u[s], v - within.v[s]) * iw + lw);
      this.inside[s] = own;
    }
    for (let m = 0, sums = i * (across + 1); m < across; m++)
      this.insideSums[sums + m + 1] = this.insideSums[sums + m] + this.inside[i * across + m];
  }

  private errorsBehind(reach: number): Float32Array {
    const { picture } = this.around;
    const { behind, gain } = this;
    return errorsOf(picture.count, (i, error) => {
      if (!behind) return;
      for (let m = Math.ceil((reach - picture.from) / picture.step); m < picture.across; m++) {
        const s = i * picture.across + m;
        error(picture.y[s] - gain * behind.y[s], picture.u[s] - behind.u[s], picture.v[s] - behind.v[s]);
      }
    });
  }

  private errorsWithin(reach: number): Float32Array {
    const { picture, within } = this.around;
    return errorsOf(picture.count, (i, error) => {
      if (!within) return;
      for (let m = 0; picture.from + m * picture.step <= -reach; m++) {
        const s = i * picture.across + m;
        error(picture.y[s] - within.y[s], picture.u[s] - within.u[s], picture.v[s] - within.v[s]);
      }
    });
  }

  private errorsOfObject(reach: number): Float32Array {
    const { picture, object } = this.around;
    return errorsOf(picture.count, (i, error) => {
      if (!object) return;
      for (let m = 0; picture.from + m * picture.step <= -reach; m++) {
        const depth = Math.round(-(picture.from + m * picture.step) / object.step);
        if (depth >= object.depths) continue;
        const [s, o] = [i * picture.across + m, i * object.depths + depth];
        if (object.weight[o] <= 0) continue;
        error(
          picture.y[s] - this.objectGain * object.y[o],
          picture.u[s] - object.u[o],
          picture.v[s] - object.v[o],
        );
      }
    });
  }
}

/** Squared distance of two colours from their differences, code values. */
export function colourDistance(y: number, u: number, v: number): number {
  return y * y + chromaWeight * (u * u + v * v);
}

/** Cost of colours by a side's mean and variance: at least `base`. */
interface SideCost {
  y: number;
  u: number;
  v: number;
  /** Of a squared code value. */
  luma: number;
  chroma: number;
  base: number;
}

/** What a place's side costs: see `SideCost`. @param noise standard deviation, code values. */
export function sideCost({ mean, variance }: SideColours, i: number, noise: number): SideCost {
  const c = 3 * i;
  const vy = variance[c] + noise * noise;
  const vc = (variance[c + 1] + variance[c + 2]) / 2 + noise * noise;
  const base = Math.log(Math.sqrt(vy * vc) / (noise * noise)) + 0.7;
  return { y: mean[c], u: mean[c + 1], v: mean[c + 2], luma: 0.5 / vy, chroma: 0.5 / vc, base };
}

/** Cost of a colour on a side, against one that noise alone puts off. */
export function colourCost(side: SideCost, y: number, u: number, v: number): number {
  const dy = y - side.y;
  const du = u - side.u;
  const dv = v - side.v;
  return dy * dy * side.luma + (du * du + dv * dv) * side.chroma + side.base;
}

/** What a mix of both sides costs that is known with a standard deviation: for each squared code value, and at least. */
function spreadCost(spread: number, noise: number): [factor: number, base: number] {
  const wide = 1.25 * Math.max(noise, spread);
  return [0.5 / (wide * wide), 2 * Math.log(wide / noise)];
}

/** The object's share at −soft … soft half samples outside the edge. */
function sharesOf(softness: EdgeSoftness, speed: number, soft: number, fine: number): Float32Array {
  const shares = new Float32Array(2 * soft + 1);
  for (let k = -soft; k <= soft; k++) shares[k + soft] = objectShare(softness, speed, k * fine);
  return shares;
}

/** What lies behind as it is where a shadow lies on it; inside the line as right beside it. */
function shadedBy(behind: StraightPicture, shade: Float32Array): StraightPicture {
  const { count, across, from, step } = behind;
  const zero = Math.round(-from / step);
  const outward = shade.length / count;
  const [y, u, v] = [new Float32Array(behind.y), new Float32Array(behind.u), new Float32Array(behind.v)];
  for (let i = 0, s = 0; i < count; i++)
    for (let m = 0; m < across; m++, s++) {
      const factor = shade[i * outward + Math.min(outward - 1, Math.max(0, m - zero))];
      y[s] = 16 + (y[s] - 16) * factor;
      u[s] = 128 + (u[s] - 128) * factor;
      v[s] = 128 + (v[s] - 128) * factor;
    }
  return { ...behind, y, u, v };
}

/** Robust standard deviations at each place, evened out along the line. */
function errorsOf(
  count: number,
  visit: (i: number, error: (y: number, u: number, v: number) => void) => void,
): Float32Array {
  const sums = new Float64Array(count + 1);
  const numbers = new Float64Array(count + 1);
  for (let i = 0; i < count; i++) {
    sums[i + 1] = sums[i];
    numbers[i + 1] = numbers[i];
    visit(i, (y, u, v) => {
      const off = Math.sqrt(y * y + chromaWeight * (u * u + v * v));
      if (off !== off) return;
      sums[i + 1] += Math.min(off, 40);
      numbers[i + 1]++;
    });
  }
  return Float32Array.from({ length: count }, (_, i) => {
    const [a, b] = [Math.max(0, i - 4), Math.min(count, i + 5)];
    const n = numbers[b] - numbers[a];
    // The mean of |x| of a normal distribution in about two dimensions is 1.25 of its deviation.
    return n < 8 ? 60 : (sums[b] - sums[a]) / n / 1.25;
  });
}

/** Factor on the light between what lies behind and the frame, from the samples that are surely outside. */
function gainOf(picture: StraightPicture, behind: StraightPicture, reach: number): number {
  const ratios: number[] = [];
  for (let i = 0; i < picture.count; i++)
    for (let m = Math.ceil((reach - picture.from) / picture.step); m < picture.across; m += 2) {
      const s = i * picture.across + m;
      if (behind.y[s] > 24 && picture.y[s] === picture.y[s])
        ratios.push((picture.y[s] - 16) / (behind.y[s] - 16));
    }
  return medianGain(ratios);
}

function objectGainOf(picture: StraightPicture, object: ObjectMemory, reach: number): number {
  const ratios: number[] = [];
  for (let i = 0; i < picture.count; i++)
    for (let m = 0; picture.from + m * picture.step <= -reach; m += 2) {
      const depth = Math.round(-(picture.from + m * picture.step) / object.step);
      const [s, o] = [i * picture.across + m, i * object.depths + depth];
      if (depth < object.depths && object.weight[o] > 0 && object.y[o] > 24 && picture.y[s] === picture.y[s])
        ratios.push((picture.y[s] - 16) / (object.y[o] - 16));
    }
  return medianGain(ratios);
}

/** The usual gain of a picture against another; 1 where too little is seen of both. */
function medianGain(ratios: readonly number[]): number {
  return ratios.length < 40 ? 1 : Math.min(2, Math.max(0.5, median(ratios)));
}
