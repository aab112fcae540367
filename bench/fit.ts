import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import prettier from 'prettier';
import { acrossTo } from '../src/core/carry/across';
import { carryBetween, Followings } from '../src/core/carry/between';
import { saidBetween, saidBy, saidOneWay } from '../src/core/carry/confidence';
import { fittedWeights } from '../src/core/carry/fitted-weights';
import { grown, type PlacesSaid, saidOfPlaces } from '../src/core/carry/likely-errors';
import { type Followed, type KnownLine, LineFollower } from '../src/core/carry/line-follower';
import { movingMean } from '../src/core/numbers/moving-mean';
import { solved } from '../src/core/numbers/cholesky';
import { seeded } from '../demo/random';
import { distancesTo, modelOf, pointsOf, tooFar, toPolyline, wholeInFrame } from './carry';
import { type PassTruth, passesIn, readClip, readTruth } from './clip-frames';
import { chanceSets, type ChanceSet } from './passes/by-chance';
import { drawnByChance } from './passes/make';
import { spread } from './spread';

/** What a frame said, and whether it was more than 3 px off. */
interface FrameRow {
  said: Record<string, number>;
  wrong: boolean;
}
/** What a place said, and how far off it was, px. */
interface PlaceRow {
  said: Record<keyof PlacesSaid, number>;
  off: number;
}
/** What a take of a pass is fitted with. */
export interface TakeRows {
  places: PlaceRow[];
  oneWay: FrameRow[];
  between: FrameRow[];
}

const placeNames = Object.keys(fittedWeights.places) as (keyof PlacesSaid)[];
/** Places of a line that are looked at: every so many. */
const everyPlace = 6;

/** Follows a take from both ends of both halves, and either way with each wrong frame put right, and keeps what was said. */
export async function rowsOf(folder: string): Promise<TakeRows> {
  const pass = readTruth(folder);
  const clip = readClip(folder, pass);
  const frames = wholeInFrame(pass, clip.count);
  const first = modelOf(pass, frames[0]);
  const at = (t: number): KnownLine => ({ frame: t, model: first.through(pointsOf(pass, t)) });
  const rows: TakeRows = { places: [], oneWay: [], between: [] };
  for (const direction of [1, -1] as const) {
    const follower = new LineFollower(clip, direction, undefined, pass.kind === 'loop');
    const [begun, ...rest] = direction > 0 ? frames : [...frames].reverse();
    await follower.begin(begun, at(begun).model);
    for (const t of rest) {
      const step = await follower.step();
      if (!step) break;
      const wrong = distancesTo(pass, t, step.model).error > tooFar;
      rows.oneWay.push({ said: saidOneWay(step.sights, saidBy(step.sights)), wrong });
      if (wrong) await follower.begin(t, at(t).model);
    }
  }
  const known = [frames[0], frames[frames.length >> 1], frames[frames.length - 1]].map(at);
  const followings = new Followings(clip, pass.kind === 'loop');
  for (const [from, to] of [known.slice(0, 2), known.slice(1)]) {
    const forward = await followings.from(from, to, () => undefined);
    const back = await followings.from(to, from, () => undefined);
    for (const steps of [forward, back]) rows.places.push(...placeRows(pass, steps));
    const joined = await carryBetween(followings, from, to);
    for (const [k, { frame, model, confidence }] of joined.entries()) {
      const two = [forward[k], back[back.length - 1 - k]];
      rows.between.push({
        said: betweenSaid(two, confidence.places),
        wrong: distancesTo(pass, frame, model).error > tooFar,
      });
    }
  }
  return rows;
}

/** As `carryBetween` judges a frame. @param two what both directions found there. */
function betweenSaid([a, b]: Followed[], places: readonly Float64Array[]) {
  const far: number[] = [];
  const off: number[] = [];
  for (const [r, { line }] of a.model.runs.entries()) {
    const other = b.model.runs[r].line;
    const apart = acrossTo(line, other).map(Math.abs);
    const { seen } = a.sights[r];
    far.push(...movingMean(apart, 2).filter((_, i) => seen[i] === 1));
    off.push(...places[r].filter((_, i) => seen[i] === 1));
  }
  return saidBetween(off, far);
}

