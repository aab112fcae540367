import { Biquad, highPass, lowPass, peaking } from './biquad';
import { limit, limiterReach, usualCeiling } from './limiter';
import { reach, readBetween } from './resample';
import { silence, type Stereo } from './stereo';
import { mixRate } from '../model/limits';
import { highest, lowest, type Settings, type SoundSource, type Voice } from './voice';

/** Reads samples of a source at the mix's rate, both channels, as arrays of the caller's own; beyond its ends there is silence. */
export type ReadSource = (source: SoundSource, from: number, count: number) => Promise<Stereo>;

/** Samples from one setting of a voice's filters to the next; its factors run straight between. */
const stride = 64;

/** Samples that are mixed before the first that is given, so that filters have swung in. */
const runUp = 9600;

/** Hz and Q at which a wall rings (taste). */
const wall = { frequency: 190, quality: 4 };

/** Hz from which a low-pass is left out altogether, and up to which a high-pass is. */
const openAbove = highest * 0.98;
const openBelow = lowest * 1.02;

/** Mixes a crossing's voices one stretch after the other, from a sample on. */
export class Mixer {
  private readonly runs: VoiceRun[];
  /** The next sample that is summed, and what is summed already but not given yet. */
  private summedTo: number;
  private ahead: Stereo;
  private givenTo: number;
  /** Highest sample of the sum so far, before it was limited, and the crossing sample it is. */
  highest = 0;
  highestAt = 0;

  private readonly gain: number;
  private readonly ceiling: number;

  /**
   * @param start crossing sample.
   * @param gain factor of the sum before it is limited; 1 where it is left out.
   * @param ceiling highest true peak that is let through, dBTP; the usual one where it is left out.
   */
  constructor(
    voices: readonly Voice[],
    private readonly read: ReadSource,
    start: number,
    { gain = 1, ceiling = usualCeiling }: { gain?: number; ceiling?: number } = {},
  ) {
    this.gain = gain;
    this.ceiling = ceiling;
    this.runs = voices.map((voice) => new VoiceRun(voice));
    this.givenTo = start;
    this.summedTo = start - limiterReach - runUp;
    this.ahead = silence(0);
  }

  /** The next samples of the sum, limited. */
  async next(count: number): Promise<Stereo> {
    const from = this.givenTo - limiterReach;
    const needed = from + count + 2 * limiterReach;
    while (this.summedTo < needed) {
      // The run-up is thrown away; what comes after is kept until it was given.
      const end = this.summedTo < from ? from : needed;
      const sum = await this.sum(this.summedTo, end - this.summedTo);
      this.ahead = this.summedTo < from ? silence(0) : joined(this.ahead, sum);
      this.summedTo = end;
    }
    for (const channel of this.ahead)
      for (let i = limiterReach; i < limiterReach + count; i++)
        if (channel[i] > this.highest || -channel[i] > this.highest) {
          this.highest = Math.abs(channel[i]);
          this.highestAt = from + i;
        }
    const out = limit(this.ahead, this.ceiling);
    this.ahead = this.ahead.map((channel) => channel.slice(count)) as unknown as Stereo;
    this.givenTo += count;
    return out;
  }

  private async sum(from: number, count: number): Promise<Stereo> {
    const sum = silence(count);
    for (const run of this.runs) await run.addTo(sum, from, this.read);
    if (this.gain !== 1) for (const channel of sum) for (let i = 0; i < count; i++) channel[i] *= this.gain;
    return sum;
  }
}

/** All of a stretch at once, limited. */
export function mixed(voices: readonly Voice[], read: ReadSource, from: number, count: number) {
  return new Mixer(voices, read, from).next(count);
}

/** A stretch of one voice as it sounds, after level, fades and filters; not limited. */
export async function soundOf(voice: Voice, read: ReadSource, from: number, count: number): Promise<Stereo> {
  const run = new VoiceRun(voice);
  await run.addTo(silence(runUp), from - runUp, read);
  const out = silence(count);
  await run.addTo(out, from, read);
  return out;
}

function joined(a: Stereo, b: Stereo): Stereo {
  return a.map((channel, side) => {
    const both = new Float32Array(channel.length + b[side].length);
    both.set(channel);
    both.set(b[side], channel.length);
    return both;
  }) as unknown as Stereo;
}

