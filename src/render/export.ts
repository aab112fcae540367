import { sceneAt } from '@/core/compose/scene';
import { type CrossingDocument, playedLength, playedRange } from '@/core/document/document';
import { type ExportFormat, VideoWriter } from '@/footage/video-writer';
import { Compositor } from './compositor';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';
import { ExportSink } from './export-sink';

export interface ExportOrder {
  document: CrossingDocument;
  media: ShotMedia[];
  /** The document's revision on the server. */
  revision: number;
  format: ExportFormat;
  /** Crossing frames added before the in and after the out. */
  handles: number;
}

const cacheBytes = 128e6;

/**
 * Draws every frame of a crossing from its in to its out as the preview draws it, encodes it, and stores the file on
 * the server as it grows.
 *
 * @param onBegun told the id that the export will have.
 * @param onProgress told how many frames of how many are written.
 * @param signal aborted, nothing is kept.
 * @returns the export's id.
 * @throws Error when a frame cannot be decoded, the encoder fails, or the server refuses; nothing is kept then.
 */
export async function exportCrossing(
  { document, media, revision, format, handles }: ExportOrder,
  onBegun: (id: string) => void,
  onProgress: (written: number, of: number) => void,
  signal: AbortSignal,
): Promise<string> {
  const { id: crossingId, width, height, rateNum, rateDen } = document.crossing;
  const [first] = playedRange(document);
  const total = playedLength(document) + 2 * handles;
  const sink = await ExportSink.begin({ crossingId, revision, format, frameCount: total }, signal);
  onBegun(sink.id);
  const engine = new PictureEngine(media, cacheBytes);
  const compositor = new Compositor(new OffscreenCanvas(16, 16));
  const rate = { num: rateNum, den: rateDen };
  const writer = new VideoWriter(format, width, height, rate, total, sink.stream());
  const rgba = new Uint8Array(width * height * 4);
  let finished = false;
  try {
    await writer.start();
    for (let k = 0; k < total; k++) {
      const scene = sceneAt(document, engine.shots, first + k - handles, { view: 'result', traced: null });
      const layers = await engine.prepare(scene, 1);
      compositor.read(scene, layers, engine.shots, document.crossing, width, height, rgba);
      await writer.add(rgba);
      onProgress(k + 1, total);
      signal.throwIfAborted();
    }
    await writer.finish();
    await sink.finish();
    finished = true;
    return sink.id;
  } finally {
    if (!finished) {
      await writer.cancel().catch(() => {
        // What made it fail is thrown already.
      });
      await sink.cancel();
    }
    await engine.close();
  }
}
