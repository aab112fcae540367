import * as Comlink from 'comlink';
import { exportCrossing, type ExportOrder } from './export';

let stop = false;

const service = {
  async run(
    order: ExportOrder,
    onProgress: (written: number, of: number) => void,
  ): Promise<ArrayBuffer | null> {
    stop = false;
    const file = await exportCrossing(order, onProgress, () => stop);
    return file && Comlink.transfer(file, [file]);
  },
  cancel() {
    stop = true;
  },
};

export type ExportService = typeof service;

Comlink.expose(service);
