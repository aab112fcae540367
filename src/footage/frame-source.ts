import { Input, type InputVideoTrack, UrlSource, type VideoSample } from 'mediabunny';
import type { VideoColour } from '@/core/model/shot';
import type { PicturePlanes } from '@/core/picture/planes';
import { type FrameIndex, frameOfTimestamp, keyFrameFor } from '@/core/time/frame-index';
import { boundedSink } from './bounded-sink';
import { containerFormats } from './facts';
import type { FrameCache } from './frame-cache';
import { copyPlanes } from './planes-of-sample';

interface Request {
  frame: number;
  halvings: number;
  resolve(planes: PicturePlanes): void;
  reject(error: Error): void;
}

/** Bytes of the file that are held: the server is near, and every worker has sources of its own. */
const heldBytes = 16 * 1024 * 1024;

/** A request that was given up because something else is wanted now. */
export class Superseded extends Error {
  constructor() {
    super('Another frame is wanted now.');
    this.name = 'Superseded';
  }
}

/** Where a shot's pictures come from. */
export interface PictureSource {
  /**
   * The picture of frame `frame`, halved so often; RangeError when there is none, Superseded when it was given up.
   */
  frame(frame: number, halvings?: number): Promise<PicturePlanes>;
  /** Decodes these frames when nothing is asked for directly, in this order; replaces what was wanted before. */
  readAhead(frames: readonly number[], halvings?: number): void;
  /** Gives up requests for other frames than these. */
  keepOnly(frames: ReadonlySet<number>): void;
  /** Lets go of the decoder and what waits in it, where nothing is asked for; it begins again when something is. */
  rest(): Promise<void>;
  close(): Promise<void>;
}

/** Decoding in presentation order from some frame on. */
interface Run {
  samples: AsyncGenerator<VideoSample, void, unknown>;
  /** No frame before this one is still to come. */
  next: number;
}

/**
 * Frames of one shot by number, decoded in the thread that asks. Whatever is decoded on the way to a frame goes
 * into the cache, so that stepping back within it needs no decoding.
 */
export class FrameSource implements PictureSource {
  private readonly input: Input;
  private track: Promise<InputVideoTrack> | null = null;
  private requests: Request[] = [];
  private wanted: number[] = [];
  private wantedHalvings = 0;
  private run: Run | null = null;
  private working = false;
  /** Settles when what is under way has come to its end. */
  private worked: Promise<void> = Promise.resolve();
  private closed = false;

  /**
   * @param url of the file, served with ranges.
   * @param onDecoded told of every frame that enters the cache.
   * @param deep whether samples of more than 8 bits are kept.
   */
  constructor(
    readonly sourceId: string,
    url: string,
    private readonly index: FrameIndex,
    private readonly colour: VideoColour,
    private readonly cache: FrameCache,
    private readonly onDecoded: (frame: number, planes: PicturePlanes) => void = () => {},
    private readonly deep = false,
  ) {
    const source = new UrlSource(url, { maxCacheSize: heldBytes });
    this.input = new Input({ source, formats: containerFormats });
  }

  get frameCount(): number {
    return this.index.timestamps.length;
  }

  /**
   * The picture of frame `frame`.
   *
   * @param halvings how often its size is halved.
   * @throws RangeError when the shot has no such frame; Error when it cannot be decoded.
   */
  frame(frame: number, halvings = 0): Promise<PicturePlanes> {
    if (!Number.isInteger(frame) || frame < 0 || frame >= this.frameCount) {
      return Promise.reject(new RangeError(`The shot has frames 0 to ${this.frameCount - 1}, not ${frame}.`));
    }
    const held = this.cache.get(this.sourceId, frame, halvings);
    if (held) return Promise.resolve(held);
    return new Promise((resolve, reject) => {
      this.requests.push({ frame, halvings, resolve, reject });
      this.work();
    });
  }

  /** Decodes these frames when nothing is asked for directly, in this order; replaces what was wanted before. */
  readAhead(frames: readonly number[], halvings = 0) {
    this.wantedHalvings = halvings;
    this.wanted = frames.filter(
      (frame) => frame >= 0 && frame < this.frameCount && !this.cache.has(this.sourceId, frame, halvings),
    );
    this.work();
  }

  keepOnly(frames: ReadonlySet<number>) {
    const given = this.requests.filter(({ frame }) => !frames.has(frame));
    this.requests = this.requests.filter(({ frame }) => frames.has(frame));
    given.forEach((request) => request.reject(new Superseded()));
  }