const sides = [0, 1] as const;

/** One voice with the memory of its filters. */
class VoiceRun {
  private readonly lowPasses = sides.map(() => new Biquad(lowPass(highest)));
  private readonly highPasses = sides.map(() => new Biquad(highPass(lowest)));
  private readonly rings = sides.map(() => new Biquad(peaking(wall.frequency, wall.quality, 0)));
  /** Its settings at a stride's beginning, worked out last. */
  private settings: { at: number; is: Settings } | null = null;

  constructor(private readonly voice: Voice) {}

  /** Adds its sound from a crossing sample on. */
  async addTo(sum: Stereo, from: number, read: ReadSource) {
    const { voice } = this;
    const start = Math.max(from, voice.from);
    const end = Math.min(from + sum[0].length, voice.to);
    if (end <= start) {
      this.settings = null;
      return;
    }
    const sound = await readVoice(voice, start, end - start, read);
    // Settings stand at the same samples wherever a stretch begins.
    for (let at = start; at < end;) {
      const grid = Math.floor(at / stride) * stride;
      const next = Math.min(end, grid + stride);
      this.shape(sound, start, at, next, grid);
      at = next;
    }
    for (const side of sides) {
      const [to, own, at] = [sum[side], sound[side], start - from];
      for (let i = 0; i < end - start; i++) to[at + i] += own[i];
    }
  }

  /** Filters and scales in place from one crossing sample to another, both from `grid` to the next stride. */
  private shape(sound: Stereo, start: number, from: number, to: number, grid: number) {
    const before = this.settings?.at === grid ? this.settings.is : this.voice.settingsAt(grid);
    const after = this.voice.settingsAt(grid + stride);
    this.settings = to === grid + stride ? { at: to, is: after } : { at: grid, is: before };
    const filtered = before.lowPass < openAbove;
    const cut = before.highPass > openBelow;
    const ringing = before.ring > 0.01;
    const [first, end] = [from - start, to - start];
    for (const side of sides) {
      const channel = sound[side];
      if (filtered) {
        this.lowPasses[side].set(lowPass(Math.min(highest, before.lowPass)));
        this.lowPasses[side].run(channel, first, end);
      }
      if (cut) {
        this.highPasses[side].set(highPass(before.highPass));
        this.highPasses[side].run(channel, first, end);
      }
      if (ringing) {
        this.rings[side].set(peaking(wall.frequency, wall.quality, before.ring));
        this.rings[side].run(channel, first, end);
      }
      const [a, b] = side === 0 ? [before.left, after.left] : [before.right, after.right];
      const slope = (b - a) / stride;
      if (slope !== 0) for (let i = first; i < end; i++) channel[i] *= a + slope * (i + start - grid);
      else if (a !== 1) for (let i = first; i < end; i++) channel[i] *= a;
    }
  }
}

/** A voice's samples as they come from its source, in the crossing's time. */
async function readVoice({ source, placeOf, plain }: Voice, from: number, count: number, read: ReadSource) {
  if (plain) return read(source, placeOf(from), count);
  // Places at strides, straight between: frames come far more seldom.
  const places = Float64Array.from({ length: Math.ceil(count / stride) + 1 }, (_, k) =>
    placeOf(from + k * stride),
  );
  const placeAt = (n: number) => {
    const k = Math.floor(n / stride);
    return places[k] + ((places[k + 1] ?? places[k]) - places[k]) * (n / stride - k);
  };
  let [low, high, speed] = [Infinity, -Infinity, 0];
  for (let k = 0; k < places.length; k++) {
    low = Math.min(low, places[k]);
    high = Math.max(high, places[k]);
    if (k > 0) speed = Math.max(speed, Math.abs(places[k] - places[k - 1]) / stride);
  }
  const margin = reach(mixRate, Math.max(1, speed));
  const first = Math.floor(low) - margin;
  const sound = await read(source, first, Math.ceil(high) + margin - first + 1);
  return sound.map((channel) =>
    readBetween(channel, (n) => placeAt(n) - first, count, mixRate, Math.max(1, speed)),
  ) as unknown as Stereo;
}
