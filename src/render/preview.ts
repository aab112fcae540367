import isEqual from 'fast-deep-equal';
import { type Scene, sceneAt, type SceneLook } from '@/core/compose/scene';
import { layerSourceFrame } from '@/core/compose/source-frames';
import type { Rectangle } from '@/core/geometry/rectangle';
import { applyChanges, playedRange } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import type { RowChange } from '@/core/document/edit';
import { MatteScratch } from '@/core/matte/matte';
import type { PicturePlanes } from '@/core/picture/planes';
import { Superseded } from '@/footage/frame-source';
import { Compositor } from './compositor';
import type { ShotMedia } from '@/wire/answers';
import { measureCoverage } from './coverage';
import { PictureEngine } from './engine';
import { letMessagesIn } from './let-messages-in';
import { spend, type Spent, takeSpent } from '@/footage/spent';
import { Pace } from './pace';
import { Thumbnails } from './thumbnails';

/** What the picture is asked to show. */
export interface Look extends SceneLook {
  /** Share of the crossing's size that is drawn, at most 1. */
  quality: number;
  /** Part of the crossing's frame that is looked at, in its px: x0, y0, x1, y1. */
  visible: Rectangle;
}

/** When playback is heard: the picture follows it. */
export interface PlayClock {
  /** The crossing frame that it began on. */
  frame: number;
  /** When that one's beginning is heard, ms since the epoch as `performance` counts them in every thread. */
  startedAt: number;
}

/** What the preview tells the page. */
export type PreviewEvent =
  /** `original`: drawn from the shots themselves, not from a work copy. */
  | { kind: 'shown'; frame: number; milliseconds: number; spent: Spent; original: boolean }
  /**
   * `at`: when it is seen, ms since the epoch; null where it was left out. `round`: how often the loop has begun again. `share`: of
   * the fineness at rest that it is drawn with.
   */
  | {
      kind: 'playback';
      frame: number;
      shown: number;
      dropped: number;
      at: number | null;
      round: number;
      share: number;
    }
  | { kind: 'thumbnail'; frame: number; width: number; height: number; rgba: Uint8ClampedArray<ArrayBuffer> }
  | { kind: 'coverage'; coverage: Float32Array<ArrayBuffer> }
  | { kind: 'failed'; message: string };

const cacheBytes = 420e6;
const readAheadFrames = 12;
/** Frames by which a frame may be shown after its time: with sound less, as the ear has a clock of its own. */
const [lateInSilence, lateWithSound] = [1, 0.25];
/** ms from where a frame is drawn to where it is seen: a refresh of the screen, and a little (measured by the bench's flashes). */
const untilSeen = 18;
/** ms between two looks whether playing has ended. */
const untilPlayed = 100;
/** Longest stretch, in ms, that background work takes before it lets drawing in. */
const slice = 8;

/** Draws the picture of one crossing, plays it, and works out thumbnails and coverage; lives in a worker. */
export class Preview {
  private readonly engine: PictureEngine;
  private readonly compositor: Compositor;
  private readonly thumbnails: Thumbnails;
  private readonly scratch = new MatteScratch();
  private draft: readonly RowChange[] | null = null;
  private look: Look = { view: 'result', traced: null, quality: 1, visible: [0, 0, 0, 0] };
  private frame = 0;
  private drawing = false;
  /** Settles when the picture that is being drawn is there. */
  private drawn = Promise.resolve();
  private stale = false;
  /** What is on the canvas, as long as its pictures are those that would be taken now. */
  private onCanvas: { scene: Scene; quality: number; visible: Rectangle } | null = null;
  private askedAt = 0;
  private playing = false;
  /** Counts starts and stops, so that an older playback ends when a newer one begins. */
  private playbackRun = 0;
  /** When the first frame of what plays was, or will be, due: by this worker's clock. */
  private playStart = 0;
  /** Frames by which one may come after its time. */
  private mayBeLate = lateInSilence;
  private readonly pace = new Pace();
  private thumbnailQueue: number[] = [];
  private coverageDue = false;
  private inBackground = false;

