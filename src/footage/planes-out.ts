import type { StreamTargetChunk } from 'mediabunny';
import { planeSamples, type PlaneLayout, toDeepPlanes } from '@/core/colour/deep-planes';
import { ChunkedOut } from './chunked-out';
import type { Pixels } from './picture-zip';
import { spend } from './spent';
import { exportColour } from './video-writer';

/** What planes are of. */
interface PlaneFacts {
  width: number;
  height: number;
  layout: PlaneLayout;
}

/** Planes of 10 bits one right after the other, two bytes a sample, the lower one first: as ffmpeg takes raw video. */
export class PlanesOut {
  private readonly out: ChunkedOut;

  constructor(
    private readonly facts: PlaneFacts,
    sink: WritableStream<StreamTargetChunk>,
  ) {
    this.out = new ChunkedOut(sink);
  }

  async start() {
    // Nothing comes before the first picture.
  }

  /** @param pixels display values 0 to 1, four numbers a pixel, straight alpha. */
  async add(pixels: Pixels) {
    if (!(pixels instanceof Float32Array)) throw new TypeError('Planes are made of floats.');
    const { width, height, layout } = this.facts;
    const planes = new Uint16Array(planeSamples(width, height, layout));
    const converting = performance.now();
    toDeepPlanes(pixels, width, height, exportColour, layout, planes);
    spend('convert', converting);
    this.out.take(null, new Uint8Array(planes.buffer));
    await this.out.flushIfLarge();
  }

  finish(): Promise<void> {
    return this.out.finish();
  }

  cancel(): Promise<void> {
    return this.out.cancel();
  }
}
