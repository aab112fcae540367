import type { Affine } from '../geometry/affine';
import type { Rectangle } from '../geometry/rectangle';
import type { FramePicture } from '../picture/frame-picture';
import { largestPatches } from './patches';
import { peopleIn, type PeopleNetwork, sharesOnGrid, squareAbout } from './people';
import { depthsOf } from './prior';
import { shareOfBoth } from './share-of-both';
import type { CutRegion, SubjectFrame } from './subject-frame';

/** How far one square is from the next, as a share of its side. */
const apart = 0.5;
/** Share from which on a sample is a person. */
const isFrom = 0.5;
/** Share of the small grid below which a person is too small to be traced. */
const leastSize = 0.0015;
/** Share of a patch, or of what the close look sees, that must lie in the other for it to be somebody. */
const confirmedFrom = 0.5;
/**
 * Margins of further squares about somebody, see people.ts, and the mean share inside that all must show: closely, a flower pot is taken for
 * somebody too, but hardly in all of them (from the bench's walkers and the demo's shots).
 */
const [margins, seenFrom] = [[3, 2.2, 1.25], 0.86];
/** The mean share inside of what was cut that it must have in the end. */
const sureFrom = 0.85;
/** Share of two people that both have, and of one that lies in the other, from which on they are one. */
const [oneFrom, withinFrom] = [0.5, 0.8];
/** Share of two patches that both have, from which on what is denied of one is denied of the other. */
const sameFrom = 0.7;
/** How often a square is laid about somebody at the least, and at the most until all of them is seen. */
const [looks, mostLooksCloser] = [2, 5];

/** Somebody on a frame: their region, cut where colours and movement put its border. */
export interface FoundPerson {
  region: CutRegion;
  /** How sure the network is, 0 to 1: the mean share inside. */
  sure: number;
}

/** How thoroughly people are looked for. */
export interface Search {
  /** Sides of the squares that are looked at, as shares of the picture's shorter side. */
  sides: readonly number[];
  /** Most patches that are looked at closely. */
  mostLooks: number;
}

const everywhere: Search = { sides: [1, 0.5], mostLooks: 16 };
/** Only who is large, and in the fewest looks. */
export const onlyTheLarge: Search = { sides: [1], mostLooks: 4 };

export type ToldOfPeople = (share: number, found: readonly FoundPerson[]) => boolean | Promise<boolean>;

/**
 * The people on a frame, the largest first. The picture is looked at as a whole and in squares of two sizes; whoever may be there is
 * then looked at closely, and stays where both looks agree.
 *
 * @param told of the share done, and of those found so far; returns whether to go on.
 * @param search how thoroughly.
 * @returns null where it was stopped.
 */
export async function findPeople(
  picture: FramePicture,
  subject: SubjectFrame,
  network: PeopleNetwork,
  toPicture: Affine,
  { told = () => true, search = everywhere }: { told?: ToldOfPeople; search?: Search } = {},
): Promise<FoundPerson[] | null> {
  const { small } = subject;
  const found: FoundPerson[] = [];
  const denied: Uint8Array[] = [];
  let looked = 0;
  const lookAt = async (candidate: Uint8Array) => {
    if (found.some(({ region }) => coveredBy(candidate, region.small.inside) > oneFrom)) return;
    if (denied.some((other) => shareOfBoth(candidate, other) > sameFrom)) return;
    if (looked++ >= search.mostLooks) return;
    const close = await lookClosely(picture, candidate, subject, network);
    if (!close) {
      denied.push(candidate);
      return;
    }
    const prior = { depths: depthsOf(close.inside, small.width, small.height), palette: null };
    const region = subject.cut({ strokes: [], prior, people: close.shares, toPicture });
    if (!region || found.some((other) => isSame(other.region.small.inside, region.small.inside))) return;
    const sure = meanIn(close.shares, region.small.inside);
    if (sure >= sureFrom) found.push({ region, sure });
  };
  const parts = partsOver(picture, search.sides);
  const whole: Uint8Array[] = [];
  const cutOff: Uint8Array[] = [];
  for (const [k, part] of parts.entries()) {
    if (!(await told((0.5 * k) / parts.length, found))) return null;
    const shares = sharesOnGrid([await peopleIn(picture, part, network)], picture, small);
    for (const patch of patchesFrom(shares, small))
      // Who is large enough to be seen in the picture as a whole comes first.
      if (k === 0) await lookAt(patch);
      else (isCutOff(patch, part, picture, small) ? cutOff : whole).push(patch);
  }
  const rest = [...whole, ...cutOff];
  for (const [k, candidate] of rest.entries()) {
    if (!(await told(0.5 + (0.5 * k) / rest.length, found))) return null;
    await lookAt(candidate);
  }
  return found.sort((a, b) => sizeOf(b.region.small.inside) - sizeOf(a.region.small.inside));
}

