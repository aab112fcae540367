import { SeamModel } from '../carry/line-model';
import { still } from '../carry/behind-way';
import { straightPicture, type StraightPicture } from '../edge/straight';
import type { Affine } from '../geometry/affine';
import { median } from '../numbers/quantile';
import type { FramePicture } from '../picture/frame-picture';

/** A frame in which what crosses is elsewhere, and the way there of what lies behind. */
export interface Ground {
  picture: FramePicture;
  map: Affine;
}

/** px from one place of a course to the next. */
const spacing = 4;
/** Share of the width on the thing's side of the course, and on the ground's, that is looked at, px at the least; from sample to sample. */
const [inward, outward, leastDeep, step] = [0.07, 0.03, 20, 2];
/** Places up and down between which the picture's change is taken, so that what runs along the course counts for nothing. */
const apart = 2;
/** Parts of the course that are judged each by itself, and places in each; the share of them that must tell, or so few that agree to so many px. */
const [mostParts, leastPlaces, leastTold, fewTold, agree] = [12, 12, 0.4, 2, 10];
/** Samples to either side that are judged together. */
const together = 2;
/** Code values by which the ground has to change along the course to be told by. */
const leastChange = 2.5;
/** Correlation with the ground that its own side must have, and by which the other must have less. */
const [leastAlike, leastLess] = [0.5, 0.3];
/** px on the thing's side from which on a border is another than the course's. */
const leastOff = 4;

/**
 * A course that lies on the border of a shadow, moved to the edge of what casts it: in the shadow the ground is darker, and still the
 * ground. How the picture changes along the course is held against the ground, as it is in another frame: there it goes along with
 * it as far as the ground is seen (normalised cross-correlation), however dark.
 *
 * @param points px, the ground on the right. @param grounds the best first. @returns the points; as they were where no ground tells.
 */
export async function pastShadow(
  own: FramePicture,
  points: [number, number][],
  grounds: AsyncIterable<Ground> | Iterable<Ground>,
): Promise<[number, number][]> {
  const [{ line }] = SeamModel.along(points, spacing).runs;
  const [deep, far] = [Math.max(2 * leastDeep, inward * own.width), Math.max(leastDeep, outward * own.width)];
  const from = -step * Math.round(deep / step);
  const strip = { from, step, across: Math.round((far - from) / step) + 1 };
  const parts = Math.max(2, Math.min(mostParts, Math.floor(line.count / leastPlaces)));
  const here = straightPicture(own, line, { ...strip, passage: null });
  for await (const { picture, map } of grounds) {
    const ground = straightPicture(picture, line, { ...strip, passage: { map, ...still(line.count) } });
    const borders = Array.from({ length: parts }, (_, part) =>
      borderIn(
        here,
        ground,
        [part, part + 1].map((k) => Math.round((k * line.count) / parts)),
      ),
    );
    const told = borders.flatMap((border, part) => (border === null ? [] : [{ border, part }]));
    const found = told.map(({ border }) => border);
    const apartBy = Math.max(...found) - Math.min(...found);
    if (found.length < leastTold * parts && (found.length < fewTold || apartBy > agree)) continue;
    if (median(found) > -leastOff) return points;
    // A part that says nothing, or something else, goes by its neighbours.
    const even = borders.map((_, part) =>
      median(
        [...told]
          .sort((a, b) => Math.abs(a.part - part) - Math.abs(b.part - part))
          .slice(0, 3)
          .map(({ border }) => border),
      ),
    );
    return Array.from(line.x, (x, i): [number, number] => {
      const at = Math.min(parts - 1, Math.max(0, ((i + 0.5) / line.count) * parts - 0.5));
      const k = Math.min(parts - 2, Math.floor(at));
      const off = even[k] + (at - k) * (even[k + 1] - even[k]);
      return [x + off * line.nx[i], line.y[i] + off * line.ny[i]];
    });
  }
  return points;
}

/** px across from the course at which a part of it stops to show the ground; null where that is not to be told. */
function borderIn(here: StraightPicture, ground: StraightPicture, places: readonly number[]): number | null {
  const { count, across, from } = here;
  const [first, last] = places.map((place) => Math.min(count - apart, Math.max(apart, place)));
  const [both, own, theirs, seen] = Array.from({ length: 4 }, () => new Float64Array(across + 1));
  for (let m = 0; m < across; m++) {
    for (const sums of [both, own, theirs, seen]) sums[m + 1] = sums[m];
    for (let i = first; i < last; i++) {
      const [a, b] = [(i - apart) * across + m, (i + apart) * across + m];
      const [mine, its] = [here.y[b] - here.y[a], ground.y[b] - ground.y[a]];
      if (!(mine === mine && its === its)) continue;
      both[m + 1] += mine * its;
      own[m + 1] += mine * mine;
      theirs[m + 1] += its * its;
      seen[m + 1]++;
    }
  }
  const alike = Array.from({ length: across }, (_, m) => {
    const [a, b] = [Math.max(0, m - together), Math.min(across, m + together + 1)];
    const over = (sums: Float64Array) => sums[b] - sums[a];
    if (over(seen) < 20 || over(theirs) < over(seen) * leastChange ** 2) return NaN;
    return over(both) / Math.sqrt(Math.max(1e-6, over(own) * over(theirs)));
  });
  const zero = Math.round(-from / step);
  const known = alike.slice(zero + together).filter((value) => value === value);
  if (known.length < 3) return null;
  const usual = median(known);
  if (usual < leastAlike) return null;
  // The ground lies outside the border that parts best what is like it from what is not.
  let [best, border] = [-Infinity, 0];
  let gained = 0;
  for (let m = across - 1; m >= 0; m--) {
    if (alike[m] === alike[m]) gained += alike[m] - usual / 2;
    if (gained > best) [best, border] = [gained, m];
  }
  const inside = alike.slice(0, border).filter((value) => value === value);
  if (inside.length < 3 || median(inside) > usual - leastLess) return null;
  return from + border * step;
}
