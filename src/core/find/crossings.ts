import { type CoverMap, lookWidth } from './cover-map';

export const crossingKinds = ['passes', 'leaves', 'opens'] as const;

/** A stretch of a take in which something crosses the picture, or comes away from what lies behind it. */
export interface FoundCrossing {
  /**
   * `passes`: covers the picture from top to bottom and leaves it; `leaves`: likewise, and was there for long before; `opens`: a part of
   * the picture comes free, and stays so.
   */
  kind: (typeof crossingKinds)[number];
  /** First and last source frame with some of the edge in the picture, as far as looks so far apart tell. */
  opens: number;
  closes: number;
  /** Rightwards 1, leftwards −1; 0 where it opens to both sides, or all at once. */
  direction: -1 | 0 | 1;
  /** px of the shot a frame, against what lies behind. */
  speed: number;
  /** Share of the picture's width that it covers at the most. */
  covers: number;
  /** Seconds by which columns come free earlier or later than at an even speed: a root mean square. */
  unsteady: number;
  /** How clearly it was seen, 0 to 1. */
  clear: number;
}

/** Looks before and after a moment over which columns are held against each other: an edge that leans comes free as slowly. */
const around = 4;
/** Slowest and fastest that an edge goes, px of the look from look to look, and how much faster each one tried is than the last. */
const [slowest, fastest, faster] = [0.5, 16, 1.09];
/** How much less covered columns have to be after an edge than before it, on average over its way. */
const leastFall = 0.5;
/**
 * Share of a column that looks covered where something reaches from top to bottom, as some of it looks alike by chance: half of the columns
 * have more; the least that any has, and the share of columns that have that.
 */
const [topToBottom, leastOfColumn, mostColumns] = [0.62, 0.5, 0.7];
/** Correlation of columns and looks from which on cover falls away along a course. */
const goesAlong = 0.7;
/** Seconds of cover from which on something was there all the time before: it does not pass, it leaves. */
const longBefore = 2.2;
/** Share of its fullest cover under which something is not there yet: what is small may be there before. */
const less = 0.65;
/** Share that a column has of cover where nothing covers it. */
const bare = 0.35;

/** What was looked at: its looks a second, every how many frames they are, and how wide the shot is, px. */
export interface Looked {
  map: CoverMap;
  every: number;
  rate: { num: number; den: number };
  width: number;
}

/** A crossing, and the looks that it goes from and to. */
type Placed = FoundCrossing & { from: number; to: number };

/** The crossings in a take, in its order. */
export function crossingsIn(looked: Looked): FoundCrossing[] {
  const { map } = looked;
  const falls = fallsOf(map);
  const sweeps = sweepsOf(map, falls);
  const found: Placed[] = [];
  // Another course through the same fall says nothing new, and neither does an opening where something leaves.
  const add = (next: Placed) => {
    if (!found.some(({ from, to }) => next.from <= to + around && next.to >= from - around)) found.push(next);
  };
  for (const sweep of sweeps) {
    const crossing = judged(looked, sweep);
    if (crossing) add(crossing);
  }
  openingsOf(looked).forEach(add);
  return found.sort((a, b) => a.opens - b.opens).map(({ from: _from, to: _to, ...crossing }) => crossing);
}

/** How much less each column is covered after each look than before it; NaN where that is not known. */
function fallsOf({ columns, takes }: CoverMap): Float32Array[] {
  return columns.map((_, k) => {
    const out = new Float32Array(lookWidth).fill(NaN);
    // Takes are known before what covers them is.
    if (k + around >= columns.length || takes[k - around] !== takes[k] || takes[k + around] !== takes[k])
      return out;
    for (let x = 0; x < lookWidth; x++) {
      // What is narrow, or fast, covers a column on one look only.
      let [most, rest] = [0, 0];
      for (let by = 1; by <= around; by++) {
        if (columns[k - by][x] > most) most = columns[k - by][x];
        rest += columns[k + by][x];
      }
      out[x] = most - rest / around;
    }
    return out;
  });
}

