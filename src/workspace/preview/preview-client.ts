import * as Comlink from 'comlink';
import { LRUCache } from 'lru-cache';
import type { RowChange } from '@/core/document/edit';
import type { CrossingDocument } from '@/core/document/tables';
import type { Look, PlayClock, PreviewEvent } from '@/render/preview';
import type { ShotMedia } from '@/wire/answers';
import type { PreviewService } from '@/render/preview.worker';
import { type Running, startWorker, told } from '@/interface/start-worker';
import { useDocument } from '../document/document-store';
import { followDocument } from '../document/follow-document';
import { setView, useView } from '../view/view-store';

/** Most thumbnails that the page keeps; at some 20 kB each. */
const mostThumbnails = 1500;

/** Height of a thumbnail in px of the screen's finest grain. */
export const thumbnailHeight = 54;

export type PlaybackEvent = Extract<PreviewEvent, { kind: 'playback' }>;

/** The result at a crossing frame, small. */
export interface Thumbnail {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

const startPreview = () =>
  startWorker<PreviewService>(
    new Worker(new URL('../../render/preview.worker.ts', import.meta.url), { type: 'module' }),
  );

/** A worker that waits for the crossing to be opened. */
let spare: Running<PreviewService> | null = null;

/** Has a worker ready for the crossing that is opened next: its code is read, and graphics have begun. */
export function readyPreview() {
  if (spare) return;
  const running = startPreview();
  spare = running;
  // One that cannot be had is none.
  running.failed.catch(() => {
    if (spare === running) spare = null;
  });
  void running.service.warm().catch(() => {});
}

/** The page's end of the preview worker: hands it the document and the view, and takes in what it tells. */
export class PreviewClient {
  private readonly running: Running<PreviewService>;
  /** What the worker shows as a draft. */
  private draft: readonly RowChange[] | null = null;
  private readonly service: Comlink.Remote<PreviewService>;
  private readonly thumbnails = new LRUCache<number, Thumbnail>({ max: mostThumbnails });
  private readonly thumbnailListeners = new Set<(frame: number) => void>();
  private readonly playbackListeners = new Set<(event: PlaybackEvent) => void>();
  private readonly stopListening: () => void;

  constructor(canvas: OffscreenCanvas, document: CrossingDocument, media: ShotMedia[]) {
    this.running = spare ?? startPreview();
    spare = null;
    this.service = this.running.service;
    this.running.failed.catch((error: Error) => setView({ failure: error.message, playing: false }));
    const tell = told((event: PreviewEvent) => this.hear(event));
    void this.service
      .open(Comlink.transfer(canvas, [canvas]), document, media, thumbnailHeight, tell)
      .catch((error: Error) => setView({ failure: error.message }));
    const fail = (error: Error) => setView({ failure: error.message });
    const stopShots = useDocument.subscribe((now, before) => {
      if (now.shots === before.shots) return;
      for (const media of now.shots)
        if (!before.shots.includes(media)) this.service.takeShot(media).catch(fail);
    });
    const stopEdits = followDocument(this.service, fail);
    this.stopListening = () => {
      stopShots();
      stopEdits();
    };
  }

  show(frame: number, look: Look) {
    void this.service.show(frame, look);
  }

  /** Changes how the picture looks while it plays. */
  setLook(look: Look) {
    void this.service.setLook(look);
  }

  /** Shows what a hand, or carrying, would change; of a draft that has only grown, what is new is sent. */
  setDraft(changes: Parameters<PreviewService['setDraft']>[0]) {
    const more = grownBy(this.draft, changes);
    this.draft = changes;
    if (more) void this.service.extendDraft(more);
    else void this.service.setDraft(changes);
  }

  play(clock: PlayClock | null) {
    void this.service.play(clock);
  }

  setClock(startedAt: number) {
    void this.service.setClock(startedAt);
  }

  pause() {
    void this.service.pause();
  }

  /** Asks for the thumbnails of these frames, drawn anew. */
  requestThumbnails(frames: number[]) {
    void this.service.requestThumbnails(frames);
  }

  thumbnail(frame: number): Thumbnail | null {
    return this.thumbnails.get(frame) ?? null;
  }

  onThumbnail(listener: (frame: number) => void): () => void {
    this.thumbnailListeners.add(listener);
    return () => this.thumbnailListeners.delete(listener);
  }

  /** Hears of every frame that is drawn while playing. */
  onPlayback(listener: (event: PlaybackEvent) => void): () => void {
    this.playbackListeners.add(listener);
    return () => this.playbackListeners.delete(listener);
  }

  close() {
    this.stopListening();
    this.running.end();
  }

  private hear(event: PreviewEvent) {
    switch (event.kind) {
      case 'shown':
        setView({ shown: event });
        return;
      case 'playback':
        if (useView.getState().playing)
          setView({ frame: event.frame, dropped: event.dropped, playedShare: event.share });
        this.playbackListeners.forEach((listener) => listener(event));
        return;
      case 'thumbnail':
        this.thumbnails.set(event.frame, event);
        this.thumbnailListeners.forEach((listener) => listener(event.frame));
        return;
      case 'coverage':
        setView({ coverage: event.coverage });
        return;
      case 'failed':
        setView({ failure: event.message, playing: false });
    }
  }
}

/** The changes by which a draft has grown, its others being the very same; null where it is another. */
export function grownBy(
  before: readonly RowChange[] | null,
  after: readonly RowChange[] | null,
): RowChange[] | null {
  if (!before || !after || before.length === 0 || after.length < before.length) return null;
  return before.every((change, k) => change === after[k]) ? after.slice(before.length) : null;
}
