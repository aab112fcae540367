import type { MotionGroup } from '../motion/groups';
import { sceneAtRest } from '../motion/at-rest';
import { resizedLuma } from '../motion/luma';
import { measuringWidth, sceneMovement } from '../motion/measure';

/** Width, px, at which a long take is looked through: a pole of 40 px in a picture of 1280 is three of them. */
export const lookWidth = 96;
/** Looks a second, at least: what crosses takes a second or two (common practice, no source). */
const looksASecond = 12;
/** Seconds later at which it is looked what a place shows then: when what crosses has gone. */
const later = [1, 1.6, 2.4, 3.2, 4, 4.8];
/** Code values, as sensors' noise leaves them in so small a picture, within which two places look alike. */
const alike = 6;
/** What a place that differs counts at the most when pictures are laid over each other. */
const mostOff = 20;
/** px that the scene may go from look to look, across and down. */
const [farAcross, farDown] = [7, 3];
/** Shifts that are tried, across and down. */
const [across, down] = [2 * farAcross + 1, 2 * farDown + 1];
/** Movements that a look may have: the scene's, and of what moves before it. */
const mostMovements = 3;
/** Code values from a place to its neighbours from which on it tells one shift from another. */
const texture = 6;
/** Share of alike places under which two looks following each other are of two takes, where their histograms differ by more, 0 to 1. */
const [sameTake, otherLight] = [0.3, 0.12];
const bins = 32;
/** How far a frame's light may be off another's and still be its flicker. */
const mostGain = 1.2;
/** px about the scene's course within which two looks are laid over each other, and what each of them costs. */
const [nearby, farther] = [3, 0.05];
/** Mean difference that noise makes: looks that differ by less lie right. */
const noise = 2.5;
/** Looks that are held until the scene's movement through them is decided: comparing them takes a second or two, in which nothing else is heard. */
const atOnce = 240;

const { abs, max, min, round } = Math;

/** Every how many frames a take of this rate is looked at. */
export function looksEvery(rate: { num: number; den: number }): number {
  return max(1, Math.floor(rate.num / rate.den / looksASecond));
}

interface Look {
  luma: Uint8Array;
  /** How it may have moved since the look before; none begins a take. */
  movements: MotionGroup[] | null;
}

/**
 * How much of each column of a take is covered by something that will have gone a little later: what of a column looks unlike that place in
 * most later looks, the scene's own movement taken out. `add` every look in order, then `end`.
 */
export class CoverMap {
  /** Of each look {@link lookWidth} shares, 0 to 1; NaN where nothing later is known. */
  readonly columns: Float32Array[] = [];
  /** The take that each look is of, counted from 0. */
  readonly takes: number[] = [];
  private held: Look[] = [];
  /** Of those held, how many have been compared. */
  private compared = 0;
  private readonly after: number[];
  private readonly height: number;

  /** @param looksASecond as they are added. */
  constructor(shot: { width: number; height: number }, looksASecond: number) {
    this.height = max(16, round((lookWidth * shot.height) / shot.width));
    this.after = later.map((seconds) => max(1, round(seconds * looksASecond)));
  }

  /** @param values luma of the next look, upright, at any size: it stands for the whole frame. */
  add(values: ArrayLike<number>, width: number, height: number) {
    const luma = Uint8Array.from(resizedLuma(values, width, height, lookWidth, this.height).values, round);
    const before = this.held.at(-1);
    const movements = before
      ? movementsBetween(asBrightAs(before.luma, luma, this.height), luma, this.height)
      : null;
    if (before && !movements) this.end();
    this.takes.push((this.takes.at(-1) ?? 0) + (before && !movements ? 1 : 0));
    this.held.push({ luma, movements });
    if (this.held.length >= atOnce) this.compare(this.held.length - max(...this.after));
  }

  /** Compares what is left, when a take has no more looks. */
  end() {
    this.compare(this.held.length);
    this.held = [];
    this.compared = 0;
  }

  /** Compares looks up to one of those held, and lets go of those that no other needs. */
  private compare(until: number) {
    const { held } = this;
    const moved = sceneMovement(held.map(({ movements }) => movements ?? []));
    const scale = lookWidth / measuringWidth;
    const went: [x: number, y: number][] = [];
    let [x, y] = [0, 0];
    for (const { dx, dy } of moved) {
      [x, y] = [x + dx * scale, y + dy * scale];
      went.push([x, y]);
    }
    for (let k = this.compared; k < until; k++) this.columns.push(this.columnsOf(k, went));
    this.compared = until;
    // Those before tell the scene's movement from another.
    const kept = max(...this.after);
    const gone = max(0, until - kept);
    this.held = held.slice(gone);
    this.compared -= gone;
  }

