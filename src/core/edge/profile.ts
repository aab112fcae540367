import type { Strip } from './strip';

/** What the picture says of the edge along a line. */
export interface EdgeReading {
  /** Where the picture's strongest edge lies against the line, px; positive inside the region. */
  offset: number;
  /** Width over which the picture goes from one side to the other, 10 to 90 %, px. */
  width: number;
  /** Share of the line whose own edge lies within 3 px of the rest, 0 to 1. */
  support: number;
  /** The mean profile across the edge, 0 outside to 1 inside, by the strip's rows; the edge itself lies in the middle row. */
  profile: Float32Array;
}

/** How far a line may lie off an edge so many px wide, px: a part of its softness is not seen either. */
export function edgeTolerance(width: number): number {
  return Math.max(1.75, Math.min(2.4, 0.15 * width));
}

/** px along the line that are read together. */
const groupLength = 20;
/** Code values by which the two sides must differ for there to be an edge. */
const leastContrast = 7;

/**
 * Reads the edge along a straightened line. The line is read in short groups; in each the place across it at which
 * colour changes most is its edge (a step detector over windows of a few px), with some favour for what lies near.
 * The groups' profiles are then laid over each other, each projected on its own change of colour (luma and chroma
 * together), and fitted to their mean until they rest: so neither texture nor a line that is a little off widens the
 * result. Widths are 10 to 90 % of the way between the plateaus on either side.
 *
 * @param columns of the strip to read; all by default.
 * @returns null where too little of the line lies in the picture, or nothing changes across it.
 */
export function readEdge(
  strip: Strip,
  step: number,
  columns: readonly [from: number, to: number] = [0, strip.columns],
): EdgeReading | null {
  const perGroup = Math.max(1, Math.round(groupLength / step));
  const groups: Group[] = [];
  for (let from = columns[0]; from + perGroup / 2 <= columns[1]; from += perGroup) {
    const group = groupOf(strip, from, Math.min(columns[1], from + perGroup));
    if (group) groups.push(group);
  }
  if (groups.length < 3) return null;
  const middle = weightedMedian(groups.map(({ at, contrast }) => [at, Math.min(contrast, 40)]));
  const near = groups.filter(({ at }) => Math.abs(at - middle) * strip.across <= 3);
  const support = near.length / groups.length;
  if (near.length < 3) return null;
  const mean = meanProfile(near, strip);
  const half = mean && halfWay(mean.profile);
  if (!mean || half === null) return null;
  // In an even blur colour changes as fast everywhere: the edge is where half the way is gone, not where it is fastest.
  const centre = (strip.rows - 1) / 2;
  const profile = movedBy(mean.profile, Math.round(half - centre));
  const width = widthOf(profile, strip);
  if (width === null) return null;
  const offset = Math.round((mean.shift + half - centre) * strip.across * 10) / 10;
  return { offset, width, support, profile };
}

interface Group {
  /** Mean colour of each row: y, u, v. */
  rows: Float32Array;
  /** Row of the edge; and how far colour changes there, code values. */
  at: number;
  contrast: number;
  /** Rows that lie in the picture. */
  first: number;
  last: number;
}

