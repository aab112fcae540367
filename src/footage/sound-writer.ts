import { AudioSample, AudioSampleSource } from 'mediabunny';
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

/** Bits of a sample, and its bytes. */
const [bits, sampleBytes] = [24, 3];

/** What a WAV file is of. */
export interface WavFacts {
  /** Samples at the mix's rate; the parts hold as many together. */
  length: number;
  /** Samples since midnight with which it begins; null: the file does not say. */
  timeReference: number | null;
  channels: number;
}

/** Speakers of a WAV file with more than two channels: left, right, centre, low effects, left and right surround. */
const surroundMask = 0x60f;
/** Bytes of a `bext` chunk without a history of coding (EBU Tech 3285, section 2.3). */
const extensionLength = 602;

/**
 * A WAV file with 24 bits from its beginning to its end, where its length is known before: the header of Microsoft's
 * *Multimedia Programming Interface and Data Specifications* (1991), with six channels its extensible form, and a `bext`
 * chunk (EBU Tech 3285) where it has a time; then the samples. The same sound makes the same file: it has no date.
 *
 * @throws RangeError for 4 GiB or more.
 */
export async function* wavOf(
  { length, timeReference, channels }: WavFacts,
  parts: AsyncIterable<readonly Float32Array[]>,
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const dataLength = length * sampleBytes * channels;
  const extensible = channels > 2;
  const formatLength = extensible ? 40 : 16;
  const extension = timeReference === null ? 0 : 8 + extensionLength;
  const header = new DataView(new ArrayBuffer(12 + extension + 8 + formatLength + 8));
  const padding = dataLength % 2;
  const riffLength = header.byteLength - 8 + dataLength + padding;
  if (riffLength >= 2 ** 32)
    throw new RangeError('A WAV file of 4 GiB or more cannot be written. Export a shorter range.');
  let at = 0;
  const text = (letters: string) => {
    for (const letter of letters) header.setUint8(at++, letter.charCodeAt(0));
  };
  const short = (value: number) => {
    header.setUint16(at, value, true);
    at += 2;
  };
  const long = (value: number) => {
    header.setUint32(at, value, true);
    at += 4;
  };
  text('RIFF');
  long(riffLength);
  text('WAVE');
  if (timeReference !== null) {
    text('bext');
    long(extensionLength);
    const chunk = at;
    at += 256;
    text('Kiv');
    at = chunk + 338;
    header.setBigUint64(at, BigInt(timeReference), true);
    at += 8;
    short(1);
    at = chunk + extensionLength;
  }
  text('fmt ');
  long(formatLength);
  short(extensible ? 0xfffe : 1);
  short(channels);
  long(mixRate);
  long(mixRate * sampleBytes * channels);
  short(sampleBytes * channels);
  short(bits);
  if (extensible) {
    short(22);
    short(bits);
    long(surroundMask);
    // KSDATAFORMAT_SUBTYPE_PCM: 00000001-0000-0010-8000-00AA00389B71.
    long(1);
    for (const value of [0x0000, 0x0010, 0x0080, 0xaa00, 0x3800, 0x719b]) short(value);
  }
  text('data');
  long(dataLength);
  yield new Uint8Array(header.buffer);
  for await (const sound of parts) yield samplesOf24Bits(sound);
  if (padding) yield new Uint8Array(1);
}

function samplesOf24Bits(sound: readonly Float32Array[]): Uint8Array<ArrayBuffer> {
  const stride = sound.length * sampleBytes;
  const bytes = new Uint8Array(sound[0].length * stride);
  sound.forEach((channel, side) => {
    for (let i = 0, at = sampleBytes * side; i < channel.length; i++, at += stride) {
      const value = Math.round(Math.min(1, Math.max(-1, channel[i])) * 0x7fffff);
      bytes[at] = value;
      bytes[at + 1] = value >> 8;
      bytes[at + 2] = value >> 16;
    }
  });
  return bytes;
}
