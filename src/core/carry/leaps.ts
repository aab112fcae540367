import { colourCost, colourDistance, type ObjectMemory, sideCost } from '../edge/layer-costs';
import type { SideColours } from '../edge/side-colours';
import type { StraightPicture } from '../edge/straight';
import { median } from '../numbers/quantile';
import { movingMean } from '../numbers/moving-mean';
import type { LeapSettings } from './follow-settings';
import { isAtTheEnd, type RunSight } from './run-state';

/** How often colours are seen on the object, against how often any colour is: by bins of Y, U and V. */
export class ObjectColours {
  private readonly counts = new Float32Array(16 * 16 * 16);
  private whole = 0;

  /** What is remembered of it. */
  static remembered({ y, u, v, weight }: ObjectMemory): ObjectColours {
    const colours = new ObjectColours();
    for (let k = 0; k < y.length; k += 2) if (weight[k] > 0) colours.count(y[k], u[k], v[k]);
    return colours;
  }

  private count(y: number, u: number, v: number): void {
    this.counts[ObjectColours.bin(y, u, v)]++;
    this.whole++;
  }

  private static bin(y: number, u: number, v: number): number {
    return ((y >> 4) << 8) | (chromaBin(u) << 4) | chromaBin(v);
  }

  /** Density of a colour on the object against that of a colour that may be any. */
  share(y: number, u: number, v: number): number {
    if (this.whole === 0) return 1;
    return (this.counts[ObjectColours.bin(y, u, v)] / this.whole) * likelyColours;
  }
}

/** Chroma fills the middle of its range only. */
function chromaBin(value: number): number {
  return Math.min(15, Math.max(0, ((value - 128) / 8 + 8) | 0));
}

/** Most that one sample can say, as a cost. */
const mostCost = 6;
/** Cost of a sample right inside the edge that is out of the picture: nothing is known to leap there. */
const outOfPicture = 4;
/** Cost of a colour that may be any, against one that lies as near to what is behind as it can. */
const anyColour = 3;
/** Cost of a colour that is the object's own. */
const ownColour = 0.8;
/** Share of the object's colours that were not seen on it before. */
const unseen = 0.3;

/** Cost of what lies behind in shadow, and places and samples to either side that are in the same one. */
const inShade = 1.5;
const [shadeRows, shadeSamples] = [4, 1];
/** Light that a shadow leaves, and code values over black that there must be in all to tell it. */
const [darkest, lightest, leastLight] = [0.45, 0.95, 200];
/** Colours that a picture may have, of all bins: most mixes of luma and chroma are never seen. */
const likelyColours = 512;
/** Samples that there must be to tell how well what lies behind explains the picture. */
const leastOutside = 20;

/** A soft edge's outer half, as a share of its reach, by which what is unlike begins farther out. */
const softOutward = 0.5;
/** Share of the reach from which on what was found may lie beyond it. */
const nearReach = 0.7;
/** px from place to place beyond which a line is torn there. */
export const torn = 24;
/** Share of a line that leaps at most: something that hides most of it is no limb. */
const mostOfLine = 0.6;
/** Places to either side that are looked at together, and how many of a line must be badly explained. */
const [together, fewest] = [2, 3];

/**
 * How badly the picture explains each place where its edge was found. An edge at the end of the search range may lie beyond it, and
 * counts as badly explained.
 *
 * @param inPicture whether the whole search range of a place is in the picture: an edge that leaves the picture may end anywhere.
 */
export function misfitWithin(
  sight: RunSight,
  { leastMisfit }: LeapSettings,
  inPicture: (i: number) => boolean,
): Float32Array {
  return sight.misfit.map((cost, i) =>
    isAtTheEnd(sight, i) && inPicture(i) ? Math.max(cost, leastMisfit + 1) : cost,
  );
}