  private columnsOf(k: number, went: readonly (readonly [number, number])[]): Float32Array {
    const { height, held } = this;
    const [known, same] = [new Uint8Array(lookWidth * height), new Uint8Array(lookWidth * height)];
    for (const by of this.after) {
      const other = held[k + by];
      if (!other) continue;
      const course = [round(went[k + by][0] - went[k][0]), round(went[k + by][1] - went[k][1])] as const;
      const shift = nearestShift(held[k].luma, other.luma, course, height);
      countAlike({ known, same }, held[k].luma, other.luma, shift, height);
    }
    const columns = new Float32Array(lookWidth);
    for (let x = 0; x < lookWidth; x++) {
      let [covered, told] = [0, 0];
      for (let y = 1; y < height - 1; y++) {
        const i = y * lookWidth + x;
        if (known[i] === 0) continue;
        told++;
        if (2 * same[i] < known[i]) covered++;
      }
      columns[x] = told < height / 3 ? NaN : covered / told;
    }
    return columns;
  }
}

/** The shift about one that is thought, which most of two looks has: steps add up, and errors with them. */
function nearestShift(
  from: Uint8Array,
  to: Uint8Array,
  [dx, dy]: readonly [number, number],
  height: number,
): readonly [number, number] {
  let [best, least] = [[dx, dy] as const, meanOff(from, to, dx, dy, height)];
  if (least < noise) return best;
  for (let j = -nearby; j <= nearby; j++)
    for (let i = -nearby; i <= nearby; i++) {
      const off = meanOff(from, to, dx + i, dy + j, height) + farther * (abs(i) + abs(j));
      if (off < least) [best, least] = [[dx + i, dy + j], off];
    }
  return best;
}

/** Counts at each place whether a later look knows it and has it alike, the scene's movement and the light's flicker taken out. */
function countAlike(
  { known, same }: { known: Uint8Array; same: Uint8Array },
  own: Uint8Array,
  other: Uint8Array,
  [dx, dy]: readonly [number, number],
  height: number,
) {
  const gain = gainBetween(own, other, dx, dy, height);
  for (let y = 1; y < height - 1; y++) {
    const v = y + dy;
    if (v < 1 || v >= height - 1) continue;
    for (let x = max(0, 1 - dx), end = min(lookWidth, lookWidth - 1 - dx); x < end; x++) {
      const i = y * lookWidth + x;
      const value = own[i] * gain;
      const at = v * lookWidth + x + dx;
      // The scene's movement is not known finer than a sample.
      const off = min(
        abs(other[at] - value),
        min(abs(other[at - 1] - value), abs(other[at + 1] - value)),
        min(abs(other[at - lookWidth] - value), abs(other[at + lookWidth] - value)),
      );
      known[i]++;
      if (off < alike) same[i]++;
    }
  }
}

/** A look as bright as most of the next one; something dark that comes in dims nothing else. */
function asBrightAs(look: Uint8Array, next: Uint8Array, height: number): Uint8Array {
  const gain = gainBetween(look, next, 0, 0, height);
  return gain === 1 ? look : look.map((value) => min(255, round(value * gain)));
}

/**
 * How two looks may have moved, the likeliest first, as groups at the width at which movement is measured; null where the second shows something
 * else altogether.
 */
function movementsBetween(from: Uint8Array, to: Uint8Array, height: number): MotionGroup[] | null {
  const costs = new Float32Array(across * down);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++)
      costs[j * across + i] = meanOff(from, to, i - farAcross, j - farDown, height);
  const cost = (i: number, j: number) =>
    i < 0 || j < 0 || i >= across || j >= down ? Infinity : costs[j * across + i];
  const lowest: { i: number; j: number; own: number }[] = [];
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const own = cost(i, j);
      const beside = min(cost(i - 1, j), cost(i + 1, j), cost(i, j - 1), cost(i, j + 1));
      if (own <= beside) lowest.push({ i, j, own });
    }
  lowest.sort((a, b) => a.own - b.own);
  if (1 - lowest[0].own / mostOff < sameTake && histogramOff(from, to) > otherLight) return null;
  const scale = measuringWidth / lookWidth;
  const [{ i: bestI, j: bestJ }] = lowest;
  const [bestX, bestY] = [bestI - farAcross, bestJ - farDown];
  if (bestX !== 0 || bestY !== 0) {
    const moved = (x: number, y: number) => [x + bestX, y + bestY] as const;
    const still = sceneAtRest(from, to, lookWidth, height, moved);
    if (still) return [still];
  }
  return lowest.slice(0, mostMovements).map(({ i, j, own }) => ({
    dx: scale * (i - farAcross + vertex(cost(i - 1, j), own, cost(i + 1, j))),
    dy: scale * (j - farDown + vertex(cost(i, j - 1), own, cost(i, j + 1))),
    ...{ scale: 1, turn: 0 },
    ...explainedBy(from, to, i - farAcross, j - farDown, height),
  }));
}

