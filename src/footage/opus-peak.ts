import { truePeak } from '@/core/sound/loudness';
import { type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';
import { opusBitrate } from './sound-writer';

/** Samples that are looked at together: peaks between two blocks are seen in neither. */
const looked = mixRate;
/** Chunks that may wait in the encoder or the decoder. */
const mostWaiting = 50;

/** Highest true peak, as a factor of full scale, of a sound once it has been encoded as Opus and decoded again. */
export async function opusPeak(parts: AsyncIterable<Stereo>): Promise<number> {
  let peak = 0;
  let failure: Error | null = null;
  let gathered: Stereo = [new Float32Array(looked), new Float32Array(looked)];
  let filled = 0;
  const look = () => {
    peak = Math.max(peak, truePeak(gathered.map((each) => each.subarray(0, filled)) as unknown as Stereo));
    gathered = [new Float32Array(looked), new Float32Array(looked)];
    filled = 0;
  };
  const fail = (error: Error) => (failure = error);
  const decoder = new AudioDecoder({
    output(data) {
      for (let from = 0; from < data.numberOfFrames;) {
        const count = Math.min(looked - filled, data.numberOfFrames - from);
        for (const side of [0, 1]) {
          const planeIndex = Math.min(side, data.numberOfChannels - 1);
          const options = { planeIndex, frameOffset: from, frameCount: count, format: 'f32-planar' as const };
          data.copyTo(gathered[side].subarray(filled, filled + count), options);
        }
        from += count;
        filled += count;
        if (filled === looked) look();
      }
      data.close();
    },
    error: fail,
  });
  const settings = { codec: 'opus', sampleRate: mixRate, numberOfChannels: 2 };
  decoder.configure(settings);
  const encoder = new AudioEncoder({ output: (chunk) => decoder.decode(chunk), error: fail });
  encoder.configure({ ...settings, bitrate: opusBitrate });
  let at = 0;
  try {
    for await (const [left, right] of parts) {
      const data = new Float32Array(2 * left.length);
      data.set(left);
      data.set(right, left.length);
      const timestamp = Math.round((at * 1e6) / mixRate);
      const given = { format: 'f32-planar' as const, sampleRate: mixRate, numberOfChannels: 2, timestamp };
      const samples = new AudioData({ ...given, numberOfFrames: left.length, data });
      encoder.encode(samples);
      samples.close();
      at += left.length;
      while (!failure && encoder.encodeQueueSize + decoder.decodeQueueSize > mostWaiting)
        await new Promise((resolve) => setTimeout(resolve, 1));
      if (failure) throw failure;
    }
    await encoder.flush();
    await decoder.flush();
    look();
    return peak;
  } finally {
    if (encoder.state !== 'closed') encoder.close();
    if (decoder.state !== 'closed') decoder.close();
  }
}
