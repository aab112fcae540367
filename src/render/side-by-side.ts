import { type Scene, sceneAt, type SceneLook } from '@/core/compose/scene';
import { layerSourceFrame } from '@/core/compose/source-frames';
import type { CrossingDocument } from '@/core/document/tables';
import { Superseded } from '@/footage/frame-source';
import type { ShotMedia } from '@/wire/answers';
import { Compositor } from './compositor';
import { PictureEngine } from './engine';
import { Pace } from './pace';

/** What several pictures of a crossing tell the page. */
export type SideBySideEvent =
  /**
   * All of them show this crossing frame. `leftOut`: frames left out since playing began; `waited`: whether its pictures had to be
   * read first.
   */
  { kind: 'shown'; frame: number; leftOut: number; waited: boolean } | { kind: 'failed'; message: string };

/** One of the pictures: a crossing of its own, and where it is shown. */
interface Picture {
  document: CrossingDocument;
  canvas: ImageBitmapRenderingContext;
}

/** Bytes of decoded pictures held: they are as small as they are shown. */
const cacheBytes = 240e6;
/** Frames read ahead of the one that is shown. */
const readAheadFrames = 20;
/** ms between two looks whether the next frame is due. */
const lookAgain = 4;
const look: SceneLook = { view: 'result', traced: null };

/**
 * Several crossings alike but for a shot, drawn small and in step: a frame is shown in all of them or in none. One compositor draws
 * them one after the other, so that what they have in common is sent once.
 */
export class SideBySide {
  private readonly pictures = new Map<string, Picture>();
  private readonly engine = new PictureEngine([], cacheBytes, undefined, 'as shown');
  private readonly canvas = new OffscreenCanvas(1, 1);
  private readonly compositor = new Compositor(this.canvas);
  /** Playing, they are drawn more coarsely where that is too slow. */
  private readonly pace = new Pace();
  private frame = 0;
  private playing = false;
  /** Counts starts and stops, so that an older playback ends when a newer one begins. */
  private run = 0;
  private drawing = false;
  private stale = false;

  /**
   * @param range first and last crossing frame that is played.
   * @param height of each picture, px of the screen.
   * @param tell hears what they show.
   */
  constructor(
    private readonly range: readonly [first: number, last: number],
    private readonly height: number,
    private readonly tell: (event: SideBySideEvent) => void,
  ) {}

  takeShot(media: ShotMedia) {
    this.engine.take(media);
  }

  /** Shows a crossing on a canvas of its own; without one, on the canvas that it has. */
  put(key: string, document: CrossingDocument, canvas: OffscreenCanvas | null) {
    const shownOn = canvas ? canvas.getContext('bitmaprenderer') : this.pictures.get(key)?.canvas;
    if (!shownOn) return;
    this.pictures.set(key, { document, canvas: shownOn });
    this.redraw();
  }

  drop(key: string) {
    this.pictures.delete(key);
    this.redraw();
  }

  show(frame: number) {
    this.frame = frame;
    this.redraw();
  }

  /** Plays the range over and over. */
  play() {
    this.playing = true;
    this.pace.begin();
    void this.playUntilStopped(++this.run);
  }

  pause() {
    this.playing = false;
    this.run++;
    this.redraw();
  }

  private scenes(frame: number): Drawing[] {
    const { shots } = this.engine;
    return [...this.pictures.values()].map(({ document, canvas }) => {
      const { width, height } = document.crossing;
      const quality = Math.min(1, this.height / height) * (this.playing ? this.pace.share : 1);
      return {
        ...{ document, canvas, quality, scene: sceneAt(document, shots, frame, look) },
        ...{
          width: Math.max(1, Math.round(width * quality)),
          height: Math.max(1, Math.round(height * quality)),
        },
      };
    });
  }