/** A straight course through columns and looks on which cover falls away. */
interface Sweep {
  /** The look at which it is in the middle of the picture, and px from look to look. */
  at: number;
  pace: number;
  fall: number;
}

/** Courses on which most falls away, the best first. */
function sweepsOf({ columns }: CoverMap, falls: readonly Float32Array[]): Sweep[] {
  const paces: number[] = [];
  for (let pace = slowest; pace <= fastest; pace *= faster) paces.push(pace, -pace);
  const best: (Sweep | null)[] = columns.map(() => null);
  for (const pace of paces)
    for (let at = 0; at < columns.length; at++) {
      let [sum, known] = [0, 0];
      for (let x = 1; x < lookWidth; x += 3) {
        const fall = falls[Math.round(at + (x - lookWidth / 2) / pace)]?.[x];
        if (fall === undefined || Number.isNaN(fall)) continue;
        sum += fall;
        known++;
      }
      if (known < lookWidth / 6) continue;
      const fall = sum / (lookWidth / 3);
      if (fall >= leastFall && fall > (best[at]?.fall ?? 0)) best[at] = { at, pace, fall };
    }
  return best.filter((each) => each !== null).sort((a, b) => b.fall - a.fall);
}

function judged({ map, every, rate, width }: Looked, { at, pace, fall }: Sweep): Placed | null {
  const { columns } = map;
  const direction = pace > 0 ? 1 : -1;
  const lookAt = (x: number) => at + (x - lookWidth / 2) / pace;
  // Where each column comes free, near the course; and how long it was covered before.
  const free: [x: number, look: number][] = [];
  const held: number[] = [];
  const covers: number[] = [];
  for (let x = 1; x < lookWidth - 1; x++) {
    const near = Math.round(lookAt(x));
    let [most, moment] = [0, near];
    for (let k = near - around; k <= near + around; k++) {
      const fell = (columns[k - 1]?.[x] ?? NaN) - (columns[k + 1]?.[x] ?? NaN);
      if (fell > most) [most, moment] = [fell, k];
    }
    if (most <= 0) continue;
    const cover = Math.max(...[1, 2, 3, 4].map((by) => columns[moment - by]?.[x] ?? 0));
    if (cover < leastOfColumn) continue;
    covers.push(cover);
    free.push([x, moment]);
    let since = moment - 1;
    while (since >= 0 && !(columns[since][x] < less * cover)) since--;
    held.push(moment - since);
  }
  covers.sort((a, b) => a - b);
  if (covers.length < mostColumns * lookWidth || covers[covers.length >> 1] < topToBottom) return null;
  // What changes all at once is a cut, or a light, and goes no way.
  if (direction * correlation(free) < goesAlong) return null;
  const looksASecond = rate.num / rate.den / every;
  held.sort((a, b) => a - b);
  const usual = held[held.length >> 1];
  const came = usual < longBefore * looksASecond;
  const late = free.map(([x, look]) => look - lookAt(x));
  const middle = [...late].sort((a, b) => a - b)[late.length >> 1];
  const unsteady = Math.sqrt(late.reduce((sum, each) => sum + (each - middle) ** 2, 0) / late.length);
  const [entering, leaving] = direction > 0 ? [0, lookWidth] : [lookWidth, 0];
  const from = lookAt(entering) + middle;
  const to = lookAt(leaving) + middle;
  const last = columns.length * every - 1;
  const frame = (look: number) => Math.max(0, Math.min(last, Math.round(look * every)));
  return {
    kind: came ? 'passes' : 'leaves',
    opens: frame(from),
    closes: frame(to),
    direction,
    speed: (Math.abs(pace) * width) / lookWidth / every,
    covers: came ? Math.min(1, (usual * Math.abs(pace)) / lookWidth) : 1,
    unsteady: unsteady / looksASecond,
    clear: Math.min(1, fall),
    ...{ from, to },
  };
}

/** Seconds for which what opens has to be there before, and what it lays open after; seconds that opening may take. */
const [wasThere, staysOpen, longestOpening] = [1.6, 0.8, 6];
/** Share of a column that has to open, which may be less than its height, and of the width. */
const [leastOpen, leastWide] = [0.5, 0.12];
/** Looks from one column's opening to its neighbour's that are one opening; fewest from its first to its last: a light is switched at once. */
const [together, leastLooks] = [8, 4];