function groupOf(strip: Strip, from: number, to: number): Group | null {
  const rows = new Float32Array(strip.rows * 3);
  let [first, last] = [strip.rows, -1];
  for (let row = 0; row < strip.rows; row++) {
    let [y, u, v, count] = [0, 0, 0, 0];
    for (let i = row * strip.columns + from; i < row * strip.columns + to; i++) {
      const value = strip.y[i];
      // Not a number: not in the picture.
      if (value !== value) continue;
      y += value;
      u += strip.u[i];
      v += strip.v[i];
      count++;
    }
    if (count * 2 < to - from) {
      if (last >= 0) break;
      continue;
    }
    rows.set([y / count, u / count, v / count], row * 3);
    first = Math.min(first, row);
    last = row;
  }
  const window = Math.max(2, Math.round(6 / strip.across));
  const centre = (strip.rows - 1) / 2;
  if (first > centre - window || last < centre + window) return null;
  let [at, contrast, best] = [-1, 0, 0];
  // Running sums make each window's mean two looks.
  const sums = new Float64Array((strip.rows + 1) * 3);
  for (let i = 0; i < strip.rows * 3; i++) sums[i + 3] = sums[i] + rows[i];
  for (let row = first + window; row <= last - window; row++) {
    let square = 0;
    for (let k = 0; k < 3; k++) {
      const before = sums[row * 3 + k] - sums[(row - window) * 3 + k];
      const after = sums[(row + 1 + window) * 3 + k] - sums[(row + 1) * 3 + k];
      square += ((after - before) / window) ** 2;
    }
    const away = ((row - centre) * strip.across) / strip.reach;
    const score = square * (1 - 0.6 * away * away);
    if (score > best) [best, at, contrast] = [score, row, Math.sqrt(square)];
  }
  return contrast >= leastContrast ? { rows, at, contrast, first, last } : null;
}

/** The value up to which half of the weight lies; sorts `values`, of which there must be some. */
export function weightedMedian(values: [value: number, weight: number][]): number {
  values.sort((a, b) => a[0] - b[0]);
  const half = values.reduce((sum, [, weight]) => sum + weight, 0) / 2;
  let sum = 0;
  for (const [value, weight] of values) if ((sum += weight) >= half) return value;
  return values[values.length - 1][0];
}

/** The groups' profiles over each other, edge on edge, 0 outside and 1 inside; and how far, in rows, they were moved. */
function meanProfile(
  groups: readonly Group[],
  strip: Strip,
): { profile: Float32Array; shift: number } | null {
  const centre = (strip.rows - 1) / 2;
  let half = Math.max(2, Math.round(5 / strip.across));
  let profile: Float32Array | null = null;
  const shifts = groups.map(({ at }) => at - centre);
  for (let round = 0; round < 4; round++) {
    const lines = groups.map((group, g) => projected(group, shifts[g], strip.rows, half, strip.across));
    profile = new Float32Array(strip.rows);
    const weights = new Float32Array(strip.rows);
    lines.forEach((line, g) => {
      if (!line) return;
      const weight = Math.min(groups[g].contrast, 60) ** 2;
      line.forEach((value, row) => {
        if (value !== value) return;
        profile![row] += value * weight;
        weights[row] += weight;
      });
    });
    for (let row = 0; row < strip.rows; row++)
      profile[row] = weights[row] > 0 ? profile[row] / weights[row] : NaN;
    if (Number.isNaN(profile[centre])) return null;
    const width = widthOf(profile, strip);
    // Plateaus begin where the edge has run out.
    if (width !== null)
      half = Math.max(2, Math.min(centre / 2, Math.round((0.9 * width + 1) / strip.across)));
    // Each group is moved to where it fits the mean best.
    lines.forEach((line, g) => {
      if (line) shifts[g] += bestShift(line, profile!, centre, half, Math.round(2 / strip.across));
    });
  }
  if (!profile) return null;
  const shift = weightedMedian(shifts.map((each, g) => [each, Math.min(groups[g].contrast, 40)]));
  return { profile, shift };
}

/** The row, with its fraction, at which a profile has gone half its way, nearest to its middle; null where there is none. */
function halfWay(profile: Float32Array): number | null {
  const centre = (profile.length - 1) / 2;
  const way = profile[centre] > 0.5 ? -1 : 1;
  for (let row = centre; row > 0 && row < profile.length - 1; row += way) {
    const [here, next] = [profile[row], profile[row + way]];
    if (next !== next) return null;
    if (way > 0 ? next >= 0.5 : next <= 0.5) return row + (way * (0.5 - here)) / (next - here || 1);
  }
  return null;
}