  /** Draws them all at once where every picture is there; else none. */
  private drawIfThere(drawings: readonly Drawing[]): boolean {
    const prepared = drawings.map(({ scene, quality }) => this.engine.prepareNow(scene, quality));
    if (prepared.some((layers) => layers === null)) return false;
    const { shots } = this.engine;
    const bitmaps = drawings.map(({ document: { crossing }, scene, width, height }, k) => {
      const visible = [0, 0, width, height] as const;
      this.compositor.show(scene, prepared[k]!, { shots, crossing, width, height, visible });
      return this.canvas.transferToImageBitmap();
    });
    drawings.forEach(({ canvas }, k) => canvas.transferFromImageBitmap(bitmaps[k]));
    return true;
  }

  private redraw() {
    this.stale = true;
    if (!this.drawing && !this.playing) void this.drawWhileStale();
  }

  private async drawWhileStale() {
    this.drawing = true;
    while (this.stale && !this.playing) {
      this.stale = false;
      const { frame } = this;
      const drawings = this.scenes(frame);
      try {
        await Promise.all(drawings.map(({ scene, quality }) => this.engine.prepare(scene, quality)));
        if (this.stale) continue;
        this.drawIfThere(drawings);
        this.tell({ kind: 'shown', frame, leftOut: 0, waited: false });
        this.readOn(frame, 1);
      } catch (error) {
        if (!(error instanceof Superseded) && !this.stale) this.fail(error);
      }
    }
    this.drawing = false;
  }

  /**
   * What is not read yet is waited for, so that the first time through may be slow and shows every frame; after that it keeps
   * real time, and leaves out what cannot be drawn in time.
   */
  private async playUntilStopped(run: number) {
    let begun = performance.now();
    let frame = this.frame;
    let [due, leftOut] = [-1, 0];
    try {
      while (this.run === run) {
        const picture = this.pictures.values().next().value;
        await new Promise((done) => setTimeout(done, picture ? lookAgain : 100));
        if (!picture || this.run !== run) continue;
        const { rateNum, rateDen } = picture.document.crossing;
        const duration = (1000 * rateDen) / rateNum;
        const now = Math.floor((performance.now() - begun) / duration);
        if (now <= due) continue;
        const [from, to] = this.range;
        const next = from + ((Math.max(0, frame - from) + now - due) % (to - from + 1));
        const drawings = this.scenes(next);
        this.readOn(next, 0);
        let waited = false;
        while (!this.drawIfThere(drawings) && this.run === run) {
          waited = true;
          await Promise.all(drawings.map(({ scene, quality }) => this.engine.prepare(scene, quality)));
        }
        if (this.run !== run) return;
        if (!waited) this.pace.note(now - due - 1, true);
        leftOut += now - due - 1;
        due = now;
        // The time that was waited did not pass.
        if (waited) begun = Math.max(begun, performance.now() - (due + 1) * duration);
        frame = next;
        this.frame = frame;
        this.tell({ kind: 'shown', frame, leftOut, waited });
      }
    } catch (error) {
      if (this.run === run) this.playing = false;
      this.fail(error);
    }
  }

  /** Wants the frames that follow, of every shot, round the end of what is played. */
  private readOn(frame: number, from: number) {
    const wanted = new Map<string, Set<number>>();
    for (const { document } of this.pictures.values()) {
      const [first, last] = this.range;
      const frames = Array.from(
        { length: readAheadFrames },
        (_, k) => first + ((frame - first + from + k) % (last - first + 1)),
      );
      for (const layer of Object.values(document.layers)) {
        const shot = this.engine.shots[layer.shotId];
        if (!shot || !layer.visible) continue;
        const want = (shotId: string, offset: number) => {
          const each = wanted.get(shotId) ?? new Set();
          wanted.set(shotId, each);
          for (const at of frames) each.add(layerSourceFrame(document, layer, shot, at) - offset);
        };
        want(layer.shotId, 0);
        if (layer.matteId !== null) want(layer.matteId, layer.matteFrom);
      }
    }
    for (const [shotId, frames] of wanted) this.engine.readAhead(shotId, [...frames]);
  }

  private fail(error: unknown) {
    this.tell({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
}

interface Drawing extends Picture {
  scene: Scene;
  /** Share of the crossing's size. */
  quality: number;
  width: number;
  height: number;
}
