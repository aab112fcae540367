import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { build } from 'esbuild';
import { applyChanges } from '../src/core/document/document';
import { inverseChanges } from '../src/core/document/edit';
import { inconsistencyOfWhole } from '../src/core/document/invariants';
import { createCrossing, openCrossing, readHistory } from '../src/server/crossings';
import { dataFolder } from '../src/server/data-folder';
import { database } from '../src/server/database';
import { forgetDocument } from '../src/server/open-documents';
import { rowsById } from './rows-by-id';
import { bringInStill } from './still';

/** What is found wrong after a kill, as sentences; and how many steps were acknowledged in all. */
export interface Killed {
  rounds: number;
  acknowledged: number;
  wrong: string[];
}

interface Said {
  revision: number;
  editId: string;
  undone: boolean;
}

/** The child as one file, which starts in a fraction of the time. */
async function bundledChild(): Promise<string> {
  const outfile = path.resolve('node_modules', '.cache', 'kiv', 'kill-child.cjs');
  const entryPoints = [path.join('properties', 'kill-child.ts')];
  await build({ entryPoints, outfile, bundle: true, platform: 'node', format: 'cjs', packages: 'external' });
  return outfile;
}

/** Edits until killed after some ms. @returns the steps that were acknowledged by then. */
function editUntilKilled(program: string, crossingId: string, seed: number, after: number): Promise<Said[]> {
  const child = spawn(process.execPath, [program, crossingId, String(seed)], {
    env: { ...process.env, KIV_DATA: dataFolder() },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let [said, failed] = ['', ''];
  child.stderr.on('data', (bytes: Buffer) => (failed += bytes.toString()));
  child.stdout.on('data', (bytes: Buffer) => {
    // From its first word on, so that it is killed while it writes.
    if (said === '') setTimeout(() => child.kill('SIGKILL'), after);
    said += bytes.toString();
  });
  return new Promise((resolve, reject) =>
    child.on('close', (_, signal) => {
      if (signal !== 'SIGKILL') return reject(new Error(failed || 'It ended by itself.'));
      const lines = said.split('\n').slice(0, -1);
      resolve(lines.map((line) => JSON.parse(line) as Said));
    }),
  );
}

/**
 * Kills a process that edits, so many times, each at a moment of its own, and looks after each that all it had acknowledged
 * is there, and that the document is what its history makes of it.
 */
export async function killRounds(rounds: number): Promise<Killed> {
  const [shot, program] = [await bringInStill(), await bundledChild()];
  const wrong: string[] = [];
  let acknowledged = 0;
  for (let round = 0; round < rounds; round++) {
    const id = createCrossing({
      ...{ name: `Killed ${randomUUID().slice(0, 8)}`, plan: 'pass-by' },
      ...{ outgoingShotId: shot, incomingShotId: shot },
    });
    const start = openCrossing(id).document;
    const said = await editUntilKilled(program, id, round + 1, 5 + ((round * 37) % 160));
    acknowledged += said.length;
    forgetDocument(id);
    const { document, revision } = openCrossing(id);
    const lastSaid = said[said.length - 1]?.revision ?? 0;
    // One more may be written whose answer was never given.
    if (revision < lastSaid || revision > lastSaid + 1)
      wrong.push(`Round ${round}: revision ${revision} after ${lastSaid} was acknowledged.`);
    let all = readHistory(id);
    const history = [...all.history];
    while (all.hasOlder) {
      all = readHistory(id, history[0].sequence);
      history.unshift(...all.history);
    }
    const states = new Map(said.map(({ editId, undone }) => [editId, undone]));
    const replaced = said.some(({ undone }) => undone);
    for (const [editId, undone] of states) {
      const entry = history.find((each) => each.id === editId);
      // What was undone may have been replaced by what came after it.
      if (entry ? entry.undone !== undone && revision === lastSaid : !(undone && replaced))
        wrong.push(`Round ${round}: an acknowledged step is not there.`);
    }
    const done = history.filter(({ undone }) => !undone);
    try {
      const replayed = done.reduce((at, { changes }) => applyChanges(at, changes), start);
      if (!isDeepStrictEqual(rowsById(replayed), rowsById(document)))
        wrong.push(`Round ${round}: the document is not its history's.`);
      done.reduceRight((at, { changes }) => applyChanges(at, inverseChanges(changes)), document);
    } catch (error) {
      wrong.push(`Round ${round}: ${(error as Error).message}`);
    }
    const why = inconsistencyOfWhole(document);
    if (why) wrong.push(`Round ${round}: ${why}`);
  }
  const integrity = database().pragma('integrity_check', { simple: true });
  if (integrity !== 'ok') wrong.push(`The database: ${String(integrity)}`);
  return { rounds, acknowledged, wrong };
}
