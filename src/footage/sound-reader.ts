import {
  ALL_FORMATS,
  type AudioSample,
  AudioSampleSink,
  Input,
  type InputAudioTrack,
  UrlSource,
} from 'mediabunny';
import { LRUCache } from 'lru-cache';
import { type Pair, toPair, toStereo } from '@/core/sound/downmix';
import { reach, toMixRate } from '@/core/sound/resample';
import { silence, type Stereo } from '@/core/sound/stereo';
import { mixRate } from '@/core/model/limits';

/** Samples of a block at the mix's rate: one second. */
const block = mixRate;
/** Blocks that are kept: two minutes, 46 MB. */
const mostBlocks = 120;
/** s that are decoded before what is wanted, as what is compressed needs what comes before it. */
const runUp = 0.12;

/** A file's sound at the mix's rate, two channels, read wherever it is wanted. */
export class SoundReader {
  private readonly input: Input;
  private readonly blocks = new LRUCache<string, Promise<Stereo>>({ max: mostBlocks });
  private track: Promise<InputAudioTrack | null> | null = null;
  private run: RunFromStart | null = null;
  private decoding: Promise<unknown> = Promise.resolve();

  /** @param zero s of the file that are the sound's beginning: where a shot's first picture comes on. */
  constructor(
    url: string,
    private readonly zero = 0,
  ) {
    this.input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
  }

  /**
   * Samples from a place on; silence beyond the ends, and where there is no sound.
   *
   * @param pair of the channels that are kept in 5.1; null: all of them, mixed to two.
   */
  async read(from: number, count: number, pair: Pair | null = null): Promise<Stereo> {
    const out = silence(count);
    const first = Math.floor(from / block);
    const last = Math.floor((from + count - 1) / block);
    for (let k = Math.max(0, first); k <= last; k++) {
      const sound = await this.block(k, pair);
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

  private block(k: number, pair: Pair | null): Promise<Stereo> {
    const name = `${k} ${pair ?? ''}`;
    let kept = this.blocks.get(name);
    if (!kept) {
      kept = this.decodeBlock(k, pair);
      this.blocks.set(name, kept);
      kept.catch(() => this.blocks.delete(name));
    }
    return kept;
  }

  private async decodeBlock(k: number, pair: Pair | null): Promise<Stereo> {
    this.track ??= this.input.getPrimaryAudioTrack();
    const track = await this.track;
    if (!track) return silence(block);
    const rate = await track.getSampleRate();
    const margin = reach(rate);
    // In the source's own samples, counted from the sound's beginning.
    const first = Math.floor((k * block * rate) / mixRate) - margin;
    const end = Math.ceil(((k + 1) * block * rate) / mixRate) + margin;
    const channels = await this.decode(track, rate, first, end);
    if (!channels) return silence(block);
    return (pair ? toPair(channels, pair) : toStereo(channels)).map((channel) =>
      toMixRate(channel, rate, first, k * block, block),
    ) as unknown as Stereo;
  }

  /** Decoded samples from `first` to before `end`, each channel by itself; null where there are none. */
  private async decode(track: InputAudioTrack, rate: number, first: number, end: number) {
    const zero = this.zero * rate;
    if (startsAnywhere(await track.getCodec())) {
      const sink = new AudioSampleSink(track);
      const from = Math.max(0, (first + zero) / rate - runUp);
      const channels: Float32Array<ArrayBuffer>[] = [];
      for await (const { at, sample } of placed(sink.samples(from, (end + zero) / rate), zero)) {
        while (channels.length < sample.numberOfChannels) channels.push(new Float32Array(end - first));
        copy(sample, channels, at - first);
        sample.close();
      }
      return channels.length > 0 ? channels : null;
    }
    // One after the other, as there is one place that decoding has come to.
    const work = this.decoding.then(async () => {
      if (!this.run || first < this.run.from) {
        await this.run?.end();
        this.run = new RunFromStart(new AudioSampleSink(track).samples(), zero);
      }
      return this.run.take(first, end);
    });
    this.decoding = work.catch(() => (this.run = null));
    return work;
  }
}

/**
 * Whether a decoder that begins in the middle gives every sample its place. Opus leaves out the stream's pre-skip, and
 * Vorbis its first packet, wherever they begin, so that all that follows comes too early.
 */
const startsAnywhere = (codec: string | null) => codec !== 'opus' && codec !== 'vorbis';

/** Decoded samples with their place, in samples; their times may be rounded to the millisecond: what follows, follows. */
async function* placed(samples: AsyncGenerator<AudioSample>, zero: number) {
  let next: number | null = null;
  for await (const sample of samples) {
    const said = Math.round(sample.timestamp * sample.sampleRate - zero);
    const at: number = next !== null && Math.abs(said - next) < sample.sampleRate * 0.0015 ? next : said;
    next = at + sample.numberOfFrames;
    yield { at, sample };
  }
}

/** Decodes a sound from its beginning on, and holds what was decoded last. */
class RunFromStart {
  /** The first sample that is still held. */
  from = -Infinity;
  private held: { at: number; channels: Float32Array<ArrayBuffer>[] }[] = [];
  private to = -Infinity;
  private over = false;
  private readonly samples: ReturnType<typeof placed>;

  constructor(samples: AsyncGenerator<AudioSample>, zero: number) {
    this.samples = placed(samples, zero);
  }

  /** Samples from `first` to before `end`; what lies before them is let go. */
  async take(first: number, end: number): Promise<Float32Array<ArrayBuffer>[] | null> {
    while (!this.over && this.to < end) {
      const { value, done } = await this.samples.next();
      if (done) this.over = true;
      else {
        const { at, sample } = value;
        const channels = Array.from(
          { length: sample.numberOfChannels },
          () => new Float32Array(sample.numberOfFrames),
        );
        copy(sample, channels, 0);
        this.held.push({ at, channels });
        this.to = at + sample.numberOfFrames;
        sample.close();
      }
    }
    this.held = this.held.filter(({ at, channels }) => at + channels[0].length > first);
    this.from = first;
    if (this.held.length === 0) return null;
    return this.held[0].channels.map((_, c) => {
      const out = new Float32Array(end - first);
      for (const { at, channels } of this.held) {
        const skip = Math.max(0, first - at);
        const count = Math.min(channels[c].length, end - at);
        if (count > skip) out.set(channels[c].subarray(skip, count), at + skip - first);
      }
      return out;
    });
  }

  async end() {
    await this.samples.return(undefined);
  }
}

/** Copies a decoded sample's channels to a place, as far as it lies within. */
function copy(sample: AudioSample, channels: readonly Float32Array<ArrayBuffer>[], at: number) {
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
