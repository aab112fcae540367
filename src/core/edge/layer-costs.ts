import type { SideColours } from './side-colours';
import { type EdgeSoftness, objectShare, softReach } from './softness-profile';
import type { StraightPicture } from './straight';

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
  /** Colours of either side in the frame before. */
  inner: SideColours;
  outer: SideColours;
  /** px a frame of the edge across the line, at each place. */
  speed: Float64Array;
  softness: EdgeSoftness;
  /** Standard deviation of the picture's noise, code values. */
  noise: number;
}

export interface LayerCosts {
  /** `count` × `offsets`: how badly an edge there explains the picture, as a negative log likelihood. */
  costs: Float32Array;
  offsets: number;
  /** px between offsets. */
  step: number;
  /** Standard deviation, code values, with which what lies behind and the object explain their own sides. */
  behindError: Float32Array;
  objectError: Float32Array;
}

/** Code values that a chroma difference counts for against one of luma. */
const chromaWeight = 2;
/** Most that one sample can cost. */
const worst = 5;
/** What it costs a sample to have moved with the object while its edge did not. */
const apart = 0.4;
/** Samples hang together; so many count as one. */
const together = 5;

/**
 * The cost of an edge at each offset of each place: the samples inside are held against the object, those outside
 * against what lies behind, those between against the mix of both by the edge's softness. Each of these explains a
 * side as well as it does where the side is not in question; where it explains it badly, the side's mean colours do.
 *
 * @param reach px to either side that the edge is looked for.
 */
