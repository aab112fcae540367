import {
  AudioSample,
  AudioSampleSource,
  Output,
  StreamTarget,
  type StreamTargetChunk,
  WavOutputFormat,
} from 'mediabunny';
import { type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';

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
  private written = 0;

  /** @param sink takes pieces of the file, each with its place. */
  constructor(sink: WritableStream<StreamTargetChunk>) {
    this.output = new Output({
      format: new WavOutputFormat(),
      target: new StreamTarget(sink, { chunked: true, chunkSize }),
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
}

/** Bytes of a sample of both sides, 24 bits each. */
const sampleBytes = 6;

/**
 * A WAV file with 24 bits from its beginning to its end, where its length is known before: the header of Microsoft's
 * *Multimedia Programming Interface and Data Specifications* (1991), then the samples.
 *
 * @param length samples; the parts hold as many together. Under 4 GiB.
 */
export async function* wavOf(length: number, parts: AsyncIterable<Stereo>): AsyncGenerator<Uint8Array> {
  const header = new DataView(new ArrayBuffer(44));
  const put = (at: number, text: string) =>
    [...text].forEach((letter, k) => header.setUint8(at + k, letter.charCodeAt(0)));
  put(0, 'RIFF');
  header.setUint32(4, 36 + length * sampleBytes, true);
  put(8, 'WAVEfmt ');
  header.setUint32(16, 16, true);
  header.setUint16(20, 1, true);
  header.setUint16(22, 2, true);
  header.setUint32(24, mixRate, true);
  header.setUint32(28, mixRate * sampleBytes, true);
  header.setUint16(32, sampleBytes, true);
  header.setUint16(34, 24, true);
  put(36, 'data');
  header.setUint32(40, length * sampleBytes, true);
  yield new Uint8Array(header.buffer);
  for await (const sound of parts) yield samplesOf24Bits(sound);
}

function samplesOf24Bits(sound: Stereo): Uint8Array {
  const bytes = new Uint8Array(sound[0].length * sampleBytes);
  sound.forEach((channel, side) => {
    for (let i = 0, at = 3 * side; i < channel.length; i++, at += sampleBytes) {
      const value = Math.round(Math.min(1, Math.max(-1, channel[i])) * 0x7fffff);
      bytes[at] = value;
      bytes[at + 1] = value >> 8;
      bytes[at + 2] = value >> 16;
    }
  });
  return bytes;
}