  constructor(
    canvas: OffscreenCanvas,
    private document: CrossingDocument,
    media: readonly ShotMedia[],
    thumbnailHeight: number,
    private readonly tell: (event: PreviewEvent) => void,
  ) {
    const keep = (shotId: string, frame: number, planes: PicturePlanes) =>
      this.thumbnails.keep(shotId, frame, planes);
    this.engine = new PictureEngine(media, cacheBytes, keep, 'as shown');
    const { width, height } = document.crossing;
    this.thumbnails = new Thumbnails(
      this.engine.shots,
      Math.round((thumbnailHeight * width) / height),
      thumbnailHeight,
    );
    this.compositor = new Compositor(canvas);
    this.coverageDue = true;
    this.workInBackground();
  }

  /** Takes over an edit that the page has made. */
  change(changes: readonly RowChange[]) {
    this.draft = null;
    this.document = applyChanges(this.document, changes);
    this.redraw();
    this.coverageDue = true;
    this.workInBackground();
  }

  /** Takes the whole document anew, as after another window's changes. */
  replaceDocument(document: CrossingDocument) {
    this.draft = null;
    this.document = document;
    this.redraw();
    this.coverageDue = true;
    this.workInBackground();
  }

  /** Takes over what has become known of a shot. */
  takeShot(media: ShotMedia) {
    this.engine.take(media);
    this.onCanvas = null;
    this.redraw();
  }

  /** Shows the document as it would be with these changes, while a hand is still dragging; null ends that. */
  setDraft(changes: readonly RowChange[] | null) {
    this.draft = changes;
    this.redraw();
  }

  /** Adds changes to those that are shown already, as carrying makes them one frame after the other. */
  extendDraft(more: readonly RowChange[]) {
    this.setDraft([...(this.draft ?? []), ...more]);
  }

  show(frame: number, look: Look) {
    const way = frame - this.frame;
    this.frame = frame;
    this.look = look;
    // Far away nothing is read but the picture itself, until that is there.
    if (Math.abs(way) > readAheadFrames) this.engine.readNothingAhead();
    this.redraw();
    void this.drawn.then(() => {
      if (this.frame === frame && !this.playing) this.readAround(frame, Math.sign(way));
    });
  }

  /** Changes how the picture looks without moving to another frame. */
  setLook(look: Look) {
    this.look = look;
    this.redraw();
  }

  /**
   * Loops over the crossing in real time from the current frame, leaving out frames that come too late.
   *
   * @param clock of the sound that plays along, or null: the picture keeps its own time.
   */
  play(clock: PlayClock | null) {
    this.playing = true;
    this.onCanvas = null;
    this.pace.begin();
    this.playStart = performance.now();
    this.mayBeLate = clock ? lateWithSound : lateInSilence;
    if (clock) {
      this.frame = clock.frame;
      this.setClock(clock.startedAt);
    }
    void this.playUntilStopped(++this.playbackRun);
  }

  /** Takes over when the sound says that playback began: its clock leads. */
  setClock(startedAt: number) {
    this.playStart = startedAt - performance.timeOrigin;
  }

  pause() {
    this.playing = false;
    this.playbackRun++;
    this.redraw();
  }

  /** Asks for thumbnails of these crossing frames; they come as events, again after every change that is asked for. */
  requestThumbnails(frames: readonly number[]) {
    this.thumbnailQueue = [...frames];
    this.workInBackground();
  }

  async close() {
    this.pause();
    this.thumbnailQueue = [];
    await this.engine.close();
  }

  /** Share of the crossing's size that is drawn now. */
  private get quality(): number {
    return this.look.quality * (this.playing ? this.pace.share : 1);
  }

  private sceneAt(frame: number) {
    const { document, draft, look } = this;
    const shown = draft ? applyChanges(document, draft) : document;
    return sceneAt(shown, this.engine.shots, frame, look);
  }

