import { readdirSync } from 'node:fs';
import path from 'node:path';
import { CoverMap, looksEvery } from '../src/core/find/cover-map';
import { crossingsIn, type FoundCrossing } from '../src/core/find/crossings';
import { type PassTruth, passesIn, readClip, readTruth } from './clip-frames';
import { type Figure, formatFigure, median } from './figure';
import { chanceSets, type ChanceSet } from './passes/by-chance';
import { drawnByChance, drawnPasses } from './passes/make';

/**
 * A long take put together from passes with stretches of nothing between them, looked through: how many of the crossings
 * are found, and how often something is said to be one that is none.
 */

/** Seconds of nothing after each pass. */
const nothing = 8;
/** Frames within which opening and closing have to lie, and levels of noise on what stands still. */
const near = 12;
const grain = 4;

interface Known {
  name: string;
  opens: number;
  closes: number;
  direction: -1 | 1;
}

function placeOf(asked: string | null): Promise<string> {
  if (asked && asked in chanceSets) return drawnByChance(asked as ChanceSet);
  return asked ? Promise.resolve(asked) : drawnPasses();
}

/** The passes in a folder, and those that lie a folder deeper, as the takes of passes by chance do. */
function takesIn(place: string): string[] {
  const deeper = readdirSync(place, { withFileTypes: true })
    .filter((entry) => entry.isDirectory())
    .flatMap(({ name }) => passesIn(path.join(place, name)).map((take) => path.join(name, take)));
  return [...passesIn(place), ...deeper].sort();
}

/** `npm run bench -- find [SET or FOLDER]`: the bench's passes, a set of those by chance, or a folder of one's own. */
export async function benchFind(folder: string | null) {
  const place = await placeOf(folder);
  const names = takesIn(place);
  const { width, height, fps } = readTruth(path.join(place, names[0]));
  const rate = { num: fps, den: 1 };
  const every = looksEvery(rate);
  const map = new CoverMap({ width, height }, fps / every);
  const known: Known[] = [];
  let frame = 0;
  let spent = 0;
  const show = (luma: Uint8Array) => {
    if (frame++ % every !== 0) return;
    const start = performance.now();
    map.add(luma, width, height);
    spent += performance.now() - start;
  };
  for (const name of names) {
    const truth = readTruth(path.join(place, name));
    if (truth.width !== width || truth.height !== height || !goesThrough(truth)) continue;
    const first = frame;
    let last: Uint8Array | null = null;
    for (const { planes } of readClip(path.join(place, name), truth).pictures) {
      last = planes.y;
      show(last);
    }
    const inside = truth.truth.flatMap((line, k) =>
      line.some(([x]) => x >= 0 && x < width) ? [first + k] : [],
    );
    const direction = truth.side === 'left' ? 1 : -1;
    known.push({ name, opens: inside[0], closes: inside[inside.length - 1], direction });
    const still = new Uint8Array(width * height);
    for (let k = 0; last && k < nothing * fps; k++) {
      if (frame % every === 0)
        for (let i = 0; i < still.length; i++)
          still[i] = Math.max(0, Math.min(255, last[i] + grain * (Math.random() + Math.random() - 1)));
      show(still);
    }
  }
  const start = performance.now();
  map.end();
  const found = crossingsIn({ map, every, rate, width });
  spent += performance.now() - start;
  report(known, found, { frames: frame, fps, spent, looks: frame / every });
}

/** Whether a pass has its edge go through the picture, from border to border: else nothing crosses in it. */
function goesThrough({ kind, truth, width }: PassTruth): boolean {
  const middles = truth.flatMap((line) => (line.length > 0 ? [line[line.length >> 1][0]] : []));
  return kind === 'seam' && Math.max(...middles) > 0.9 * width && Math.min(...middles) < 0.1 * width;
}

function report(
  known: readonly Known[],
  found: readonly FoundCrossing[],
  { frames, fps, spent, looks }: { frames: number; fps: number; spent: number; looks: number },
) {
  const lies = (a: FoundCrossing, b: Known, within: number) =>
    Math.abs(a.opens - b.opens) <= within && Math.abs(a.closes - b.closes) <= within;
  const overlaps = (a: FoundCrossing, b: Known) => a.opens <= b.closes && a.closes >= b.opens;
  for (const each of known) {
    const own = found.filter((crossing) => overlaps(crossing, each));
    const told = own.map(
      ({ kind, opens, closes, direction }) => `${kind} ${opens} to ${closes} (${direction})`,
    );
    console.log(
      `${each.name}: ${each.opens} to ${each.closes} (${each.direction}); found ${told.join(', ') || 'nothing'}`,
    );
  }
  const met = known.filter((each) =>
    found.some((crossing) => overlaps(crossing, each) && crossing.direction === each.direction),
  );
  const exact = known.filter((each) => found.some((crossing) => lies(crossing, each, near)));
  const wrong = found.filter((crossing) => !known.some((each) => overlaps(crossing, each)));
  const minutes = frames / fps / 60;
  const offs = known.flatMap((each) =>
    found
      .filter((crossing) => overlaps(crossing, each))
      .slice(0, 1)
      .flatMap(({ opens, closes }) => [Math.abs(opens - each.opens), Math.abs(closes - each.closes)]),
  );
  const figures: Figure[] = [
    {
      name: `crossings found, with their side, of ${known.length}`,
      value: (100 * met.length) / known.length,
      unit: '%',
      atLeast: 95,
    },
    {
      name: `of them both ends within ${near} frames`,
      value: (100 * exact.length) / known.length,
      unit: '%',
    },
    { name: 'an end is off by, median', value: offs.length ? median(offs) : NaN, unit: 'frames' },
    {
      name: `found where nothing crosses, in ${minutes.toFixed(1)} minutes: each five`,
      value: (5 * wrong.length) / minutes,
      unit: '',
      atMost: 1,
    },
    { name: 'a look, decoding left out', value: spent / looks, unit: 'ms' },
  ];
  for (const figure of figures) console.log(formatFigure(figure));
}
