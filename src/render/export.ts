import { sceneAt } from '@/core/compose/scene';
import { type CrossingDocument, playedLength, playedRange } from '@/core/document/document';
import { type ExportFormat, VideoWriter } from '@/footage/video-writer';
import { Compositor } from './compositor';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';

export interface ExportOrder {
  document: CrossingDocument;
  media: ShotMedia[];
  format: ExportFormat;
  /** Crossing frames added before the in and after the out. */
  handles: number;
}

const cacheBytes = 128e6;

/**
 * Draws every frame of a crossing from its in to its out as the preview draws it and encodes it.
 *
 * @param onProgress told how many frames of how many are written.
 * @param cancelled asked after every frame; when true, nothing is kept and null is returned.
 * @returns the file's bytes.
 * @throws Error when a frame cannot be decoded or the encoder fails.
 */
export async function exportCrossing(
  { document, media, format, handles }: ExportOrder,
  onProgress: (written: number, of: number) => void,
  cancelled: () => boolean,
): Promise<ArrayBuffer | null> {
  const { width, height, rateNum, rateDen } = document.crossing;
  const [first] = playedRange(document);
  const engine = new PictureEngine(media, cacheBytes);
  const compositor = new Compositor(new OffscreenCanvas(16, 16));
  const writer = new VideoWriter(format, width, height, { num: rateNum, den: rateDen });
  const rgba = new Uint8Array(width * height * 4);
  const total = playedLength(document) + 2 * handles;
  let finished = false;
  try {
    await writer.start();
    for (let k = 0; k < total; k++) {
      const scene = sceneAt(document, engine.shots, first + k - handles, { view: 'result', traced: null });
      const layers = await engine.prepare(scene, 1);
      compositor.read(scene, layers, engine.shots, document.crossing, width, height, rgba);
      await writer.add(rgba);
      onProgress(k + 1, total);
      if (cancelled()) return null;
    }
    const file = await writer.finish();
    finished = true;
    return file;
  } finally {
    if (!finished) await writer.cancel();
    await engine.close();
  }
}
