import * as Comlink from 'comlink';
import type { PeopleNetwork } from '@/core/subject/people';
import type { PeopleService } from './people.worker';

/** Samples of the network's picture, as `people.tflite` has it. */
const side = 256;
/** ms without a question after which the worker is ended: it holds about 150 MB (measured in Node). */
const idle = 60_000;

/** The network in a worker of its own: loaded when it is first asked, ended when nobody asks any more. */
export class PeopleClient implements PeopleNetwork {
  readonly width = side;
  readonly height = side;
  private running: ReturnType<typeof start> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asking = 0;
  private found: Promise<string | null> | null = null;

  /** Loads it; why it cannot be run here, as a sentence, or null. It is tried once. */
  blind(): Promise<string | null> {
    return (this.found ??= this.ask((service) => service.ready()).then(
      () => null,
      (error: unknown) => {
        console.warn('The network cannot be run:', error);
        return 'Kiv cannot find people in this browser: WebAssembly is blocked, or a file could not be loaded. Everything else works.';
      },
    ));
  }

  shares(rgb: Float32Array): Promise<Float32Array> {
    return this.ask((service) => service.shares(Comlink.transfer(rgb, [rgb.buffer])));
  }

  private async ask<T>(question: (service: Comlink.Remote<PeopleService>) => Promise<T>): Promise<T> {
    clearTimeout(this.timer);
    this.asking++;
    const { service, failure } = (this.running ??= start());
    try {
      return await Promise.race([question(service), failure]);
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

/** A worker, and a promise that rejects when it stops working. */
function start() {
  const worker = new Worker(new URL('./people.worker.ts', import.meta.url), { type: 'module' });
  const failure = new Promise<never>((_, reject) =>
    worker.addEventListener('error', ({ message }) =>
      reject(new Error(message || 'It could not be loaded.')),
    ),
  );
  // It may come while nothing is asked.
  failure.catch(() => {});
  return { worker, service: Comlink.wrap<PeopleService>(worker), failure };
}
