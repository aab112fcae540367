import {
  AudioSample,
  AudioSampleSource,
  BufferTarget,
  Output,
  StreamTarget,
  type StreamTargetChunk,
  WavOutputFormat,
} from 'mediabunny';
import { mixRate, type Stereo } from '@/core/sound/stereo';

/** Bits a second of Opus: more than what RFC 7587 calls transparent for stereo music (section 3.1.1). */
export const opusBitrate = 192_000;
/** Length of an Opus packet as browsers write it, s. */
const opusPacket = 0.02;

/** A track of Opus for a file that holds pictures too. */
export function opusSource(): AudioSampleSource {
  return new AudioSampleSource({ codec: 'opus', bitrate: opusBitrate });
}

/** Most packets of Opus that so many seconds take. */
export const opusPackets = (seconds: number) => Math.ceil(seconds / opusPacket) + 8;

/** Hands a stretch of sound to a track. @param at the sample it begins with. */
export async function addSound(source: AudioSampleSource, sound: Stereo, at: number) {
  const count = sound[0].length;
  const data = new Float32Array(2 * count);
  sound.forEach((channel, side) => data.set(channel, side * count));
  const sample = new AudioSample({
    data,
    format: 'f32-planar',
    numberOfChannels: 2,
    sampleRate: mixRate,
    timestamp: at / mixRate,
  });
  try {
    await source.add(sample);
  } finally {
    sample.close();
  }
}

/** Bytes that are gathered before they are written out. */
const chunkSize = 1024 * 1024;

/** A WAV file with 24 bits, written out as it grows. */
export class WavWriter {
  private readonly output: Output;
  private readonly source = new AudioSampleSource({ codec: 'pcm-s24' });
  private readonly buffer: BufferTarget | null;
  private written = 0;

  /** @param sink takes pieces of the file, each with its place; null: the whole is kept, for {@link bytes}. */
  constructor(sink: WritableStream<StreamTargetChunk> | null) {
    this.buffer = sink ? null : new BufferTarget();
    this.output = new Output({
      format: new WavOutputFormat(),
      target: sink ? new StreamTarget(sink, { chunked: true, chunkSize }) : this.buffer!,
    });
    this.output.addAudioTrack(this.source);
  }

  start(): Promise<void> {
    return this.output.start();
  }

  async add(sound: Stereo) {
    await addSound(this.source, sound, this.written);
    this.written += sound[0].length;
  }

  async finish() {
    await this.output.finalize();
  }

  async cancel() {
    await this.output.cancel();
  }

  /** The finished file, where there is no sink. */
  bytes(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(this.buffer!.buffer!);
  }
}
