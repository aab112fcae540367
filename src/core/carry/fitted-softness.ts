import { sideColours, unknownVariance } from '../edge/side-colours';
import { type EdgeSoftness, objectShare, softReach } from '../edge/softness-profile';
import type { StraightPicture } from '../edge/straight';
import { median } from '../numbers/quantile';

/** Softnesses that are tried: standard deviations, px, and shares of a frame that the shutter is open. */
const sigmas = [0.6, 0.8, 1.1, 1.5, 2, 2.7, 3.5, 4.5, 6, 8, 10, 12];
const shutters = [0, 0.15, 0.3, 0.45, 0.6, 0.8, 1];
/** px a frame from which on a shutter makes a difference. */
const slow = 3;
/** px to either side that a softness reaches at most. */
const farthest = 33;
/** Most px from the line at which either side's colours are taken: a shadow may end farther out. */
const widest = 26;
/** px of either side beyond the softness whose colours are the side's. */
const deep = 7;
/** px that the line may lie off the edge without a change to what is told of its softness. */
const offs = [-2, -1.5, -1, -0.5, 0, 0.5, 1, 1.5, 2];
/** Rounds: the first takes a wide edge, each further one an edge as wide as was found. */
const rounds = 3;
const usual: EdgeSoftness = { sigma: 0.8, shutter: 0 };

/**
 * The softness of an edge where the line is known. At each distance from the line the object's share is told from all places
 * together, by least squares with Huber's weights (Huber 1964): a sample is that share of the object's colours, and the rest of what
 * lies behind, which a shadow may darken by as much at all places. The result is the softness whose profile comes nearest to those shares.
 *
 * @param picture samples of both sides, a px apart. @param behind the same of what lies behind; Y is NaN where that is not known.
 * @param speed px a frame across at each place.
 */
export function fittedSoftness(
  picture: StraightPicture,
  behind: StraightPicture | null,
  speed: Float64Array,
): EdgeSoftness {
  const pace = median(speed);
  let [best, reach] = [usual, 20];
  let counts: Uint8Array = new Uint8Array(picture.count).fill(1);
  for (let round = 0; round < rounds; round++) {
    const sides = sidesOf(picture, behind, reach);
    const found = nearestProfile(sharesAcross(picture, sides, reach, counts), pace);
    if (!found) return best;
    const wide = Math.min(widest, Math.ceil(softReach(found.softness, pace)) + 2);
    best = found.softness;
    if (round > 0 && Math.abs(wide - reach) < 2) break;
    counts = likeMost(picture, sides, found, pace, reach);
    reach = wide;
  }
  return best;
}

/** The object's share at a distance from the line, px outward, and how much that says. */
interface Told {
  far: number;
  share: number;
  weight: number;
}

/** Luma and chroma over black of either side: of the object at each place, of what lies behind at each sample. */
interface Sides {
  /** 3 numbers a place; NaN where they are not known. */
  object: Float32Array;
  /** 3 numbers a sample; NaN where they are not known. */
  back: Float32Array;
  /** 1 where what lies behind is from another frame, and may lie in a shadow in this one. */
  bare: Uint8Array;
}

/** Code values within which a sample counts whole, and what holds a shadow's factor to what it is beside the edge. */
const within = 12;
const ridge = 60000;
/** Weight of chroma, which is stored at half the size, against luma. */
const coarse = 0.2;
/** Factors by which the light beside the edge may differ from that of what lies behind. */
const [darkest, lightest] = [0.3, 1.5];
/** Code values over black from which on there is light enough to tell that. */
const leastLight = 8;

function sidesOf(picture: StraightPicture, behind: StraightPicture | null, reach: number): Sides {
  const { count, across } = picture;
  const inner = sideColours(picture, -reach - deep, -reach, 1);
  const outer = sideColours(picture, reach, reach + deep, 1);
  const lit = sideColours(picture, reach, reach + deep, 3);
  const unlit = behind && sideColours(behind, reach, reach + deep, 3);
  const object = inner.mean.map((value, k) =>
    inner.variance[k - (k % 3)] < unknownVariance ? value - (k % 3 === 0 ? 16 : 128) : NaN,
  );
  const back = new Float32Array(3 * count * across).fill(NaN);
  const bare = new Uint8Array(count * across);
  for (let i = 0, s = 0; i < count; i++) {
    const base = unlit && unlit.variance[3 * i] < unknownVariance ? unlit.mean[3 * i] - 16 : 0;
    const told = base > leastLight && lit.variance[3 * i] < unknownVariance;
    const light = told ? Math.min(lightest, Math.max(darkest, (lit.mean[3 * i] - 16) / base)) : 1;
    for (let m = 0; m < across; m++, s++)
      if (behind && behind.y[s] === behind.y[s]) {
        back[3 * s] = light * (behind.y[s] - 16);
        back[3 * s + 1] = light * (behind.u[s] - 128);
        back[3 * s + 2] = light * (behind.v[s] - 128);
        bare[s] = 1;
      } else if (outer.variance[3 * i] < unknownVariance)
        for (let c = 0; c < 3; c++) back[3 * s + c] = outer.mean[3 * i + c] - (c === 0 ? 16 : 128);
  }
  return { object, back, bare };
}