/** How much the histograms of two looks differ, 0 to 1. */
function histogramOff(from: Uint8Array, to: Uint8Array): number {
  const counts = new Int32Array(bins);
  for (let i = 0; i < from.length; i++) {
    counts[(from[i] * bins) >> 8]++;
    counts[(to[i] * bins) >> 8]--;
  }
  return counts.reduce((sum, count) => sum + abs(count), 0) / (2 * from.length);
}

/** Share of the places with texture that a shift explains, and from its first to its last column as a share of the width. */
function explainedBy(
  from: Uint8Array,
  to: Uint8Array,
  dx: number,
  dy: number,
  height: number,
): { support: number; extent: number } {
  let [explained, known] = [0, 0];
  let [first, last] = [lookWidth, -1];
  for (let x = max(1, -dx), end = min(lookWidth - 1, lookWidth - dx); x < end; x++) {
    let [own, all] = [0, 0];
    for (let y = max(1, -dy); y < min(height - 1, height - dy); y += 2) {
      const i = y * lookWidth + x;
      if (abs(from[i - 1] - from[i + 1]) + abs(from[i - lookWidth] - from[i + lookWidth]) < texture) continue;
      all++;
      if (abs(to[i + dy * lookWidth + dx] - from[i]) < alike) own++;
    }
    explained += own;
    known += all;
    if (own > 2 && own > 0.6 * all) [first, last] = [min(first, x), max(last, x)];
  }
  return {
    support: known === 0 ? 0 : explained / known,
    extent: last < first ? 0 : (last - first + 1) / lookWidth,
  };
}

/** Mean difference of two looks where the second is laid back by (dx, dy), none counted for more than {@link mostOff}. */
function meanOff(from: Uint8Array, to: Uint8Array, dx: number, dy: number, height: number): number {
  let [sum, count] = [0, 0];
  for (let y = max(0, -dy), below = min(height, height - dy); y < below; y += 2)
    for (let x = max(0, -dx), end = min(lookWidth, lookWidth - dx); x < end; x += 2) {
      const off = abs(to[(y + dy) * lookWidth + x + dx] - from[y * lookWidth + x]);
      sum += off < mostOff ? off : mostOff;
      count++;
    }
  return count === 0 ? mostOff : sum / count;
}

/** Where, within half a px, a parabola through three costs is lowest. */
function vertex(before: number, here: number, after: number): number {
  const bend = before + after - 2 * here;
  return bend <= 1e-6 || bend === Infinity ? 0 : max(-0.5, min(0.5, (before - after) / (2 * bend)));
}

/** Places of two looks that {@link gainBetween} holds against each other. */
const mostPlaces = 4096;
const [values, laters, ratios] = [0, 1, 2].map(() => new Float32Array(mostPlaces));

/** How much brighter most of one look is than the other; 1 where that is more than flicker, or explains less than no flicker does. */
function gainBetween(from: Uint8Array, to: Uint8Array, dx: number, dy: number, height: number): number {
  let count = 0;
  for (let y = 2; y < height - 2; y += 3)
    for (let x = 2; x < lookWidth - 2; x += 3) {
      const [u, v] = [x + dx, y + dy];
      if (u < 0 || v < 0 || u >= lookWidth || v >= height) continue;
      const value = from[y * lookWidth + x];
      if (value <= 12 || count === values.length) continue;
      values[count] = value;
      laters[count] = to[v * lookWidth + u];
      ratios[count] = laters[count] / value;
      count++;
    }
  if (count < 20) return 1;
  const gain = ratios.subarray(0, count).sort()[count >> 1];
  if (gain > mostGain || gain < 1 / mostGain) return 1;
  const fitting = (by: number) => {
    let sum = 0;
    for (let k = 0; k < count; k++) if (abs(values[k] * by - laters[k]) < alike) sum++;
    return sum;
  };
  return fitting(gain) > fitting(1) ? gain : 1;
}