function sizeOf(mask: Uint8Array): number {
  let size = 0;
  for (let at = 0; at < mask.length; at++) size += mask[at];
  return size;
}

/** Whether two regions are of one person: they share most, or one lies in the other. */
function isSame(a: Uint8Array, b: Uint8Array): boolean {
  return shareOfBoth(a, b) > oneFrom || coveredBy(a, b) > withinFrom || coveredBy(b, a) > withinFrom;
}

/** Whether a patch reaches the border of the part that it was seen in where the picture goes on: another part shows all of it. */
function isCutOff(
  patch: Uint8Array,
  [x0, y0, x1, y1]: Rectangle,
  { width, height }: { width: number; height: number },
  grid: { width: number; height: number },
): boolean {
  const [sx, sy] = [grid.width / width, grid.height / height];
  const [left, top] = [Math.ceil(x0 * sx) + 1, Math.ceil(y0 * sy) + 1];
  const [right, bottom] = [Math.floor(x1 * sx) - 2, Math.floor(y1 * sy) - 2];
  for (let at = 0; at < patch.length; at++) {
    if (!patch[at]) continue;
    const [i, j] = [at % grid.width, Math.floor(at / grid.width)];
    if ((x0 > 0 && i < left) || (y0 > 0 && j < top)) return true;
    if ((x1 < width && i > right) || (y1 < height && j > bottom)) return true;
  }
  return false;
}

/** A picture as a whole, and squares over all of it, px, each size half over its neighbours. */
function partsOver(
  { width, height }: { width: number; height: number },
  sides: readonly number[],
): Rectangle[] {
  const squares = sides.flatMap((share) => {
    const side = share * Math.min(width, height);
    const along = (length: number) => {
      const steps = Math.max(0, Math.ceil((length - side) / (apart * side)));
      return Array.from({ length: steps + 1 }, (_, k) => (steps === 0 ? 0 : (k * (length - side)) / steps));
    };
    return along(height).flatMap((y) => along(width).map((x): Rectangle => [x, y, x + side, y + side]));
  });
  return [[0, 0, width, height], ...squares];
}

/** Patches of a grid in which people are seen, the largest first. */
function patchesFrom(
  shares: Float32Array,
  { width, height }: { width: number; height: number },
): Uint8Array[] {
  const mask = new Uint8Array(shares.length);
  for (let at = 0; at < mask.length; at++) if (shares[at] >= isFrom) mask[at] = 1;
  return largestPatches(mask, width, height, leastSize * width * height);
}

/** What is seen of a patch in a square of its own; null where nobody is. */
async function lookClosely(
  picture: FramePicture,
  candidate: Uint8Array,
  { small }: SubjectFrame,
  network: PeopleNetwork,
): Promise<{ inside: Uint8Array; shares: Float32Array } | null> {
  let inside = candidate;
  let shares: Float32Array = new Float32Array();
  for (let look = 0, whole = false; look < looks || !whole; look++) {
    if (look === mostLooksCloser) return null;
    const square = squareAbout(inside, small, picture)!;
    shares = sharesOnGrid([await peopleIn(picture, square, network)], picture, small);
    const own = patchesFrom(shares, small).find(
      (patch) => Math.max(coveredBy(inside, patch), coveredBy(patch, inside)) >= confirmedFrom,
    );
    if (!own) return null;
    inside = own;
    whole = !isCutOff(inside, square, picture, small);
  }
  for (const margin of margins) {
    const square = squareAbout(inside, small, picture, margin)!;
    const seen = sharesOnGrid([await peopleIn(picture, square, network)], picture, small);
    if (meanIn(seen, inside) < seenFrom) return null;
  }
  return { inside, shares };
}

/** Share of a mask that another covers. */
function coveredBy(mask: Uint8Array, other: Uint8Array): number {
  let [all, covered] = [0, 0];
  for (let i = 0; i < mask.length; i++) {
    all += mask[i];
    covered += mask[i] & other[i];
  }
  return covered / (all || 1);
}

function meanIn(shares: Float32Array, inside: Uint8Array): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < shares.length; i++) {
    if (!inside[i] || Number.isNaN(shares[i])) continue;
    sum += shares[i];
    count++;
  }
  return sum / (count || 1);
}