/** Whether a line may have leapt: the picture where it was found is badly explained at some places together. @param misfit of `misfitWithin`. */
export function mayLeap({ seen }: RunSight, misfit: Float32Array, { leastMisfit }: LeapSettings): boolean {
  const beside = movingMean(Float64Array.from(misfit), together);
  return beside.filter((cost, i) => seen[i] === 1 && cost > leastMisfit).length >= fewest;
}

/** Where a line was found without a leap. */
export interface Staying {
  /** px across at each place. */
  staying: Float64Array;
  misfit: Float32Array;
  /** px to either side that were looked at, and px of the edge's softness to either side. */
  reach: number;
  soft: number;
  /** px of that which are there without any movement. */
  blurred: number;
  /** Colours of what lay behind in the frame before. */
  outer: SideColours;
  /** Whether all of the line may have leapt. */
  wholly: boolean;
  /** px across of each place from one straight line. */
  height: Float64Array;
}

/**
 * Where a line leaps to at each place, px across it; 0 where it stays about where it is. What lies outside looks like what lies
 * behind, and right inside there is a stretch that does not: the outermost one, as of an arm before a gap through which what lies
 * behind is seen. The best course of such edges along the line by dynamic programming (Viterbi 1967), which may leap from an elbow
 * to a hip at a price that does not grow with how far it is (truncated linear cost).
 *
 * @param picture the frame about the line. @param behind the same samples of what lies behind, from one or more frames; Y is NaN
 * where one does not show it.
 */
export function leapsOf(
  picture: StraightPicture,
  behind: readonly StraightPicture[],
  colours: ObjectColours,
  { staying, misfit, reach, height, soft, blurred, wholly, outer, ...settings }: LeapSettings & Staying,
): Float64Array {
  const { pull, slope, leap, thin, noise, correlated } = settings;
  // What is out of focus is found less exactly.
  const [least, moved] = [settings.least + blurred, settings.moved + blurred];
  const { count, across, from, step } = picture;
  const spread = spreadOutside(picture, behind, noise);
  const costs = edgeCosts(picture, behind, colours, {
    outer,
    spread,
    within: Math.max(2, Math.round(thin / step)),
    scale: step / correlated,
  });
  for (let i = 0; i < count; i++)
    for (let m = 0; m <= across; m++)
      costs[i * (across + 1) + m] +=
        pull * Math.min(1, Math.abs(from + (m - 0.5) * step - staying[i]) / least);
  const best = outermostCourse(costs, count, across + 1, slope * step, leap);
  // Right outside a soft edge it is unlike what lies behind already.
  const outward = softOutward * soft;
  const leaps = Float64Array.from(best, (m, i) => {
    const at = from + (m - 0.5) * step - outward;
    return Math.abs(at - staying[i]) < least && Math.abs(staying[i]) < moved ? 0 : at;
  });
  const gone = leaps.filter(
    (by, i) => by !== 0 && Math.abs(by - staying[i]) >= least && Math.abs(staying[i]) < nearReach * reach,
  );
  if (!wholly && gone.length > mostOfLine * leaps.length) return new Float64Array(leaps.length);
  return joinedLeaps(leaps, { staying, height, misfit, wholly }, { ...settings, least });
}

/**
 * The leaps to keep: where staying is badly explained, and from where the line goes on to a place that stays, as a limb grows out
 * of the object. Somebody else who is seen farther out is joined to nothing.
 */
