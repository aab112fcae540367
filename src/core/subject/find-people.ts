import type { Affine } from '../geometry/affine';
import type { Rectangle } from '../geometry/rectangle';
import type { FramePicture } from '../picture/frame-picture';
import { patchesOf } from './patches';
import { peopleIn, type PeopleNetwork, sharesOnGrid, squareAbout } from './people';
import { depthsOf } from './prior';
import { shareOfBoth } from './share-of-both';
import type { CutRegion, SubjectFrame } from './subject-frame';

/** Sides of the squares in which people are looked for, as shares of the picture's shorter side, and how far one is from the next. */
const sides = [1, 0.5];
const apart = 0.5;
/** Share from which on a sample is a person. */
const isFrom = 0.5;
/** Share of the small grid below which a person is too small to be traced, and most people that are looked at closely. */
const leastSize = 0.0015;
const mostPeople = 12;
/** Share of a patch and of what the close look sees there that both have, below which it was nobody. */
const confirmedFrom = 0.4;
/** Share of two people that both have, from which on they are one. */
const oneFrom = 0.5;
/** How often a person is looked at closely: the first look centres the square, the second sees all of it. */
const looks = 2;

/** Somebody on a frame: their region, cut where colours and movement put its border. */
export interface FoundPerson {
  region: CutRegion;
  /** How sure the network is, 0 to 1: the mean share inside. */
  sure: number;
}

/**
 * The people on a frame, the largest first. The whole picture is looked at in squares of two sizes; whoever may be there is then looked
 * at closely, and stays where both looks agree.
 *
 * @param told of the share done; returns whether to go on.
 * @returns null where it was stopped.
 */
export async function findPeople(
  picture: FramePicture,
  subject: SubjectFrame,
  network: PeopleNetwork,
  toPicture: Affine,
  told: (share: number) => boolean = () => true,
): Promise<FoundPerson[] | null> {
  const { small } = subject;
  const squares = squaresOver(picture);
  const views = [];
  for (const [k, square] of squares.entries()) {
    views.push(await peopleIn(picture, square, network));
    if (!told(k / (squares.length + mostPeople))) return null;
  }
  const candidates = patchesFrom(sharesOnGrid(views, picture, small), small).slice(0, mostPeople);
  const found: FoundPerson[] = [];
  for (const [k, candidate] of candidates.entries()) {
    if (!told((squares.length + k) / (squares.length + candidates.length))) return null;
    if (found.some(({ region }) => coveredBy(candidate, region.small.inside) > oneFrom)) continue;
    const close = await lookClosely(picture, candidate, subject, network);
    if (!close) continue;
    const prior = { depths: depthsOf(close.inside, small.width, small.height), palette: null };
    const region = subject.cut({ strokes: [], prior, people: close.shares, toPicture });
    if (
      !region ||
      found.some((other) => shareOfBoth(other.region.small.inside, region.small.inside) > oneFrom)
    )
      continue;
    found.push({ region, sure: meanIn(close.shares, region.small.inside) });
  }
  const sizeOf = ({ region }: FoundPerson) => region.small.inside.reduce((sum, value) => sum + value, 0);
  return found.sort((a, b) => sizeOf(b) - sizeOf(a));
}

/** Squares over all of a picture, px, each size half over its neighbours. */
function squaresOver({ width, height }: { width: number; height: number }): Rectangle[] {
  return sides.flatMap((share) => {
    const side = share * Math.min(width, height);
    const along = (length: number) => {
      const steps = Math.max(0, Math.ceil((length - side) / (apart * side)));
      return Array.from({ length: steps + 1 }, (_, k) => (steps === 0 ? 0 : (k * (length - side)) / steps));
    };
    return along(height).flatMap((y) => along(width).map((x): Rectangle => [x, y, x + side, y + side]));
  });
}

/** Patches of a grid in which people are seen, the largest first. */
function patchesFrom(
  shares: Float32Array,
  { width, height }: { width: number; height: number },
): Uint8Array[] {
  const mask = Uint8Array.from(shares, (share) => (share >= isFrom ? 1 : 0));
  const { of, value, size } = patchesOf(mask, width, height);
  return size
    .map((own, k) => ({ own, k }))
    .filter(({ own, k }) => value[k] === 1 && own >= leastSize * width * height)
    .sort((a, b) => b.own - a.own)
    .map(({ k }) => Uint8Array.from(of, (other) => (other === k ? 1 : 0)));
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
  for (let look = 0; look < looks; look++) {
    const square = squareAbout(inside, small, picture)!;
    shares = sharesOnGrid([await peopleIn(picture, square, network)], picture, small);
    const own = patchesFrom(shares, small).find((patch) => coveredBy(inside, patch) >= confirmedFrom);
    if (!own) return null;
    inside = own;
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
