import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { unsureFrom } from '../src/core/carry/confidence';
import { quantile } from '../src/core/numbers/quantile';
import { joinedResult, lineOf, type PassResult, tooFar } from './carry';
import { passesIn } from './clip-frames';
import { formatInterval, intervalOver } from './interval';
import { chanceSets, type ChanceSet, type Traits } from './passes/by-chance';
import { drawnByChance } from './passes/make';
import { spread } from './spread';

/** A pass by chance, all its takes together. */
export interface ChanceResult extends PassResult {
  traits: Traits;
}

const groups: readonly [name: string, are: (traits: Traits) => boolean][] = [
  ['all', () => true],
  ['without limb and flicker', ({ limb, flicker }) => !limb && !flicker],
  ['with flicker, without limb', ({ limb, flicker }) => flicker && !limb],
  ['with limbs', ({ limb }) => limb],
  ['clothes go along', ({ goesAlong }) => goesAlong],
  ['still texture', ({ goesAlong }) => !goesAlong],
  ['shadows', ({ shadow }) => shadow],
  ['soft and dark', ({ soft, dark }) => soft && dark],
];

/** `npm run bench -- carry --by-chance SET`: passes put together by chance (bench/passes/by-chance.ts), with 90 % intervals. */
export async function benchCarryByChance(set: string | undefined): Promise<void> {
  if (!set || !(set in chanceSets))
    throw new Error(`Name a set of passes by chance: ${Object.keys(chanceSets).join(', ')}.`);
  const place = await drawnByChance(set as ChanceSet);
  report(await chanceResults(place, readdirSync(place).sort()));
}

/** Follows all takes of these passes, on all processors; prints each pass as it is done. */
export async function chanceResults(place: string, names: readonly string[]): Promise<ChanceResult[]> {
  const whole = names.filter((name) => existsSync(path.join(place, name, 'traits.json')));
  const takes = new Map(whole.map((name) => [name, passesIn(path.join(place, name))]));
  const done = new Map<string, PassResult[]>();
  const results: ChanceResult[] = [];
  const pieces = whole.flatMap((name) =>
    takes.get(name)!.map((take) => ({ work: 'follow' as const, of: path.join(place, name), name: take })),
  );
  await spread<PassResult>(pieces, ({ of }, result) => {
    const name = path.basename(of);
    const those = [...(done.get(name) ?? []), result];
    done.set(name, those);
    if (those.length < takes.get(name)!.length) return;
    const traits = JSON.parse(readFileSync(path.join(of, 'traits.json'), 'utf8')) as Traits;
    const joined = { ...joinedResult(name, those), traits };
    results.push(joined);
    console.log(`${lineOf(name, [joined])} · ${traitsOf(traits)}`);
  });
  return results;
}

function traitsOf(traits: Traits): string {
  const has = Object.entries(traits)
    .filter(([trait, is]) => (trait === 'goesAlong' ? !is : is))
    .map(([trait]) => (trait === 'goesAlong' ? 'still texture' : trait));
  return has.join(', ') || 'plain';
}

function report(results: readonly ChanceResult[]): void {
  for (const [name, are] of groups) {
    const those = results.filter(({ traits }) => are(traits));
    if (those.length === 0) continue;
    const share = (of: (result: PassResult) => number) =>
      formatInterval(
        intervalOver(
          those,
          (passes) => (100 * passes.reduce((sum, result) => sum + of(result), 0)) / passes.length,
        ),
        '%',
      );
    const over = (
      figure: (held: PassResult['held'], passes: readonly PassResult[]) => number,
      unit: string,
      digits = 1,
    ) =>
      formatInterval(
        intervalOver(those, (passes) =>
          figure(
            passes.flatMap(({ held }) => held),
            passes,
          ),
        ),
        unit,
        digits,
      );
    const flagged = (which: (error: number) => boolean) =>
      over((held) => {
        const frames = held.filter(({ error }) => which(error));
        return (100 * frames.filter(({ doubt }) => doubt >= unsureFrom).length) / frames.length;
      }, '%');
    const distances = those.flatMap(({ held }) => held.flatMap((frame) => frame.distances));
    console.log(
      [
        `${name} (${those.length}): touched ${share(({ touched, carried }) => touched / carried)}, backward ${share(({ touchedBack, carried }) => touchedBack / carried)} (1)`,
        `put right ${share(({ putRight, between }) => (between > 0 ? putRight / between : 0))} (2)`,
        `median ${quantile(distances, 0.5).toFixed(2)} px`,
        `p95 ${quantile(distances, 0.95).toFixed(2)} px`,
        `frames' p95 in the mean ${over((held) => held.reduce((sum, { error }) => sum + Math.min(error, 50), 0) / held.length, 'px')}`,
        `flagged ${flagged((error) => error > tooFar)}`,
        `false ${flagged((error) => error <= tooFar)}`,
        `second difference ${over((_, passes) => passes.reduce((sum, { turns }) => sum + turns.carried, 0) / passes.reduce((sum, { turns }) => sum + turns.truth, 0), '× the truth’s', 2)}`,
        `${(those.reduce((sum, { oneWayMs }) => sum + oneWayMs, 0) / those.length).toFixed(0)} ms a frame`,
        `${(those.reduce((sum, { bothWaysMs }) => sum + bothWaysMs, 0) / those.length).toFixed(0)} both ways`,
      ].join(', '),
    );
  }
}
