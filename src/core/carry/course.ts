import { movingMean } from '../numbers/moving-mean';
import { median } from '../numbers/quantile';

/**
 * What one direction says of the course of a run between two known frames: for each frame and place its offset across
 * from the line that lies evenly between the known ones, and by how much that may be off; px.
 */
export interface Witness {
  offsets: readonly Float64Array[];
  errors: readonly Float64Array[];
}

/** px of second difference, along the line and over time, that are usual at least. */
const leastBend = 0.1;
const leastTurn = 0.2;
/** A witness counts as if it were never surer than this, px, and an error is held for one from this on. */
const surest = 0.2;
const leastScale = 0.55;
/** So many times its likely error from the course a witness counts a quarter: first nearly all do, then fewer. */
const trusts = [40, 20, 10, 5, 5, 5, 5, 5];

/**
 * The course of a run over the frames between two known ones, at which it is 0: the offsets that weigh the witnesses
 * by how much each may be off, leave out those that are far from where the rest and the known frames lead (weights of
 * Geman and McClure 1987, from wide to narrow after Blake and Zisserman 1987), and run on evenly along the line and
 * over time, as evenly as this run does (weights of Huber 1981). What all places have in common on a frame, a shift
 * and a turn, is not held against it, as a hand-held shot shakes.
 */
export function evenCourse(witnesses: readonly Witness[]): Float64Array[] {
  const [first] = witnesses;
  const frames = first.offsets.length;
  const count = first.offsets[0]?.length ?? 0;
  if (count === 0) return first.offsets.map(() => new Float64Array(0));
  const mixed = first.offsets.map((_, t) => mixedAt(witnesses, t));
  const common = withoutLeaps(
    mixed.map((offsets, t) => commonOf(offsets, (i) => weightAt(witnesses, t, i))),
    count,
  );
  const own = (offsets: Float64Array, t: number) =>
    offsets.map((value, i) => value - common[t][0] - common[t][1] * i);
  const apart = witnesses.map(({ offsets, errors }) => ({ offsets: offsets.map(own), errors }));
  const course = settledCourse(apart, mixed.map(own), frames, count);
  return course.map((offsets, t) => offsets.map((value, i) => value + common[t][0] + common[t][1] * i));
}

function weightAt(witnesses: readonly Witness[], t: number, i: number): number {
  return witnesses.reduce((sum, { errors }) => sum + errors[t][i] ** -2, 0);
}

/** Means of the witnesses, each weighed by how sure it is; the shares evened along the line. */
function mixedAt(witnesses: readonly Witness[], t: number): Float64Array {
  const shares = witnesses.map(({ errors }) =>
    movingMean(
      errors[t].map((error, i) => error ** -2 / weightAt(witnesses, t, i)),
      2,
    ),
  );
  return witnesses[0].offsets[t].map((_, i) =>
    witnesses.reduce((sum, { offsets }, w) => sum + offsets[t][i] * shares[w][i], 0),
  );
}

/** A shift and a change from place to place that most of the places have in common. */
function commonOf(offsets: Float64Array, weightOf: (i: number) => number): [shift: number, change: number] {
  let [shift, change] = [median(offsets), 0];
  for (let round = 0; round < 8; round++) {
    const off = offsets.map((value, i) => Math.abs(value - shift - change * i));
    const scale = Math.max(0.3, 1.48 * median(off));
    let [s0, s1, s2, t0, t1] = [0, 0, 0, 0, 0];
    for (let i = 0; i < offsets.length; i++) {
      const weight = Math.min(weightOf(i), surest ** -2) / (1 + (off[i] / scale) ** 2) ** 2;
      s0 += weight;
      s1 += weight * i;
      s2 += weight * i * i;
      t0 += weight * offsets[i];
      t1 += weight * i * offsets[i];
    }
    const determinant = s0 * s2 - s1 * s1;
    const slanted = offsets.length > 5 && determinant > 1e-9 * s0 * s2;
    change = slanted ? (s0 * t1 - s1 * t0) / determinant : 0;
    shift = (t0 - change * s1) / s0;
  }
  return [shift, change];
}

/** Frames to either side that say what is usual. */
const around = 10;

/** Where most of the line is lost, what it has in common leaps away from the frames around: there it runs on evenly (Hampel 1974). */
function withoutLeaps(common: readonly [number, number][], count: number): [number, number][] {
  const middle = (count - 1) / 2;
  // As the shift of the line's middle, and of its end against that; 0 at the known frames.
  const course = [
    [0, 0],
    ...common.map(([shift, change]) => [shift + change * middle, change * middle]),
    [0, 0],
  ];
  const last = course.length - 1;
  const usual = course.map((each, t) => {
    if (t === 0 || t === last) return true;
    return [0, 1].every((k) => {
      const near = course.slice(Math.max(0, t - around), t + around + 1).map((values) => values[k]);
      const centre = median(near);
      const scale = Math.max(0.7, 1.48 * median(near.map((value) => Math.abs(value - centre))));
      return Math.abs(each[k] - centre) < 4 * scale;
    });
  });
  return common.map((each, k) => {
    if (usual[k + 1]) return each;
    let [a, b] = [k, k + 2];
    while (!usual[a]) a--;
    while (!usual[b]) b++;
    const share = (k + 1 - a) / (b - a);
    const [shift, end] = [0, 1].map((c) => course[a][c] + (course[b][c] - course[a][c]) * share);
    return count > 1 ? [shift - end, end / middle] : [shift, 0];
  });
}

/** px that a place may be off at most to say what is usual. */
const sure = 1;

/** Median of the second differences' sizes as a standard deviation, from those between places that are sure; not under `least`. */
function usual(differences: readonly number[], least: number): number {
  return Math.max(least, 1.48 * median(differences));
}

