import * as Comlink from 'comlink';
import type { PeopleNetwork } from '@/core/subject/people';
import type { PeopleService } from './people.worker';

/** Samples of the network's picture, as `people.tflite` has it. */
const side = 256;
/** ms without a question after which its worker is ended: it and its worker hold about 150 MB (in Node, where that was measured). */
const idle = 60_000;

/** The network in a worker of its own: loaded when it is first asked, ended when nobody asks any more. */
export class PeopleClient implements PeopleNetwork {
  readonly width = side;
  readonly height = side;
  private running: { worker: Worker; service: Comlink.Remote<PeopleService> } | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asking = 0;
  private found: Promise<string | null> | null = null;

  /** Loads it; why it cannot be run here, as a sentence, or null. It is tried once. */
  blind(): Promise<string | null> {
    return (this.found ??= this.ask((service) => service.ready()).then(
      () => null,
      (error: unknown) => {
        console.warn('People cannot be looked for:', error);
        return 'People cannot be looked for here: this browser does not let Kiv run what sees them (WebAssembly). All else works.';
      },
    ));
  }

  shares(rgb: Float32Array): Promise<Float32Array> {
    return this.ask((service) => service.shares(Comlink.transfer(rgb, [rgb.buffer])));
  }

  private async ask<T>(question: (service: Comlink.Remote<PeopleService>) => Promise<T>): Promise<T> {
    clearTimeout(this.timer);
    this.asking++;
    const { worker, service } = (this.running ??= start());
    try {
      return await Promise.race([question(service), failed(worker)]);
    } catch (error) {
      this.end();
      throw error;
    } finally {
      if (--this.asking === 0) this.timer = setTimeout(() => this.end(), idle);
    }
  }

  private end() {
    clearTimeout(this.timer);
    this.running?.worker.terminate();
    this.running = null;
  }
}

function start() {
  const worker = new Worker(new URL('./people.worker.ts', import.meta.url), { type: 'module' });
  return { worker, service: Comlink.wrap<PeopleService>(worker) };
}

/** Rejects when a worker stops working. */
function failed(worker: Worker): Promise<never> {
  return new Promise((_, reject) =>
    worker.addEventListener(
      'error',
      (event) => reject(new Error(event.message || 'It could not be loaded.')),
      { once: true },
    ),
  );
}
