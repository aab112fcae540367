import * as Comlink from 'comlink';
import type { CrossingDocument } from '@/core/document/tables';
import type { ShotMedia } from '@/wire/answers';
import { Checks, type ChecksEvent } from './checks';

let checks: Checks | null = null;

const service = {
  /** Begins with a crossing; the rest is asked of what this returns. */
  open(document: CrossingDocument, media: ShotMedia[], tell: (event: ChecksEvent) => void) {
    checks = new Checks(document, media, tell);
    return Comlink.proxy(checks);
  },
};

export type ChecksService = typeof service;

Comlink.expose(service);
