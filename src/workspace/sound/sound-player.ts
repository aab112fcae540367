import type * as Comlink from 'comlink';
import { sampleOfFrame, samplesPerFrame } from '@/core/sound/behind';
import { mixRate } from '@/core/model/limits';
import type { Rate } from '@/core/model/time';
import type { MixedPart } from '@/render/sound';
import type { SoundService } from '@/render/sound.worker';

/** Samples that are mixed at once: 100 ms. */
const partLength = 4800;
/** Samples that are mixed first: as much as is wanted ahead, since each part is a way there and back that a busy page draws out. */
const firstLength = 4 * partLength;
/** s by which sound is mixed ahead of what is heard. */
const lead = 0.4;
/** s from asking for sound to its first sample, so that it has been mixed by then. */
const onset = 0.08;
/** s from a change to where it is put in: what comes later than that is heard from its middle on. */
const changeOnset = 0.025;
/** ms between two looks whether more is needed. */
const lookEvery = 30;
/** Readings of the clocks that are kept: of about two seconds. */
const clockReadings = 61;
/** s over which sound goes out when playback is stopped. */
const goingOut = 0.012;

/** What plays: crossing frames from the first, in a loop. */
export interface Loop {
  /** The frame it begins on. */
  frame: number;
  /** First and last frame of the loop. */
  range: readonly [first: number, last: number];
  rate: Rate;
}

/** How loud it is, and when that is heard, by the audio clock. */
export interface MeterReading extends Pick<MixedPart, 'peaks' | 'momentary'> {
  from: number;
  to: number;
}

/** Plays a crossing's sound in a loop, mixed a little ahead in a worker; its clock leads the picture. */
export class SoundPlayer {
  private context: AudioContext | null = null;
  private out: GainNode | null = null;
  private loop: Loop | null = null;
  /** Counts starts and stops. */
  private session = 0;
  /** Counts those and changes, so that an older part that comes late is not heard. */
  private run = 0;
  /** Time of the audio clock at which the first sample is heard. */
  private startTime = 0;
  /** The next sample to be scheduled, counted from the start of playback. */
  private next = 0;
  /** The crossing sample that the mixer goes on with. */
  private mixerAt = -1;
  private readonly scheduled = new Set<{ node: AudioBufferSourceNode; from: number; to: number }>();
  private readings: MeterReading[] = [];
  /** ms between the audio clock and that of the page, as read lately. */
  private apart: number[] = [];

  constructor(
    private readonly service: Comlink.Remote<SoundService>,
    private readonly alone: () => string | null,
  ) {}

  /**
   * Starts; resolves once the first part is on its way to the speakers.
   *
   * @returns when the first sample is heard, ms since the epoch; null when it was stopped meanwhile.
   */
  async start(loop: Loop): Promise<number | null> {
    const session = ++this.session;
    const run = ++this.run;
    const context = await this.opened();
    if (this.session !== session) return null;
    this.silence();
    this.loop = loop;
    this.next = 0;
    this.mixerAt = -1;
    this.startTime = atSample(context.currentTime + onset);
    const part = await this.mixPart(0, firstLength);
    if (this.session !== session || !part) return null;
    // Something was changed meanwhile: what is heard is mixed by that already.
    if (this.run === run) {
      // Mixing took longer than it had: all begins later.
      this.startTime = Math.max(this.startTime, atSample(context.currentTime + 0.02));
      this.schedule(part, 0);
      void this.goOn(run);
    }
    return this.heardAt(this.startTime);
  }

  /** When the first sample was heard, by the clock as it is now. */
  startedAt(): number | null {
    return this.loop && this.heardAt(this.startTime);
  }

  /** Where playback is, in frames from where it began, at a moment in ms since the epoch. */
  framesAt(moment: number): number | null {
    const started = this.startedAt();
    if (started === null || !this.loop) return null;
    return ((moment - started) / 1000 / samplesPerFrame(this.loop.rate)) * mixRate;
  }

  /** Mixes anew what is not heard yet, as after a change. */
  async changed() {
    const { context, loop } = this;
    if (!context || !loop) return;
    const run = ++this.run;
    const from = Math.max(0, Math.ceil((context.currentTime + changeOnset - this.startTime) * mixRate));
    this.mixerAt = -1;
    const part = await this.mixPart(from, firstLength);
    if (this.run !== run || !part) return;
    const cut = this.startTime + from / mixRate;
    for (const each of [...this.scheduled]) {
      if (each.to <= cut) continue;
      each.node.stop(Math.max(context.currentTime, cut));
      if (each.from >= cut) this.scheduled.delete(each);
    }
    this.readings = this.readings.filter((each) => each.from < cut);
    this.next = from;
    this.schedule(part, from);
    void this.goOn(run);
  }

  stop() {
    this.session++;
    this.run++;
    this.loop = null;
    this.silence();
  }

