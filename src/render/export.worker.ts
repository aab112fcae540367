import * as Comlink from 'comlink';
import { exportCrossing, type ExportOrder } from './export';

const abort = new AbortController();

const service = {
  /** @returns the id of the export. */
  run(
    order: ExportOrder,
    onBegun: (id: string) => void,
    onProgress: (written: number, of: number) => void,
  ): Promise<string> {
    return exportCrossing(order, onBegun, onProgress, abort.signal);
  },
  cancel() {
    abort.abort();
  },
};

export type ExportService = typeof service;

Comlink.expose(service);
