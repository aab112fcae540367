import { ALL_FORMATS, AudioSampleSink, Input, type InputAudioTrack, UrlSource } from 'mediabunny';
import { LRUCache } from 'lru-cache';
import { toStereo } from '@/core/sound/downmix';
import { reach, toMixRate } from '@/core/sound/resample';
import { mixRate, silence, type Stereo } from '@/core/sound/stereo';

/** Samples of a block at the mix's rate: one second. */
const block = mixRate;
/** Blocks that are kept: two minutes, 46 MB. */
const mostBlocks = 120;
/** s that are decoded before what is wanted, as what is compressed needs what comes before it (Opus asks for 80 ms: RFC 7845, section 4.6). */
const runUp = 0.12;

/** A file's sound at the mix's rate, two channels, read wherever it is wanted. */
export class SoundReader {
  private readonly input: Input;
  private readonly blocks = new LRUCache<number, Promise<Stereo>>({ max: mostBlocks });
  private track: Promise<InputAudioTrack | null> | null = null;

  /** @param zero s of the file that are the sound's beginning: where a shot's first picture comes on. */
  constructor(
    url: string,
    private readonly zero = 0,
  ) {
    this.input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
  }

  /** Samples from a place on; silence beyond the ends, and where there is no sound. */
  async read(from: number, count: number): Promise<Stereo> {
    const out = silence(count);
    const first = Math.floor(from / block);
    const last = Math.floor((from + count - 1) / block);
    for (let k = Math.max(0, first); k <= last; k++) {
      const sound = await this.block(k);
      const start = Math.max(from, k * block);
      const end = Math.min(from + count, (k + 1) * block);
      sound.forEach((channel, side) =>
        out[side].set(channel.subarray(start - k * block, end - k * block), start - from),
      );
    }
    return out;
  }

  close() {
    this.input.dispose();
  }

  private block(k: number): Promise<Stereo> {
    let kept = this.blocks.get(k);
    if (!kept) {
      kept = this.decodeBlock(k);
      this.blocks.set(k, kept);
      kept.catch(() => this.blocks.delete(k));
    }
    return kept;
  }

  private async decodeBlock(k: number): Promise<Stereo> {
    this.track ??= this.input.getPrimaryAudioTrack();
    const track = await this.track;
    if (!track) return silence(block);
    const rate = await track.getSampleRate();
    const margin = reach(rate);
    // In the source's own samples, counted from the sound's beginning.
    const first = Math.floor((k * block * rate) / mixRate) - margin;
    const end = Math.ceil(((k + 1) * block * rate) / mixRate) + margin;
    const zero = this.zero * rate;
    let channels: Float32Array<ArrayBuffer>[] | null = null;
    let next: number | null = null;
    const sink = new AudioSampleSink(track);
    const from = (first + zero) / rate - runUp;
    for await (const sample of sink.samples(Math.max(0, from), (end + zero) / rate)) {
      channels ??= Array.from({ length: sample.numberOfChannels }, () => new Float32Array(end - first));
      const said = Math.round(sample.timestamp * rate - zero);
      // Times in some files are rounded to the millisecond: what follows, follows.
      const at: number = next !== null && Math.abs(said - next) < rate * 0.0015 ? next : said;
      next = at + sample.numberOfFrames;
      copy(sample, channels, at - first);
      sample.close();
    }
    if (!channels) return silence(block);
    return toStereo(channels).map((channel) =>
      toMixRate(channel, rate, first, k * block, block),
    ) as unknown as Stereo;
  }
}

/** Copies a decoded sample's channels to a place, as far as it lies within. */
function copy(
  sample: {
    numberOfFrames: number;
    numberOfChannels: number;
    copyTo: (to: Float32Array<ArrayBuffer>, options: { planeIndex: number; format: 'f32-planar' }) => void;
  },
  channels: readonly Float32Array<ArrayBuffer>[],
  at: number,
) {
  const skip = Math.max(0, -at);
  const end = Math.min(sample.numberOfFrames, channels[0].length - at);
  if (end <= skip) return;
  const plane = new Float32Array(sample.numberOfFrames);
  channels.forEach((channel, c) => {
    if (c >= sample.numberOfChannels) return;
    sample.copyTo(plane, { planeIndex: c, format: 'f32-planar' });
    channel.set(plane.subarray(skip, end), at + skip);
  });
}
