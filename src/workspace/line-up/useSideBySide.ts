import * as Comlink from 'comlink';
import { useEffect, useState } from 'react';
import type { CrossingDocument } from '@/core/document/tables';
import { sentenceOf } from '@/interface/api';
import { type Running, startWorker, told } from '@/interface/start-worker';
import type { SideBySideEvent } from '@/render/side-by-side';
import type { SideBySideService } from '@/render/side-by-side.worker';
import type { ShotMedia } from '@/wire/answers';

/** Height of each picture, px of the page. */
export const pictureHeight = 216;

interface Told {
  /** The crossing frame that all of them show; null until they do. */
  shown: number | null;
  /** The one that is asked for at rest, or shown. */
  frame: number | null;
  /** Frames left out since playing began. */
  leftOut: number;
  /** Whether the pictures of the frame that is shown had to be read first. */
  waited: boolean;
  failure: string | null;
}

/** Several pictures of a crossing, played in step by a worker of their own. */
export interface SideBySidePictures extends Told {
  playing: boolean;
  play(on: boolean): void;
  /** Shows a frame at rest. */
  show(frame: number): void;
  client: SideBySideClient;
}

/** @param range first and last crossing frame that is played; those of the first time count. */
export function useSideBySide(range: readonly [first: number, last: number]): SideBySidePictures {
  const [client] = useState(() => new SideBySideClient(range));
  const [state, setState] = useState<Told>({
    ...{ shown: null, frame: null, leftOut: 0, waited: false, failure: null },
  });
  const [playing, setPlaying] = useState(false);
  useEffect(() => {
    client.hear((event) => {
      // What cannot be shown does not play on.
      if (event.kind === 'failed') setPlaying(false);
      setState((now) => {
        if (event.kind === 'failed') return { ...now, failure: event.message };
        const { frame, leftOut, waited } = event;
        return { shown: frame, frame: client.asked ?? frame, leftOut, waited, failure: null };
      });
    });
    return () => client.close();
  }, [client]);
  return {
    ...{ ...state, playing, client },
    play(on) {
      client.play(on);
      setPlaying(on);
    },
    show(frame) {
      client.show(frame);
      setPlaying(false);
      setState((now) => ({ ...now, frame }));
    },
  };
}

/** The page's end of the worker, which is started when it is first needed. */
class SideBySideClient {
  private running: Running<SideBySideService> | null = null;
  private readonly taken = new Set<ShotMedia>();
  /** The frame that is to be shown at rest: what was shown before it may still be told of. */
  asked: number | null = null;
  private tell: (event: SideBySideEvent) => void = () => undefined;

  constructor(private readonly range: readonly [first: number, last: number]) {}

  hear(tell: (event: SideBySideEvent) => void) {
    this.tell = tell;
  }

  /** Shows a crossing of these shots on a new canvas, or where none is given on the one that it has. */
  put(key: string, document: CrossingDocument, shots: readonly ShotMedia[], canvas?: HTMLCanvasElement) {
    for (const media of shots) {
      if (this.taken.has(media)) continue;
      this.taken.add(media);
      this.ask((service) => service.takeShot(media));
    }
    const offscreen = canvas?.transferControlToOffscreen() ?? null;
    this.ask((service) => service.put(key, document, offscreen && Comlink.transfer(offscreen, [offscreen])));
  }

  drop(key: string) {
    if (this.running) this.ask((service) => service.drop(key));
  }

  play(on: boolean) {
    this.asked = null;
    this.ask((service) => (on ? service.play() : service.pause()));
  }

  show(frame: number) {
    if (this.asked === null) this.play(false);
    this.asked = frame;
    this.ask((service) => service.show(frame));
  }

  close() {
    this.running?.end();
    this.running = null;
    this.taken.clear();
  }

  private ask(what: (service: Running<SideBySideService>['service']) => Promise<unknown>) {
    this.running ??= this.start();
    what(this.running.service).catch(this.fail);
  }

  private start(): Running<SideBySideService> {
    const running = startWorker<SideBySideService>(
      new Worker(new URL('../../render/side-by-side.worker.ts', import.meta.url), { type: 'module' }),
    );
    running.failed.catch(this.fail);
    const height = Math.round(pictureHeight * window.devicePixelRatio);
    running.service
      .open(
        this.range,
        height,
        told((event: SideBySideEvent) => this.tell(event)),
      )
      .catch(this.fail);
    return running;
  }

  private readonly fail = (error: unknown) => this.tell({ kind: 'failed', message: sentenceOf(error) });
}