function placeRows(pass: PassTruth, steps: readonly Followed[]): PlaceRow[] {
  const said = saidOfPlaces(steps.map(({ sights }) => sights));
  return steps.flatMap(({ frame, model, sights }, k) =>
    model.runs.flatMap(({ line }, r) =>
      Array.from({ length: Math.floor(line.count / everyPlace) }, (_, n) => n * everyPlace)
        .filter((i) => sights[r].seen[i] === 1)
        .map((i) => ({
          said: Object.fromEntries(placeNames.map((name) => [name, said[k][r][name][i]])) as PlaceRow['said'],
          off: toPolyline(line.x[i], line.y[i], pass.truth[frame], pass.kind === 'loop'),
        })),
    ),
  );
}

/**
 * `npm run bench -- fit [SET]`: fits the weights of likely errors and of confidence to a set of passes by chance (`work`), says how
 * they do on passes that they were not fitted to, and writes them to `core/carry/fitted-weights.ts`. Each pass's first take is
 * followed. What lies between two known frames rests on the weights of the places: run it again until they settle.
 */
export async function benchFit(set: string | null): Promise<void> {
  const name = set ?? 'work';
  if (!(name in chanceSets))
    throw new Error(`There is no set ${name}: ${Object.keys(chanceSets).join(', ')}.`);
  const place = await drawnByChance(name as ChanceSet);
  const names = readdirSync(place)
    .filter((pass) => existsSync(path.join(place, pass, 'traits.json')))
    .sort();
  const passes: TakeRows[] = [];
  await spread<TakeRows>(
    names.map((pass) => ({
      work: 'fit',
      of: path.join(place, pass),
      name: passesIn(path.join(place, pass))[0],
    })),
    (piece, rows) => {
      passes.push(rows);
      console.log(`${path.basename(piece.of)} followed`);
    },
  );
  const places = fittedScale(passes.flatMap((rows) => rows.places));
  const oneWay = fittedLogistic(passes, (rows) => rows.oneWay, 'one way');
  const between = fittedLogistic(passes, (rows) => rows.between, 'between');
  const frames = passes.reduce((sum, rows) => sum + rows.oneWay.length + rows.between.length, 0);
  await write({ date: new Date().toISOString().slice(0, 10), set: name, frames }, places, oneWay, between);
}

/** Most places that the scale is fitted to, and rounds and pace of the fit (Adam; Kingma and Ba 2015). */
const [mostPlaces, scaleRounds, scalePace] = [40000, 600, 0.05];

/**
 * Weights that stay as they are: a place that may be elsewhere may be anywhere, which a distribution with such heavy tails hardly punishes.
 */
const held: readonly (keyof PlacesSaid)[] = ['doubt', 'doubtBefore'];

/** The weights, none below 0, that make the errors likeliest: each of a Cauchy distribution whose scale is the weighted sum, grown. */
function fittedScale(rows: readonly PlaceRow[]): Record<string, number> {
  const random = seeded(1);
  const some = rows.length <= mostPlaces ? rows : rows.filter(() => random() < mostPlaces / rows.length);
  const logs = placeNames.map((name) => Math.log(fittedWeights.places[name] + 1e-4));
  const [mean, square] = [placeNames.map(() => 0), placeNames.map(() => 0)];
  for (let round = 1; round <= scaleRounds; round++) {
    const weights = logs.map(Math.exp);
    const slope = placeNames.map(() => 0);
    for (const { said, off } of some) {
      const sum = leastScale + placeNames.reduce((all, name, k) => all + weights[k] * said[name], 0);
      const scale = grown(sum);
      // −log p = log s + log(1 + (e / s)²)
      const part = (1 / scale - (2 * off * off) / (scale * (scale * scale + off * off))) * (1 + 2 * sum);
      for (let k = 0; k < slope.length; k++)
        slope[k] += (part * weights[k] * said[placeNames[k]]) / some.length;
    }
    for (let k = 0; k < logs.length; k++) {
      if (held.includes(placeNames[k])) continue;
      mean[k] = 0.9 * mean[k] + 0.1 * slope[k];
      square[k] = 0.999 * square[k] + 0.001 * slope[k] ** 2;
      const step = mean[k] / (1 - 0.9 ** round) / (Math.sqrt(square[k] / (1 - 0.999 ** round)) + 1e-8);
      logs[k] = Math.max(-12, logs[k] - scalePace * step);
    }
  }
  console.log(`likely errors: ${some.length} places`);
  return Object.fromEntries(placeNames.map((name, k) => [name, Math.exp(logs[k])]));
}