function movedBy(profile: Float32Array, rows: number): Float32Array {
  return profile.map((_, row) => profile[row + rows] ?? NaN);
}

/** A group's rows on the way from its outer to its inner colour, shifted so that its edge lies in the middle. */
function projected(
  { rows, first, last }: Group,
  shift: number,
  count: number,
  half: number,
  across: number,
): Float32Array | null {
  const centre = (count - 1) / 2;
  const plateau = Math.max(2, Math.round(6 / across));
  const colour = (from: number, to: number) => {
    const mean = [0, 0, 0];
    const [a, b] = [Math.max(first, from), Math.min(last, to)];
    if (b - a < 1) return null;
    for (let row = a; row <= b; row++) for (let k = 0; k < 3; k++) mean[k] += rows[row * 3 + k] / (b - a + 1);
    return mean;
  };
  const edge = Math.round(centre + shift);
  const outside = colour(edge - half - plateau, edge - half);
  const inside = colour(edge + half, edge + half + plateau);
  if (!outside || !inside) return null;
  const way = inside.map((value, k) => value - outside[k]);
  const square = way.reduce((sum, value) => sum + value * value, 0);
  if (square < leastContrast ** 2) return null;
  const line = new Float32Array(count).fill(NaN);
  for (let row = 0; row < count; row++) {
    const from = row + Math.round(shift);
    if (from < first || from > last) continue;
    let along = 0;
    for (let k = 0; k < 3; k++) along += (rows[from * 3 + k] - outside[k]) * way[k];
    line[row] = along / square;
  }
  return line;
}

function bestShift(
  line: Float32Array,
  mean: Float32Array,
  centre: number,
  half: number,
  most: number,
): number {
  let [best, least] = [0, Infinity];
  for (let shift = -most; shift <= most; shift++) {
    let [sum, count] = [0, 0];
    for (let row = centre - half; row <= centre + half; row++) {
      const difference = line[row + shift] - mean[row];
      if (difference !== difference) continue;
      sum += difference * difference;
      count++;
    }
    if (count > half && sum / count < least) [least, best] = [sum / count, shift];
  }
  return best;
}

/** 10 to 90 % width of a profile about its middle, px, or null where it does not get that far. */
export function widthOf(profile: ArrayLike<number>, { across }: { across: number }): number | null {
  const centre = (profile.length - 1) / 2;
  const reach = (level: number, way: 1 | -1) => {
    for (let row = centre; row > 0 && row < profile.length - 1; row += way) {
      const [here, next] = [profile[row], profile[row + way]];
      if (Number.isNaN(next)) return null;
      if (way > 0 ? next >= level && here < level : next <= level && here > level)
        return row + (way * (level - here)) / (next - here);
    }
    return null;
  };
  // The middle may lie past either level where the edge is sharp.
  const low = profile[centre] > 0.1 ? reach(0.1, -1) : backTo(profile, centre, 0.1, 1);
  const high = profile[centre] < 0.9 ? reach(0.9, 1) : backTo(profile, centre, 0.9, -1);
  return low === null || high === null || high <= low ? null : (high - low) * across;
}

function backTo(profile: ArrayLike<number>, centre: number, level: number, way: 1 | -1): number | null {
  for (let row = centre; row > 0 && row < profile.length - 1; row += way) {
    const [here, next] = [profile[row], profile[row + way]];
    if (way > 0 ? next >= level : next <= level) return row + (way * (level - here)) / (next - here || 1);
  }
  return null;
}

/** Width of the 10 to 90 % rise of a matte's edge with this softness, px: 3t² − 2t³ passes 0.1 at t = 0.1958. */
export function matteWidth(feather: number): number {
  return Math.max(0.8, 0.6084 * feather);
}

/** The softness whose matte rises over a 10 to 90 % width, px. */
export function featherOfWidth(width: number): number {
  return width <= 1 ? 0 : width / 0.6084;
}
