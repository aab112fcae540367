import * as Comlink from 'comlink';
import type { CrossingDocument } from '@/core/document/tables';
import type { ShotMedia } from '@/wire/answers';
import { SideBySide, type SideBySideEvent } from './side-by-side';

let pictures: SideBySide | null = null;

/** What the page calls; every call before `open` but that one does nothing. */
const service = {
  /** @throws Error where pictures cannot be drawn here. */
  open(
    range: readonly [first: number, last: number],
    height: number,
    tell: (event: SideBySideEvent) => void,
  ) {
    pictures = new SideBySide(range, height, tell);
  },
  takeShot: (media: ShotMedia) => pictures?.takeShot(media),
  put: (key: string, document: CrossingDocument, canvas: OffscreenCanvas | null) =>
    pictures?.put(key, document, canvas),
  drop: (key: string) => pictures?.drop(key),
  show: (frame: number) => pictures?.show(frame),
  play: () => pictures?.play(),
  pause: () => pictures?.pause(),
};

export type SideBySideService = typeof service;

Comlink.expose(service);