  private drawPrepared(
    frame: number,
    layers: Awaited<ReturnType<PictureEngine['prepare']>>,
    scene = this.sceneAt(frame),
  ) {
    const { crossing } = this.document;
    const { quality } = this;
    const width = Math.round(crossing.width * quality);
    const height = Math.round(crossing.height * quality);
    const [x0, y0, x1, y1] = this.look.visible.map((edge) => edge * quality);
    const visible: Rectangle = [
      Math.max(0, Math.floor(x0)),
      Math.max(0, Math.floor(y0)),
      Math.min(width, Math.ceil(x1)),
      Math.min(height, Math.ceil(y1)),
    ];
    const start = performance.now();
    this.compositor.show(scene, layers, { shots: this.engine.shots, crossing, width, height, visible });
    spend('draw', start);
  }

  private redraw() {
    this.stale = true;
    this.askedAt = performance.now();
    if (this.playing) return;
    if (!this.drawing) takeSpent();
    // What the picture waits for may be another by now: a far jump does not wait for an older one's decoding.
    if (this.drawing) this.engine.keepOnly(this.sceneAt(this.frame));
    else this.drawn = this.drawWhileStale();
  }

  private async drawWhileStale() {
    this.drawing = true;
    while (this.stale) {
      // Of what has been asked for meanwhile only the last is drawn, not each move of a hand.
      await letMessagesIn();
      this.stale = false;
      try {
        await this.drawOnce();
      } catch (error) {
        // The failed frame may no longer be wanted: draw the current one instead.
        if (!this.stale) this.fail(error);
      }
    }
    this.drawing = false;
  }

  private async drawOnce() {
    const { frame, askedAt } = this;
    const scene = this.sceneAt(frame);
    const layers = this.engine.prepareNow(scene, this.quality) ?? (await this.prepared(scene));
    if (!layers) return;
    // Something newer was asked for while decoding: the old picture is not shown.
    if (this.stale && frame !== this.frame) return;
    // What a hand lets go of is what it dragged: nothing looks otherwise.
    const wanted = { scene, quality: this.quality, visible: this.look.visible };
    if (!isEqual(wanted, this.onCanvas)) {
      this.drawPrepared(frame, layers, scene);
      this.compositor.finish();
      this.onCanvas = wanted;
    }
    this.tell({
      kind: 'shown',
      frame,
      milliseconds: performance.now() - askedAt,
      spent: takeSpent(),
      original: this.engine.isOriginal(scene, this.look.quality),
    });
  }

  /** The layers once they are decoded, or null when something else is wanted by then. */
  private async prepared(scene: Scene) {
    try {
      return await this.engine.prepare(scene, this.quality);
    } catch (error) {
      if (error instanceof Superseded) return null;
      throw error;
    }
  }

