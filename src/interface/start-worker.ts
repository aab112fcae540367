import * as Comlink from 'comlink';

/** A worker under way, with what it offers. */
export interface Running<S> {
  service: Comlink.Remote<S>;
  /** Rejects when the worker itself stops working; never resolves. */
  failed: Promise<never>;
  /** Ends it at once, whatever it is doing. */
  end(): void;
}

/**
 * The one way in which Kiv runs a worker: it is made, called through what it offers, and ended by whoever started it.
 * Progress comes by functions handed over with `told`, cancelling by a call of the service's own or by `end`.
 */
export function startWorker<S>(worker: Worker): Running<S> {
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = (event) => reject(new Error(event.message || 'A worker of Kiv’s has stopped.'));
  });
  // Whoever waits for it hears of it; nobody has to.
  failed.catch(() => {});
  return { service: Comlink.wrap<S>(worker), failed, end: () => worker.terminate() };
}

/** A function that a worker may call here. */
export function told<F extends (...args: never[]) => void>(hear: F): F {
  return Comlink.proxy(hear);
}