function joinedLeaps(
  leaps: Float64Array,
  { staying, height, misfit, wholly }: Pick<Staying, 'staying' | 'height' | 'misfit' | 'wholly'>,
  { least, leastMisfit }: LeapSettings,
): Float64Array {
  const count = leaps.length;
  const at = (i: number) => height[i] + (leaps[i] === 0 ? staying[i] : leaps[i]);
  const pieces: { from: number; to: number }[] = [];
  for (let i = 0, to = 0; i < count; i = to) {
    to = i + 1;
    if (leaps[i] === 0) continue;
    while (to < count && leaps[to] !== 0 && Math.abs(at(to) - at(to - 1)) <= torn) to++;
    const mean = (values: ArrayLike<number>) => {
      let sum = 0;
      for (let k = i; k < to; k++) sum += values[k];
      return sum / (to - i);
    };
    if (mean(misfit) < leastMisfit) leaps.fill(0, i, to);
    else pieces.push({ from: i, to });
  }
  // A place that is about where it would stay is joined to the object anyway.
  const joined = Uint8Array.from(leaps, (by, i) => (by === 0 || Math.abs(by - staying[i]) < least ? 1 : 0));
  // Where all of it has gone, it is joined to itself.
  const rows = pieces.reduce((sum, { from, to }) => sum + to - from, 0);
  if (wholly && rows > mostOfLine * count) joined.fill(1);
  const goesOn = (i: number, next: number) =>
    next >= 0 && next < count && joined[next] === 1 && Math.abs(at(next) - at(i)) <= torn;
  for (let more = true; more;) {
    more = false;
    for (const { from, to } of pieces) {
      if (joined.subarray(from, to).every((is) => is === 1)) continue;
      const within = joined.subarray(from, to).includes(1);
      if (!within && !goesOn(from, from - 1) && !goesOn(to - 1, to)) continue;
      joined.fill(1, from, to);
      more = true;
    }
  }
  return leaps.map((by, i) => (joined[i] === 1 ? by : 0));
}

/** Standard deviation with which what lies behind explains the outermost third of the samples, code values. */
function spreadOutside(picture: StraightPicture, behind: readonly StraightPicture[], noise: number): number {
  const { count, across } = picture;
  const off: number[] = [];
  for (let i = 0; i < count; i += 2)
    for (let m = Math.floor((2 * across) / 3); m < across; m += 2) {
      const s = i * across + m;
      let least = Infinity;
      for (const { y } of behind) least = Math.min(least, Math.abs(picture.y[s] - y[s]) || Infinity);
      if (least < Infinity) off.push(least);
    }
  return off.length < leastOutside ? 3 * noise : Math.max(noise, Math.min(4 * noise, 1.48 * median(off)));
}

/** Costs of an edge before sample m, 0 to `across`, at each place: those below are inside. */
function edgeCosts(
  picture: StraightPicture,
  behind: readonly StraightPicture[],
  colours: ObjectColours,
  { outer, spread, within, scale }: { outer: SideColours; spread: number; within: number; scale: number },
): Float32Array {
  const { count, across, y, u, v } = picture;
  const labels = across + 1;
  const costs = new Float32Array(count * labels);
  const [outside, inside, either] = [0, 1, 2].map(() => new Float32Array(labels));
  const per = 0.5 / (spread * spread);
  const shades = behind.map((there) => shadesOn(picture, there));
  for (let i = 0; i < count; i++) {
    // What lies behind may have been taken from a frame that does not show it: what looks like its side is that, too.
    const side = sideCost(outer, i, spread);
    for (let m = 0; m < across; m++) {
      const s = i * across + m;
      if (y[s] !== y[s]) {
        outside[m + 1] = outside[m];
        inside[m + 1] = inside[m] + outOfPicture;
        either[m + 1] = either[m];
        continue;
      }
      const share = colours.share(y[s], u[s], v[s]);
      const object = Math.max(ownColour, anyColour - Math.log(unseen + (1 - unseen) * share));
      let back = Infinity;
      for (const [p, there] of behind.entries()) {
        const shade = shades[p][s];
        for (let k = Math.max(0, m - 1); k <= Math.min(across - 1, m + 1); k++) {
          const b = i * across + k;
          if (there.y[b] !== there.y[b]) continue;
          const dy = y[s] - there.y[b];
          const du = u[s] - there.u[b];
          const dv = v[s] - there.v[b];
          back = Math.min(back, colourDistance(dy, du, dv) * per);
          if (shade === 1) continue;
          const sy = y[s] - 16 - shade * (there.y[b] - 16);
          const su = u[s] - 128 - shade * (there.u[b] - 128);
          const sv = v[s] - 128 - shade * (there.v[b] - 128);
          back = Math.min(back, colourDistance(sy, su, sv) * per + inShade);
        }
      }
      const cost = Math.min(mostCost, back, colourCost(side, y[s], u[s], v[s]));
      outside[m + 1] = outside[m] + cost;
      inside[m + 1] = inside[m] + object;
      either[m + 1] = either[m] + Math.min(cost, object);
    }
    for (let m = 0; m < labels; m++) {
      const deep = Math.max(0, m - within);
      costs[i * labels + m] =
        scale * (outside[across] - outside[m] + inside[m] - inside[deep] + either[deep]);
    }
  }
  return costs;
}

