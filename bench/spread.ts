import { fork } from 'node:child_process';
import os from 'node:os';
import { fileURLToPath } from 'node:url';

/** A piece of work for another process: what `bench/spread-worker.ts` does, and with what. */
export interface Piece {
  work: 'draw' | 'follow' | 'draft' | 'fit';
  /** To draw, a set of passes and the folder they go to, as `set=folder`; to follow, to draft or to fit, a folder of passes. */
  of: string;
  name: string;
}

/**
 * Does the pieces in as many processes as there are processors, each taking the next one when it is done.
 *
 * @param told of each result, in the order in which they come.
 * @throws what a piece threw, with its name.
 */
export async function spread<T>(
  pieces: readonly Piece[],
  told: (piece: Piece, result: T) => void,
): Promise<void> {
  const waiting = pieces.slice();
  const worker = fileURLToPath(new URL('./spread-worker.ts', import.meta.url));
  const one = () =>
    new Promise<void>((resolve, reject) => {
      const child = fork(worker, { execArgv: ['--import', 'tsx'] });
      let at: Piece | undefined;
      const next = () => {
        at = waiting.shift();
        if (at) child.send(at);
        else child.disconnect();
      };
      child.on('message', (answer: { result?: T; error?: string }) => {
        if (answer.error !== undefined) {
          waiting.length = 0;
          child.kill();
          reject(new Error(`${at!.name}: ${answer.error}`));
          return;
        }
        told(at!, answer.result as T);
        next();
      });
      child.on('error', reject);
      child.on('exit', () => (at ? reject(new Error(`${at.name} ended before it was done.`)) : resolve()));
      next();
    });
  await Promise.all(os.cpus().map(one));
}