  private fail(error: unknown) {
    this.tell({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }

  /** Wants the frames next to be stepped to, in every shot, then the crossing's other frames as far as they fit. */
  private readAround(frame: number, direction: number) {
    const { crossing, layers } = this.document;
    const steps = Array.from({ length: readAheadFrames }, (_, k) => k + 1);
    const onward = direction < 0 ? -1 : 1;
    // Where the way turns back later is read too: behind a key frame much has to be decoded for the first of them.
    const near = [
      ...steps.flatMap((k) => (k < 4 ? [onward * k, -onward * k] : [onward * k])),
      ...steps.filter((k) => k >= 4).map((k) => -onward * k),
    ];
    // A layer's matte is read along with it.
    const all = Object.values(layers).flatMap((layer) => [
      { layer, shotId: layer.shotId, from: 0 },
      ...(layer.matteId === null ? [] : [{ layer, shotId: layer.matteId, from: layer.matteFrom }]),
    ]);
    for (const { layer, shotId, from } of all) {
      const [own, shot] = [this.engine.shots[layer.shotId], this.engine.shots[shotId]];
      if (!own || !shot) continue;
      const fit = Math.floor(cacheBytes / all.length / this.engine.pictureBytes(shot));
      const rest = crossing.length <= fit * 0.8 ? Array.from({ length: crossing.length }, (_, k) => k) : [];
      const order = [...near.slice(0, Math.max(2, Math.floor(fit / 2))).map((k) => frame + k), ...rest];
      const frames = order.map((f) => layerSourceFrame(this.document, layer, own, f) - from);
      this.engine.readAhead(shotId, [...new Set(frames)]);
    }
  }

  private async playUntilStopped(run: number) {
    const { rateNum, rateDen } = this.document.crossing;
    const [from, to] = playedRange(this.document);
    // Playing from outside the played range begins at its start.
    const first = this.frame < from || this.frame > to ? from : this.frame;
    const length = to - from + 1;
    let last = -1;
    let shown = 0;
    let dropped = 0;
    // ms from choosing a frame to its being drawn, as it went lately: it is chosen for when it will be seen.
    let ahead = 0;
    try {
      while (this.playbackRun === run) {
        const began = performance.now();
        const seen = began + ahead + untilSeen;
        const time = ((seen - this.playStart) * rateNum) / (1000 * rateDen);
        // A frame that is ready too late is dropped; wait for the next one.
        const due = Math.max(last + 1, Math.ceil(time - this.mayBeLate));
        if (time < due) {
          await new Promise((done) => setTimeout(done, 2));
          continue;
        }
        const leftOut = last < 0 ? 0 : due - last - 1;
        dropped += leftOut;
        last = due;
        const frame = from + ((first - from + due) % length);
        const round = Math.floor((first - from + due) / length);
        const scene = this.sceneAt(frame);
        const layers = this.engine.prepareNow(scene, this.quality);
        if (layers) {
          this.drawPrepared(frame, layers, scene);
          this.compositor.finish();
          shown++;
          this.frame = frame;
          ahead += 0.2 * (performance.now() - began - ahead);
        } else {
          dropped++;
        }
        const { share } = this.pace;
        this.pace.note(leftOut, layers !== null);
        this.readAround(frame, 1);
        const at = layers ? performance.timeOrigin + performance.now() + untilSeen : null;
        this.tell({ kind: 'playback', frame, shown, dropped, at, round, share });
        // Lets messages in even when every frame comes late.
        await new Promise((done) => setTimeout(done, 0));
      }
    } catch (error) {
      this.fail(error);
    }
  }

  /** Coverage first, then thumbnails, in slices between which drawing gets its turn: the decoder gives way to what is newest. */
  private workInBackground() {
    if (this.inBackground) return;
    this.inBackground = true;
    void this.backgroundWork().finally(() => {
      this.inBackground = false;
    });
  }

  private async backgroundWork() {
    while (this.coverageDue || this.thumbnailQueue.length > 0) {
      await this.nothingElse();
      try {
        if (this.coverageDue) await this.measureCoverage();
        else await this.drawThumbnail(this.thumbnailQueue.shift()!);
      } catch (error) {
        // One frame that cannot be had ends no work on the others.
        this.fail(error);
      }
    }
  }

  /** Waits until nothing is played or drawn. */
  private async nothingElse() {
    do {
      await new Promise((done) => setTimeout(done, this.playing ? untilPlayed : 0));
      await this.drawn;
    } while (this.playing);
  }

  private async measureCoverage() {
    this.coverageDue = false;
    let since = performance.now();
    const goOn = async () => {
      if (performance.now() - since >= slice) {
        await this.nothingElse();
        since = performance.now();
      }
      return !this.coverageDue;
    };
    try {
      const coverage = await measureCoverage(this.document, this.engine, goOn, this.scratch);
      if (coverage) this.tell({ kind: 'coverage', coverage });
    } catch (error) {
      if (!(error instanceof Superseded)) throw error;
      this.coverageDue = true;
    }
  }

  private async drawThumbnail(frame: number) {
    try {
      // At the size that the picture has on screen: those are decoded already, or will be wanted.
      for (const wanted of this.thumbnails.missing(this.document, frame))
        this.thumbnails.keep(
          wanted.shotId,
          wanted.sourceFrame,
          await this.engine.picture(wanted, this.look.quality),
        );
    } catch (error) {
      if (!(error instanceof Superseded)) throw error;
      this.thumbnailQueue.push(frame);
      return;
    }
    const rgba = this.thumbnails.draw(this.document, frame);
    if (rgba)
      this.tell({
        kind: 'thumbnail',
        frame,
        width: this.thumbnails.width,
        height: this.thumbnails.height,
        rgba,
      });
  }
}
