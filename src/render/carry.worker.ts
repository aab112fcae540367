import * as Comlink from 'comlink';
import type { ShotMedia } from '@/wire/answers';
import { Carrier } from './carry';

const service = {
  /** Begins with a crossing's shots; the rest is asked of what this returns. */
  open: (media: ShotMedia[]) => Comlink.proxy(new Carrier(media)),
};

export type CarryService = typeof service;

Comlink.expose(service);
