import { Input, UrlSource } from 'mediabunny';
import type { VideoColour } from '@/core/model/shot';
import type { PicturePlanes } from '@/core/picture/planes';
import { frameOfTimestamp } from '@/core/time/frame-index';
import { boundedSink } from './bounded-sink';
import { containerFormats } from './facts';
import { copyPlanes } from './planes-of-sample';

/** Bytes of the file that are held. */
const heldBytes = 16 * 1024 * 1024;

/**
 * Every so many pictures of a film, in order and once: nothing is kept, and what is passed over is decoded and not copied.
 *
 * @param every 1: all of them.
 * @throws Error when the pictures cannot be decoded.
 */
export async function* everyPicture(
  { url, timestamps }: { url: string; timestamps: readonly number[] },
  colour: VideoColour,
  every: number,
): AsyncGenerator<{ frame: number; planes: PicturePlanes }, void, undefined> {
  const index = { timestamps: Float64Array.from(timestamps), keyFrames: new Uint32Array(0) };
  const input = new Input({
    source: new UrlSource(url, { maxCacheSize: heldBytes }),
    formats: containerFormats,
  });
  try {
    const track = await input.getPrimaryVideoTrack();
    if (!track || !(await track.canDecode()))
      throw new Error('This browser cannot decode the shot’s pictures.');
    let wanted = 0;
    for await (const sample of (await boundedSink(track)).samples()) {
      try {
        const frame = frameOfTimestamp(index, sample.timestamp);
        if (frame < wanted) continue;
        // A picture that the file lacks is stood in for by the next.
        for (const planes = await copyPlanes(sample, colour); wanted <= frame; wanted += every)
          yield { frame: wanted, planes };
      } finally {
        sample.close();
      }
    }
  } finally {
    input.dispose();
  }
}