/** Where columns beside each other lose, one after the other, what was there for long, for good. */
function openingsOf({ map, every, rate, width }: Looked): Placed[] {
  const { columns, takes } = map;
  const looksASecond = rate.num / rate.den / every;
  const [before, after] = [Math.round(wasThere * looksASecond), Math.round(staysOpen * looksASecond)];
  const events: Event[] = [];
  for (let x = 1; x < lookWidth - 1; x++) {
    let last: { look: number; fall: number } | null = null;
    let sumBefore = 0;
    let sumAfter = 0;
    for (let k = 0; k < columns.length - after; k++) {
      // Running sums over the looks before k, and from k on.
      sumBefore += k > 0 ? known(columns[k - 1][x]) : 0;
      if (k > before) sumBefore -= known(columns[k - before - 1][x]);
      if (k === 0) for (let by = 0; by < after; by++) sumAfter += known(columns[by][x]);
      else sumAfter += known(columns[k + after - 1][x]) - known(columns[k - 1][x]);
      if (k < before || takes[k - before] !== takes[k + after]) continue;
      const fall = sumBefore / before - sumAfter / after;
      if (fall < leastOpen || sumAfter / after > bare) continue;
      if (last && k - last.look <= after) {
        if (fall > last.fall) [last.look, last.fall] = [k, fall];
        continue;
      }
      const event = { x, look: k, fall };
      events.push(event);
      last = event;
    }
  }
  return grouped(events).flatMap((group) => {
    const looks = group.map(({ look }) => look);
    const [from, to] = [Math.min(...looks), Math.max(...looks)];
    const xs = new Set(group.map(({ x }) => x));
    if (xs.size < leastWide * lookWidth || to - from < leastLooks) return [];
    if (to - from > longestOpening * looksASecond) return [];
    const lean = correlation(group.map(({ x, look }) => [x, look]));
    const direction = lean > goesAlong ? 1 : lean < -goesAlong ? -1 : 0;
    return [
      {
        ...{
          kind: 'opens' as const,
          opens: from * every,
          closes: to * every,
          direction: direction as FoundCrossing['direction'],
        },
        speed: (xs.size * width) / lookWidth / ((to - from) * every),
        covers: xs.size / lookWidth,
        unsteady: 0,
        clear: Math.min(1, group.reduce((sum, { fall }) => sum + fall, 0) / group.length),
        ...{ from, to },
      },
    ];
  });
}

/** A column that comes free. */
interface Event {
  x: number;
  look: number;
  fall: number;
}

/** Events of columns beside each other, at about one time, together. @param events column by column. */
function grouped(events: readonly Event[]): Event[][] {
  const groups: Event[][] = [];
  const byColumn: { look: number; group: Event[] }[][] = Array.from({ length: lookWidth }, () => []);
  for (const event of events) {
    const { x, look } = event;
    const near = [...(byColumn[x - 2] ?? []), ...(byColumn[x - 1] ?? [])].find(
      (each) => Math.abs(each.look - look) <= together,
    );
    const group = near?.group ?? [];
    if (!near) groups.push(group);
    group.push(event);
    byColumn[x].push({ look, group });
  }
  return groups;
}

const known = (share: number) => (Number.isNaN(share) ? 0 : share);

/** Pearson's correlation of pairs; 0 where one of the two does not change. */
function correlation(pairs: readonly (readonly [number, number])[]): number {
  const mean = (k: 0 | 1) => pairs.reduce((sum, pair) => sum + pair[k], 0) / pairs.length;
  const [a, b] = [mean(0), mean(1)];
  let [both, first, second] = [0, 0, 0];
  for (const [x, y] of pairs) {
    both += (x - a) * (y - b);
    first += (x - a) ** 2;
    second += (y - b) ** 2;
  }
  return first * second === 0 ? 0 : both / Math.sqrt(first * second);
}
