import * as Comlink from 'comlink';
import type { PosterService } from '@/render/posters.worker';

let service: Comlink.Remote<PosterService> | null = null;
let turn: Promise<unknown> = Promise.resolve();

/** Calls the worker that draws small pictures, one call at a time, so that a full shelf does not decode all at once. */
export function withPosters<T>(work: (service: Comlink.Remote<PosterService>) => Promise<T>): Promise<T> {
  service ??= Comlink.wrap<PosterService>(
    new Worker(new URL('../render/posters.worker.ts', import.meta.url), { type: 'module' }),
  );
  const mine = turn.then(() => work(service!));
  turn = mine.catch(() => {});
  return mine;
}
