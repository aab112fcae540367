import * as Comlink from 'comlink';
import type { CrossingDocument } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import type { ShotMedia } from '@/wire/answers';
import { type Look, type PlayClock, Preview, type PreviewEvent } from './preview';

let preview: Preview | null = null;

/** What the page calls; every call before `open` but that one does nothing. */
const service = {
  /** Lets graphics begin, which takes its time once. */
  warm() {
    new OffscreenCanvas(1, 1).getContext('webgl2')?.getExtension('WEBGL_lose_context')?.loseContext();
  },
  open(
    canvas: OffscreenCanvas,
    document: CrossingDocument,
    media: ShotMedia[],
    thumbnailHeight: number,
    tell: (event: PreviewEvent) => void,
  ) {
    preview = new Preview(canvas, document, media, thumbnailHeight, (event) => {
      tell(event.kind === 'thumbnail' ? Comlink.transfer(event, [event.rgba.buffer]) : event);
    });
  },
  change: (changes: RowChange[]) => preview?.change(changes),
  replaceDocument: (document: CrossingDocument) => preview?.replaceDocument(document),
  takeShot: (media: ShotMedia) => preview?.takeShot(media),
  setDraft: (changes: RowChange[] | null) => preview?.setDraft(changes),
  extendDraft: (more: RowChange[]) => preview?.extendDraft(more),
  show: (frame: number, look: Look) => preview?.show(frame, look),
  setLook: (look: Look) => preview?.setLook(look),
  play: (clock: PlayClock | null) => preview?.play(clock),
  setClock: (startedAt: number) => preview?.setClock(startedAt),
  pause: () => preview?.pause(),
  requestThumbnails: (frames: number[]) => preview?.requestThumbnails(frames),
  close: () => preview?.close(),
};

export type PreviewService = typeof service;

Comlink.expose(service);