  /** A frame's worth of sound, as when stepping. */
  async blip(frame: number, rate: Rate) {
    if (this.loop) return;
    const session = ++this.session;
    const context = await this.opened();
    const from = sampleOfFrame(frame, rate);
    const part = await this.service.start(from, sampleOfFrame(frame + 1, rate) - from, this.alone());
    if (this.session !== session || !part) return;
    this.silence();
    const ends = Math.min(240, part.sound[0].length >> 1);
    for (const channel of part.sound)
      for (let i = 0; i < ends; i++) {
        channel[i] *= i / ends;
        channel[channel.length - 1 - i] *= i / ends;
      }
    this.startTime = context.currentTime + 0.005;
    this.schedule(part, 0);
  }

  /** How loud it is at this moment; null in silence. */
  reading(): MeterReading | null {
    const now = this.context?.currentTime ?? 0;
    this.readings = this.readings.filter((each) => each.to > now - 0.2);
    return this.readings.find((each) => each.from <= now && now < each.to) ?? null;
  }

  close() {
    this.stop();
    void this.context?.close();
    this.context = null;
  }

  private async opened(): Promise<AudioContext> {
    if (!this.context) {
      this.context = new AudioContext({ sampleRate: mixRate, latencyHint: 'interactive' });
      this.out = this.context.createGain();
      this.out.connect(this.context.destination);
    }
    if (this.context.state === 'suspended') {
      await this.context.resume();
      this.apart = [];
    }
    return this.context;
  }

  private async goOn(run: number) {
    while (this.run === run && this.context) {
      if (this.startTime + this.next / mixRate - this.context.currentTime > lead) {
        await new Promise((done) => setTimeout(done, lookEvery));
        continue;
      }
      const from = this.next;
      const part = await this.mixPart(from);
      if (this.run !== run || !part) return;
      this.schedule(part, from);
    }
  }

  /** Mixes from a sample of playback on, up to the loop's end at the most. */
  private async mixPart(at: number, most = partLength): Promise<MixedPart | null> {
    const { frame, range, rate } = this.loop!;
    const perFrame = samplesPerFrame(rate);
    const length = (range[1] - range[0] + 1) * perFrame;
    // Each round begins where it would without rounding, so that none drifts.
    const into = at + Math.round((frame - range[0]) * perFrame);
    let round = Math.floor(into / length);
    if (into >= Math.round((round + 1) * length)) round++;
    const from = sampleOfFrame(range[0], rate) + into - Math.round(round * length);
    const count = Math.min(most, Math.round((round + 1) * length) - into);
    const goesOn = this.mixerAt === from;
    this.mixerAt = from + count;
    return goesOn ? this.service.next(count) : this.service.start(from, count, this.alone());
  }

  private schedule({ sound, peaks, momentary }: MixedPart, at: number) {
    const { context } = this;
    const count = sound[0].length;
    const buffer = context!.createBuffer(2, count, mixRate);
    sound.forEach((channel, side) => buffer.copyToChannel(channel, side));
    const node = context!.createBufferSource();
    node.buffer = buffer;
    node.connect(this.out!);
    const from = this.startTime + at / mixRate;
    const to = from + count / mixRate;
    // What should have begun already begins in its middle.
    const late = context!.currentTime - from;
    if (late > 0) node.start(0, late);
    else node.start(from);
    const entry = { node, from, to };
    this.scheduled.add(entry);
    node.onended = () => this.scheduled.delete(entry);
    this.readings.push({ peaks, momentary, from, to });
    this.next = at + count;
  }

  private silence() {
    const { context, out } = this;
    if (!context || !out) return;
    const nodes = [...this.scheduled].map(({ node }) => node);
    this.scheduled.clear();
    this.readings = [];
    if (nodes.length === 0) return;
    // Not at once, which clicks; what comes next has a way of its own.
    out.gain.setValueAtTime(1, context.currentTime);
    out.gain.linearRampToValueAtTime(0, context.currentTime + goingOut);
    for (const node of nodes) node.stop(context.currentTime + goingOut);
    this.out = context.createGain();
    this.out.connect(context.destination);
  }

  /** When a time of the audio clock is heard, ms since the epoch. */
  private heardAt(time: number): number {
    const context = this.context!;
    const { contextTime, performanceTime } = context.getOutputTimestamp();
    const known = performanceTime && contextTime !== undefined;
    // The audio clock goes in steps of a buffer: what lies between both clocks is the middle of what was read lately.
    this.apart.push(
      known
        ? performance.timeOrigin + performanceTime - contextTime * 1000
        : performance.timeOrigin +
            performance.now() -
            (context.currentTime - (context.outputLatency || 0)) * 1000,
    );
    if (this.apart.length > clockReadings) this.apart.shift();
    const sorted = this.apart.toSorted((a, b) => a - b);
    return time * 1000 + sorted[sorted.length >> 1];
  }
}

/** A time of the audio clock on a whole sample. */
const atSample = (time: number) => Math.ceil(time * mixRate) / mixRate;