/** Factors on the light of what lies behind, as near each sample; 1 where no shadow explains the picture there. */
function shadesOn(picture: StraightPicture, behind: StraightPicture): Float32Array {
  const { count, across } = picture;
  const wide = across + 1;
  const [lit, base] = [0, 1].map(() => new Float64Array((count + 1) * wide));
  for (let i = 0; i < count; i++) {
    let [one, two] = [0, 0];
    for (let m = 0; m < across; m++) {
      const s = i * across + m;
      const known = picture.y[s] === picture.y[s] && behind.y[s] === behind.y[s];
      one += known ? picture.y[s] - 16 : 0;
      two += known ? behind.y[s] - 16 : 0;
      lit[(i + 1) * wide + m + 1] = lit[i * wide + m + 1] + one;
      base[(i + 1) * wide + m + 1] = base[i * wide + m + 1] + two;
    }
  }
  const shades = new Float32Array(count * across);
  const [down, over] = [shadeRows, shadeSamples];
  for (let i = 0; i < count; i++)
    for (let m = 0; m < across; m++) {
      const [a, b] = [Math.max(0, i - down) * wide, Math.min(count, i + down + 1) * wide];
      const [c, d] = [Math.max(0, m - over), Math.min(across, m + over + 1)];
      const of = base[b + d] - base[a + d] - base[b + c] + base[a + c];
      const ratio = of > leastLight ? (lit[b + d] - lit[a + d] - lit[b + c] + lit[a + c]) / of : 1;
      shades[i * across + m] = ratio > darkest && ratio < lightest ? ratio : 1;
    }
  return shades;
}

/** The labels of least cost along the places, where a step costs `slope` for each label, and `leap` at most. */
function outermostCourse(
  costs: Float32Array,
  count: number,
  labels: number,
  slope: number,
  leap: number,
): Int32Array {
  const whole = Float32Array.from(costs.subarray(0, labels));
  const came = new Int32Array(count * labels);
  const far = Math.ceil(leap / slope);
  const next = new Float32Array(labels);
  for (let i = 1; i < count; i++) {
    let [lowest, lowestAt] = [Infinity, 0];
    for (let m = 0; m < labels; m++) if (whole[m] < lowest) [lowest, lowestAt] = [whole[m], m];
    for (let m = 0; m < labels; m++) {
      let [least, at] = [lowest + leap, lowestAt];
      const last = Math.min(labels - 1, m + far);
      for (let k = Math.max(0, m - far); k <= last; k++) {
        const cost = whole[k] + slope * Math.abs(m - k);
        if (cost < least) [least, at] = [cost, k];
      }
      next[m] = least + costs[i * labels + m];
      came[i * labels + m] = at;
    }
    whole.set(next);
  }
  const course = new Int32Array(count);
  let at = 0;
  for (let m = 1; m < labels; m++) if (whole[m] < whole[at]) at = m;
  for (let i = count - 1; i >= 0; i--) {
    course[i] = at;
    at = came[i * labels + at];
  }
  return course;
}
