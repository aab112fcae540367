import { drawPicture } from '@/core/compose/picture';
import { sceneAt, type View } from '@/core/compose/scene';
import type { CrossingDocument } from '@/core/document/document';
import { FrameCache } from '@/footage/frame-cache';
import { FrameSource } from '@/footage/frame-source';
import { Compositor } from '@/render/compositor';
import { PictureEngine } from '@/render/engine';
import type { ShotMedia } from '@/wire/answers';

/** Runs in the browser: the parts of Kiv that tests and bench reach without its pages. */
const harness = {
  /** The numbers read from the frames asked for, one after the other, and the time each took in ms. */
  async readNumbers(media: ShotMedia, frames: number[]) {
    const index = {
      timestamps: Float64Array.from(media.timestamps),
      keyFrames: Uint32Array.from(media.keyFrames),
    };
    const source = new FrameSource(media.shot.id, media.url, index, media.shot.colour, new FrameCache(40e6));
    const numbers: number[] = [];
    for (const frame of frames) {
      const { y, width, height } = await source.frame(frame);
      numbers.push(numberIn(y, width, height));
    }
    await source.close();
    return numbers;
  },

  /** Share of colour values that differ by more than one between compositor and CPU reference, and the largest difference. */
  async compare(document: CrossingDocument, media: ShotMedia[], frame: number, view: View, traced: string) {
    const engine = new PictureEngine(media, 200e6);
    const compositor = new Compositor(new OffscreenCanvas(16, 16));
    const { width, height } = document.crossing;
    const scene = sceneAt(document, engine.shots, frame, { view, traced });
    const layers = await engine.prepare(scene, 1);
    const drawn = new Uint8Array(width * height * 4);
    compositor.read(scene, layers, engine.shots, document.crossing, width, height, drawn);
    const reference = new Uint8Array(width * height * 4);
    const planesOf = (draw: { layerId: string }) =>
      layers.find((layer) => layer.draw.layerId === draw.layerId)!.planes;
    drawPicture(scene, engine.shots, document.crossing, planesOf, width, height, reference);
    let [off, largest, sum] = [0, 0, 0];
    for (let i = 0; i < drawn.length; i++) {
      const difference = Math.abs(drawn[i] - reference[i]);
      if (difference > 1) off++;
      largest = Math.max(largest, difference);
      sum += reference[i];
    }
    await engine.close();
    return { off: off / (width * height), largest, mean: sum / reference.length };
  },
};

/** A number drawn as 16 blocks, most significant bit first, along the top. */
function numberIn(luma: Uint8Array, width: number, height: number): number {
  const side = width / 16;
  let number = 0;
  for (let bit = 0; bit < 16; bit++) {
    const x = Math.floor((bit + 0.5) * side);
    number = number * 2 + (luma[Math.floor(height / 4) * width + x] > 128 ? 1 : 0);
  }
  return number;
}

export type Harness = typeof harness;

(globalThis as typeof globalThis & { harness: Harness }).harness = harness;
