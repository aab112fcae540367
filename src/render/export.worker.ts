import * as Comlink from 'comlink';
import type { PictureOf } from '@/core/formats/export-formats';
import type { OnWaiting } from './export-sink';
import { exportCrossing, type ExportDone, type ExportOrder, stillOf } from './export';

const abort = new AbortController();

const service = {
  run(
    order: ExportOrder,
    onBegun: (id: string) => void,
    onProgress: (written: number, of: number) => void,
    onWaiting?: OnWaiting,
  ): Promise<ExportDone> {
    return exportCrossing(order, onBegun, onProgress, abort.signal, onWaiting);
  },
  /** One frame as a PNG. */
  async still(order: Pick<ExportOrder, 'document' | 'media'>, frame: number, of: PictureOf) {
    const png = await stillOf(order, frame, of);
    return Comlink.transfer(png, [png.buffer]);
  },
  cancel() {
    abort.abort();
  },
};

export type ExportService = typeof service;

Comlink.expose(service);