/** px below which no place is told to be, so that none weighs everything. */
const leastScale = 0.01;
/** Strength of what holds weights to 0, share of wrong frames that the threshold flags, and parts that are left out in turn. */
const [ridge, flaggedShare, folds] = [1, 0.95, 5];

/** A logistic regression by Newton's method with a ridge; its bias is such that 95 % of the frames that are wrong lie above 0. */
function fittedLogistic(
  passes: readonly TakeRows[],
  of: (rows: TakeRows) => FrameRow[],
  what: string,
): Record<string, number> {
  const fit = (rows: readonly FrameRow[]) => {
    const names = Object.keys(rows[0].said);
    const n = names.length + 1;
    let weights = new Float64Array(n);
    const values = rows.map(({ said }) => [1, ...names.map((name) => said[name])]);
    for (let round = 0; round < 30; round++) {
      const [h, g] = [new Float64Array(n * n), new Float64Array(n)];
      for (let k = 1; k < n; k++) [h[k * n + k], g[k]] = [ridge, -ridge * weights[k]];
      for (const [r, x] of values.entries()) {
        const p = 1 / (1 + Math.exp(-x.reduce((sum, value, k) => sum + value * weights[k], 0)));
        for (let a = 0; a < n; a++) {
          g[a] += x[a] * ((rows[r].wrong ? 1 : 0) - p);
          for (let b = a; b < n; b++) h[a * n + b] += x[a] * x[b] * p * (1 - p);
        }
      }
      const step = solved(h, g, n);
      weights = weights.map((value, k) => value + step[k]);
    }
    const score = ({ said }: FrameRow) =>
      names.reduce((sum, name, k) => sum + weights[k + 1] * said[name], 0);
    const wrong = rows
      .filter((row) => row.wrong)
      .map(score)
      .sort((a, b) => a - b);
    const bias = -(wrong[Math.floor((1 - flaggedShare) * wrong.length)] ?? 0);
    return { bias, ...Object.fromEntries(names.map((name, k) => [name, weights[k + 1]])) } as Record<
      string,
      number
    >;
  };
  const flags = ({ bias, ...weights }: Record<string, number>, { said }: FrameRow) =>
    Object.entries(weights).reduce((sum, [name, weight]) => sum + weight * said[name], bias) >= 0;
  const counts = { wrong: 0, flagged: 0, good: 0, falsely: 0 };
  for (let fold = 0; fold < folds; fold++) {
    const weights = fit(passes.filter((_, k) => k % folds !== fold).flatMap(of));
    for (const row of passes.filter((_, k) => k % folds === fold).flatMap(of)) {
      counts[row.wrong ? 'wrong' : 'good']++;
      if (flags(weights, row)) counts[row.wrong ? 'flagged' : 'falsely']++;
    }
  }
  const percent = (part: number, whole: number) => `${((100 * part) / whole).toFixed(1)} %`;
  console.log(
    `${what}: of passes left out, ${percent(counts.flagged, counts.wrong)} of ${counts.wrong} wrong frames flagged, ` +
      `${percent(counts.falsely, counts.good)} of ${counts.good} good ones`,
  );
  return fit(passes.flatMap(of));
}

async function write(fitted: object, ...weights: Record<string, number>[]): Promise<void> {
  const [places, oneWay, between] = weights.map((each) =>
    Object.fromEntries(Object.entries(each).map(([name, value]) => [name, Number(value.toPrecision(3))])),
  );
  const file = fileURLToPath(new URL('../src/core/carry/fitted-weights.ts', import.meta.url));
  const source = `/**
 * Weights by which a followed line says how sure it is, as \`npm run bench -- fit\` wrote them. How they are found: docs/methods.md,
 * Carrying.
 */
export const fittedWeights = {
  /** When, to which passes by chance, and to how many frames of them. */
  fitted: ${JSON.stringify(fitted)},
  /** Of what each place said, for the scale of a Cauchy distribution, px. */
  places: ${JSON.stringify(places)},
  /** Of the logarithms of what a frame said that was followed from one end; at 0 it is unsure. */
  oneWay: ${JSON.stringify(oneWay)},
  /** The same between two known frames. */
  between: ${JSON.stringify(between)},
} as const;
`;
  const options = await prettier.resolveConfig(file);
  writeFileSync(file, await prettier.format(source, { ...options, parser: 'typescript' }));
  console.log(`written to ${path.relative(process.cwd(), file)}`);
}