/** How much the course usually bends along the line at each place, and turns there over time; px of second difference. */
function usualCourse(mixed: readonly Float64Array[], errors: readonly Float64Array[]) {
  const count = mixed[0].length;
  const still = new Float64Array(count);
  const [rows, off] = [
    [still, ...mixed, still],
    [still, ...errors, still],
  ];
  const bends = new Float64Array(count);
  const turns = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const [along, over]: number[][] = [[], []];
    for (let t = 1; t + 1 < rows.length; t++) {
      const [row, error] = [rows[t], off[t]];
      if (error[i] > sure) continue;
      if (error[i - 1] <= sure && error[i + 1] <= sure)
        along.push(Math.abs(row[i - 1] - 2 * row[i] + row[i + 1]));
      if (off[t - 1][i] <= sure && off[t + 1][i] <= sure)
        over.push(Math.abs(rows[t - 1][i] - 2 * row[i] + rows[t + 1][i]));
    }
    bends[i] = usual(along, leastBend);
    turns[i] = usual(over, leastTurn);
  }
  return { bends: movingMean(bends, 4), turns: movingMean(turns, 6) };
}

/**
 * A sheet of places by frames, the known ones first and last, and how each of its numbers is held: to the witnesses
 * (`held`, `to` = weight × offset), and by second differences along the line and over time.
 */
interface Sheet {
  count: number;
  size: number;
  held: Float64Array;
  to: Float64Array;
  bend: Float64Array;
  turn: Float64Array;
}

/** Weighted least squares again and again, each with the weights that the last gives. */
function settledCourse(
  witnesses: readonly Witness[],
  mixed: readonly Float64Array[],
  frames: number,
  count: number,
): Float64Array[] {
  const errors = mixed.map((row, t) =>
    row.map((_, i) => Math.min(...witnesses.map((each) => each.errors[t][i]))),
  );
  const { bends, turns } = usualCourse(mixed, errors);
  const size = (frames + 2) * count;
  const [held, to, bend, turn] = [0, 1, 2, 3].map(() => new Float64Array(size));
  const sheet: Sheet = { count, size, held, to, bend, turn };
  const course = new Float64Array(size);
  for (const trust of trusts) {
    held.fill(0);
    to.fill(0);
    for (const { offsets, errors } of witnesses)
      for (let t = 0, k = count; t < frames; t++)
        for (let i = 0; i < count; i++, k++) {
          const error = errors[t][i];
          const off = (course[k] - offsets[t][i]) / Math.max(leastScale, error) / trust;
          const weight = 1 / Math.max(surest, error) ** 2 / (1 + off * off) ** 2;
          held[k] += weight;
          to[k] += weight * offsets[t][i];
        }
    for (let k = 0; k < size; k++) {
      const i = k % count;
      if (i > 0 && i + 1 < count) bend[k] = huber(course[k - 1] - 2 * course[k] + course[k + 1], bends[i]);
      if (k >= count && k < size - count)
        turn[k] = huber(course[k - count] - 2 * course[k] + course[k + count], turns[i]);
    }
    solve(course, sheet);
  }
  return Array.from({ length: frames }, (_, t) => course.slice((t + 1) * count, (t + 2) * count));
}

function huber(difference: number, usual: number): number {
  const far = Math.abs(difference) / usual;
  return (far > 2 ? 2 / far : 1) / usual ** 2;
}

/** Conjugate gradients (Hestenes and Stiefel 1952) from where it lies; the known frames stay. */
function solve(course: Float64Array, sheet: Sheet): void {
  const { count, size, held, to, bend, turn } = sheet;
  const diagonal = held.map((weight) => weight + 1e-6);
  for (let k = 0; k < size; k++) {
    for (const [weight, step] of [
      [bend[k], 1],
      [turn[k], count],
    ]) {
      if (weight === 0) continue;
      diagonal[k - step] += weight;
      diagonal[k] += 4 * weight;
      diagonal[k + step] += weight;
    }
  }
  const [residual, image, way, scaled] = [0, 1, 2, 3].map(() => new Float64Array(size));
  applied(sheet, course, image);
  let norm = 0;
  for (let k = count; k < size - count; k++) {
    residual[k] = to[k] - image[k];
    way[k] = residual[k] / diagonal[k];
    norm += residual[k] * way[k];
  }
  const smallestResidual = 1e-5 * norm;
  for (let round = 0; round < 60 && norm > smallestResidual; round++) {
    applied(sheet, way, image);
    let along = 0;
    for (let k = count; k < size - count; k++) along += way[k] * image[k];
    const length = norm / along;
    let next = 0;
    for (let k = count; k < size - count; k++) {
      course[k] += length * way[k];
      residual[k] -= length * image[k];
      scaled[k] = residual[k] / diagonal[k];
      next += residual[k] * scaled[k];
    }
    const share = next / norm;
    norm = next;
    for (let k = count; k < size - count; k++) way[k] = scaled[k] + share * way[k];
  }
}

/** `out` = the normal equations' matrix times `values`. */
function applied({ count, size, held, bend, turn }: Sheet, values: Float64Array, out: Float64Array): void {
  for (let k = 0; k < size; k++) out[k] = held[k] * values[k];
  for (let k = 1; k < size - 1; k++) {
    if (bend[k] === 0) continue;
    const pull = bend[k] * (values[k - 1] - 2 * values[k] + values[k + 1]);
    out[k - 1] += pull;
    out[k] -= 2 * pull;
    out[k + 1] += pull;
  }
  for (let k = count; k < size - count; k++) {
    const pull = turn[k] * (values[k - count] - 2 * values[k] + values[k + count]);
    out[k - count] += pull;
    out[k] -= 2 * pull;
    out[k + count] += pull;
  }
}