export function layerCosts(around: Surroundings, reach: number): LayerCosts {
  const { picture, object, inner, outer, softness, noise } = around;
  const { count, across, from, step } = picture;
  const half = Math.round((2 * reach) / step);
  const offsets = 2 * half + 1;
  const costs = new Float32Array(count * offsets);
  const behind = around.behind && around.shade ? shadedBy(around.behind, around.shade) : around.behind;
  const gain = behind ? gainOf(picture, behind, reach) : 1;
  const behindError = errorsOf(count, (i, error) => {
    if (!behind) return;
    for (let m = Math.ceil((reach - from) / step); m < across; m++) {
      const s = i * across + m;
      error(picture.y[s] - gain * behind.y[s], picture.u[s] - behind.u[s], picture.v[s] - behind.v[s]);
    }
  });
  const objectGain = object ? objectGainOf(picture, object, reach) : 1;
  const objectError = errorsOf(count, (i, error) => {
    if (!object) return;
    for (let m = 0; from + m * step <= -reach; m++) {
      const depth = Math.round(-(from + m * step) / object.step);
      if (depth >= object.depths) continue;
      const [s, o] = [i * across + m, i * object.depths + depth];
      if (object.weight[o] <= 0) continue;
      error(
        picture.y[s] - objectGain * object.y[o],
        picture.u[s] - object.u[o],
        picture.v[s] - object.v[o],
      );
    }
  });
  const behindCost = new Float32Array(across);
  const innerCost = new Float32Array(across);
  const expectedCost = new Float32Array(across);
  const by = new Float32Array(across);
  const bu = new Float32Array(across);
  const bv = new Float32Array(across);
  const bs = new Float32Array(across);
  for (let i = 0; i < count; i++) {
    const sb = Math.hypot(behindError[i], noise);
    const so = Math.hypot(objectError[i], noise);
    const [ib, io] = [1 / (sb * sb), 1 / (so * so)];
    const [lb, lo] = [2 * Math.log(sb / noise), 2 * Math.log(so / noise)];
    const c = 3 * i;
    const spreadOf = (side: SideColours) => {
      const vy = side.variance[c] + noise * noise;
      const vc = (side.variance[c + 1] + side.variance[c + 2]) / 2 + noise * noise;
      return [1 / vy, 1 / vc, Math.log(Math.sqrt(vy) / noise) + Math.log(Math.sqrt(vc) / noise) + 0.7];
    };
    const [outY, outC, outL] = spreadOf(outer);
    const [inY, inC, inL] = spreadOf(inner);
    for (let m = 0; m < across; m++) {
      const s = i * across + m;
      const [y, u, v] = [picture.y[s], picture.u[s], picture.v[s]];
      let cost = Math.min(
        worst,
        0.5 *
          ((y - outer.mean[c]) ** 2 * outY +
            ((u - outer.mean[c + 1]) ** 2 + (v - outer.mean[c + 2]) ** 2) * outC) +
          outL,
      );
      const known = behind !== null && behind.y[s] === behind.y[s] && sb < 40;
      if (known) {
        const off =
          (y - gain * behind.y[s]) ** 2 +
          chromaWeight * ((u - behind.u[s]) ** 2 + (v - behind.v[s]) ** 2);
        cost = Math.min(cost, 0.5 * off * ib + lb);
      }
      behindCost[m] = cost;
      innerCost[m] = Math.min(
        worst,
        0.5 *
          ((y - inner.mean[c]) ** 2 * inY +
            ((u - inner.mean[c + 1]) ** 2 + (v - inner.mean[c + 2]) ** 2) * inC) +
          inL,
      );
      // What lies inside may also have moved with the object as a whole while its edge did not.
      const inside = object ? Math.round(-(from + m * step) / object.step) : -1;
      expectedCost[m] = Infinity;
      if (inside >= 0 && inside < object!.depths && object!.weight[i * object!.depths + inside] > 0) {
        const o = i * object!.depths + inside;
        const off =
          (y - objectGain * object!.y[o]) ** 2 +
          chromaWeight * ((u - object!.u[o]) ** 2 + (v - object!.v[o]) ** 2);
        expectedCost[m] = Math.min(worst, 0.5 * off * io + lo + apart);
      }
      const plain = known && lb < outL;
      by[m] = plain ? gain * behind.y[s] : outer.mean[c];
      bu[m] = plain ? behind.u[s] : outer.mean[c + 1];
      bv[m] = plain ? behind.v[s] : outer.mean[c + 2];
      bs[m] = plain ? sb : 1 / Math.sqrt(outY);
    }
    const reachSoft = softReach(softness, around.speed[i]);
    const plainObject = object !== null && lo < inL;
    for (let k = 0; k < offsets; k++) {
      const d = (k - half) * 0.5 * step;
      let sum = 0;
      for (let m = 0; m < across; m++) {
        const s = i * across + m;
        const y = picture.y[s];
        if (y !== y) continue;
        const far = from + m * step - d;
        if (far > reachSoft) {
          sum += behindCost[m];
          continue;
        }
        const depth = far < 0 ? Math.round(-far / (object?.step ?? 1)) : 0;
        const o = object ? i * object.depths + depth : 0;
        const seen = object !== null && depth < object.depths && object.weight[o] > 0;
        if (far < -reachSoft) {
          let cost = innerCost[m];
          if (seen) {
            const off =
              (y - objectGain * object.y[o]) ** 2 +
              chromaWeight * ((picture.u[s] - object.u[o]) ** 2 + (picture.v[s] - object.v[o]) ** 2);
            cost = Math.min(cost, 0.5 * off * io + lo);
          }
          if (expectedCost[m] < cost) cost = expectedCost[m];
          sum += cost;
          continue;
        }
        const share = objectShare(softness, around.speed[i], far);
        const own = seen && plainObject;
        const [oy, ou, ov, os] = own
          ? [objectGain * object.y[o], object.u[o], object.v[o], so]
          : [inner.mean[c], inner.mean[c + 1], inner.mean[c + 2], 1 / Math.sqrt(inY)];
        const spread = Math.max(noise, share * os + (1 - share) * bs[m]) * 1.25;
        const off =
          (y - share * oy - (1 - share) * by[m]) ** 2 +
          chromaWeight *
            ((picture.u[s] - share * ou - (1 - share) * bu[m]) ** 2 +
              (picture.v[s] - share * ov - (1 - share) * bv[m]) ** 2);
        sum += Math.min(worst, (0.5 * off) / (spread * spread) + 2 * Math.log(spread / noise));
      }
      costs[i * offsets + k] = (sum * step) / together;
    }
  }
  return { costs, offsets, step: 0.5 * step, behindError, objectError };
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
      if (behind.y[s] > 24 && picture.y[s] === picture.y[s]) ratios.push((picture.y[s] - 16) / (behind.y[s] - 16));
    }
  return middling(ratios);
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
  return middling(ratios);
}

function middling(ratios: number[]): number {
  if (ratios.length < 40) return 1;
  const sorted = Float64Array.from(ratios).sort();
  return Math.min(2, Math.max(0.5, sorted[sorted.length >> 1]));
}