  async rest() {
    if (this.goal() !== null) return;
    // What was answered just now is still coming to its end.
    await this.worked;
    if (this.working || !this.run) return;
    const { samples } = this.run;
    this.run = null;
    await samples.return();
  }

  /** Stops decoding; what was asked for fails. */
  async close() {
    this.closed = true;
    this.requests.splice(0).forEach((request) => request.reject(new Error('The shot was closed.')));
    await this.run?.samples.return();
    this.input.dispose();
  }

  private work() {
    if (!this.working) this.worked = this.workThrough();
  }

  private async workThrough() {
    this.working = true;
    for (let goal = this.goal(); goal !== null && !this.closed; goal = this.goal()) {
      try {
        await this.decodeTowards(goal.frame, goal.halvings);
      } catch (error) {
        this.giveUp(goal.frame, error instanceof Error ? error : new Error(String(error)));
      }
    }
    this.working = false;
  }

  /** Lets go of a frame that cannot be decoded, and of the decoder; what else is asked for is tried with another. */
  private giveUp(frame: number, reason: Error) {
    this.run = null;
    const failed = this.requests.filter((request) => request.frame === frame);
    this.requests = this.requests.filter((request) => request.frame !== frame);
    // Whoever wants others of its group of pictures asks for them; ahead they are not tried again.
    const group = keyFrameFor(this.index, frame);
    this.wanted = this.wanted.filter((each) => keyFrameFor(this.index, each) !== group);
    failed.forEach((request) => request.reject(reason));
  }

  /** What to decode next: the newest request, else the first frame wanted ahead. */
  private goal(): { frame: number; halvings: number } | null {
    if (this.requests.length > 0) return this.requests[this.requests.length - 1];
    const halvings = this.wantedHalvings;
    while (this.wanted.length > 0) {
      if (!this.cache.has(this.sourceId, this.wanted[0], halvings))
        return { frame: this.wanted[0], halvings };
      this.wanted.shift();
    }
    return null;
  }

  private async decodeTowards(goal: number, halvings: number) {
    const from = keyFrameFor(this.index, goal);
    if (!this.run || goal < this.run.next || from > this.run.next) {
      // What the old one still has under way comes to its end beside the new one.
      this.letGo(this.run);
      this.run = null;
      this.run = { samples: await this.samplesFrom(from), next: from };
    }
    const { value: sample, done } = await this.run.samples.next();
    if (done || !sample) {
      this.run = null;
      throw new Error(`Frame ${goal} cannot be decoded: the file ends before it.`);
    }
    const frame = frameOfTimestamp(this.index, sample.timestamp);
    try {
      const planes = await copyPlanes(sample, this.colour, halvings, this.deep);
      for (const each of this.framesAt(frame)) {
        this.cache.set(this.sourceId, each, planes, halvings);
        this.onDecoded(each, planes);
        this.answer(each, halvings, planes);
      }
    } finally {
      sample.close();
    }
    if (frame > goal && this.requests.some((each) => each.frame === goal && each.halvings === halvings)) {
      throw new Error(`Frame ${goal} is missing from the file.`);
    }
    this.wanted = this.wanted.filter((wanted) => wanted !== frame && !(wanted === goal && frame > goal));
    this.run.next = frame + 1;
  }

  /** The frame, and others that a file gives the same time: of them all only one is ever shown. */
  private framesAt(frame: number): number[] {
    const { timestamps } = this.index;
    const frames = [frame];
    for (let n = frame + 1; timestamps[n] === timestamps[frame]; n++) frames.push(n);
    for (let n = frame - 1; timestamps[n] === timestamps[frame]; n--) frames.unshift(n);
    return frames;
  }

  private letGo(run: Run | null) {
    run?.samples.return().catch(() => {});
  }

  private answer(frame: number, halvings: number, planes: PicturePlanes) {
    this.requests = this.requests.filter((request) => {
      const meant = request.frame === frame && request.halvings === halvings;
      if (meant) request.resolve(planes);
      return !meant;
    });
  }

  private async samplesFrom(frame: number) {
    this.track ??= this.openTrack();
    const track = await this.track;
    return (await boundedSink(track)).samples(this.index.timestamps[frame]);
  }

  private async openTrack(): Promise<InputVideoTrack> {
    const track = await this.input.getPrimaryVideoTrack();
    if (!track || !(await track.canDecode()))
      throw new Error('This browser cannot decode the shot’s pictures.');
    return track;
  }
}