/** The shares at all distances, from those places that count. */
function sharesAcross(
  picture: StraightPicture,
  { object, back, bare }: Sides,
  reach: number,
  counts: Uint8Array,
): Told[] {
  const { count, across, from, step } = picture;
  const told: Told[] = [];
  for (let m = 0; m < across; m++) {
    const far = from + m * step;
    if (Math.abs(far) > reach + deep) continue;
    let [share, shade, weight] = [0.5, 0, 0];
    for (let round = 0; round < 4; round++) {
      // The object's share of (object − behind), and what a shadow takes of what lies behind: normal equations of both.
      let [dd, db, bb, di, bi, n] = [0, 0, ridge, 0, 0, 0];
      for (let i = 0; i < count; i++) {
        const s = i * across + m;
        const [y, b, o] = [picture.y[s], 3 * s, 3 * i];
        if (!counts[i] || y !== y || object[o] !== object[o] || back[b] !== back[b]) continue;
        const seen = [y - 16, picture.u[s] - 128, picture.v[s] - 128];
        let off = 0;
        for (let c = 0; c < 3; c++)
          off += Math.abs(
            seen[c] - back[b + c] - share * (object[o + c] - back[b + c]) + shade * back[b + c],
          );
        const weigh = round === 0 || off < within ? 1 : within / off;
        for (let c = 0; c < 3; c++) {
          const w = c === 0 ? weigh : coarse * weigh;
          const d = object[o + c] - back[b + c];
          // What is not known from another frame has its shadow in it.
          const lit = bare[s] ? back[b + c] : 0;
          dd += w * d * d;
          db -= w * d * lit;
          bb += w * lit * lit;
          di += w * d * (seen[c] - back[b + c]);
          bi -= w * lit * (seen[c] - back[b + c]);
        }
        n++;
      }
      const whole = dd * bb - db * db;
      if (n < 12 || !(whole > 1e-6 * dd * bb)) break;
      share = (di * bb - bi * db) / whole;
      shade = (bi * dd - di * db) / whole;
      weight = whole / bb;
    }
    told.push({ far, share: Math.min(1.3, Math.max(-0.3, share)), weight });
  }
  return told;
}

/** Squared code values of contrast, all places together, from which on shares are told. */
const leastContrast = 2000;
/** Weight of a px that a profile lies off the line, against a share. */
const offCost = 0.002;

interface Profile {
  softness: EdgeSoftness;
  /** px outward that it lies off the line. */
  off: number;
}

function nearestProfile(told: readonly Told[], pace: number): Profile | null {
  const all = told.reduce((sum, { weight }) => sum + weight, 0);
  if (all < leastContrast * told.length) return null;
  const most = (2 * all) / told.length;
  let best: Profile | null = null;
  let least = Infinity;
  for (const sigma of sigmas)
    for (const shutter of Math.abs(pace) > slow ? shutters : [0]) {
      const softness = { sigma, shutter };
      if (softReach(softness, pace) > farthest) continue;
      for (const off of offs) {
        let [sum, weights] = [0, 0];
        for (const { far, share, weight } of told) {
          const w = Math.min(weight, most);
          sum += w * Math.abs(share - objectShare(softness, pace, far - off));
          weights += w;
        }
        const cost = sum / weights + offCost * Math.abs(off);
        if (cost < least) [least, best] = [cost, { softness, off }];
      }
    }
  return best;
}

/** Share of the places that count: a limb goes at a pace of its own, and somebody else may stand behind. */
const counting = 0.65;

/** 1 for the places that a profile explains best. */
function likeMost(
  picture: StraightPicture,
  { object, back }: Sides,
  { softness, off }: Profile,
  pace: number,
  reach: number,
): Uint8Array {
  const { count, across, from, step } = picture;
  const cost = new Float64Array(count).fill(Infinity);
  for (let i = 0; i < count; i++) {
    let [sum, n] = [0, 0];
    for (let m = 0; m < across; m++) {
      const far = from + m * step;
      const s = i * across + m;
      const unlike =
        picture.y[s] -
        16 -
        back[3 * s] -
        objectShare(softness, pace, far - off) * (object[3 * i] - back[3 * s]);
      if (Math.abs(far) > reach || unlike !== unlike) continue;
      sum += Math.min(60, Math.abs(unlike)) / (10 + Math.abs(object[3 * i] - back[3 * s]));
      n++;
    }
    if (n > 10) cost[i] = sum / n;
  }
  const known = cost.filter((value) => value < Infinity).sort();
  const most =
    known.length === 0 ? Infinity : known[Math.min(known.length - 1, Math.floor(counting * known.length))];
  return Uint8Array.from(cost, (value) => (value <= most ? 1 : 0));
}
