import type { PicturePlanes } from '@/core/picture/planes';
import { drawDeepPicture, drawPicture } from '@/core/compose/picture';
import { picturesOf, sceneAt, type View } from '@/core/compose/scene';
import type { CrossingDocument } from '@/core/document/tables';
import { SoundReader } from '@/footage/sound-reader';
import { rgbaToI420 } from '@/core/colour/matrix';
import { exportColour } from '@/footage/video-writer';
import { Compositor } from '@/render/compositor';
import { FramePlanes } from '@/render/frame-planes';
import { PictureEngine } from '@/render/engine';
import type { ShotMedia } from '@/wire/answers';
import { linesInSvg } from '@/workspace/trace/read-svg';

/** Runs in the browser: the parts of Kiv that tests and bench reach without its pages. */
const harness = {
  /** The numbers read from the frames asked for, one after the other; from the work copy, if so asked. */
  async readNumbers(media: ShotMedia, frames: number[], work = false) {
    const engine = new PictureEngine([media], 4e6, undefined, work ? 'as shown' : 'exact');
    const numbers: number[] = [];
    for (const sourceFrame of frames) {
      const { y, width, height } = await engine.picture(
        { shotId: media.shot.id, sourceFrame, toShot: [1, 0, 0, 1, 0, 0] },
        // As large as the copy is: then it is taken from there.
        work ? (media.work?.share ?? 1) : 1,
      );
      numbers.push(numberIn(y, width, height));
    }
    await engine.close();
    return numbers;
  },

  /** Lines of an SVG, and what was left out of it. */
  readSvg: linesInSvg,

  /** The left side of a sound at the mix's rate, from a sample on. */
  async readSound(url: string, lead: number, from: number, count: number) {
    const reader = new SoundReader(url, lead);
    const [left] = await reader.read(from, count);
    reader.close();
    return left;
  },

  /** Milliseconds that each frame took, and the most bytes of pictures held meanwhile. */
  async timeFrames(media: ShotMedia, frames: number[], work: boolean, ahead: boolean) {
    const engine = new PictureEngine([media], 192e6, undefined, work ? 'as shown' : 'exact');
    const { id, frameCount } = media.shot;
    const times: number[] = [];
    let held = 0;
    let before = frames[0];
    for (const sourceFrame of frames) {
      const start = performance.now();
      await engine.picture(
        { shotId: id, sourceFrame, toShot: [1, 0, 0, 1, 0, 0] },
        work ? (media.work?.share ?? 1) : 1,
      );
      times.push(performance.now() - start);
      held = Math.max(held, engine.heldBytes);
      if (!ahead) continue;
      const direction = sourceFrame < before ? -1 : 1;
      before = sourceFrame;
      const next = Array.from({ length: 6 }, (_, k) => sourceFrame + direction * (k + 1));
      engine.readAhead(
        id,
        next.filter((frame) => frame >= 0 && frame < frameCount),
      );
      // As long as a person takes from one press to the next.
      await new Promise((done) => setTimeout(done, 60));
    }
    await engine.close();
    return { times, held };
  },

  /** Milliseconds from setting an HTML video element's time to its frame callback, for each frame. */
  async timeVideo(media: ShotMedia, frames: number[]) {
    const video = document.createElement('video');
    video.muted = true;
    video.src = media.url;
    document.body.append(video);
    await new Promise((done, fail) => {
      video.oncanplaythrough = done;
      video.onerror = fail;
    });
    const half = 0.5 / (media.shot.rate.num / media.shot.rate.den);
    const times: number[] = [];
    for (const frame of frames) {
      const start = performance.now();
      const shown = new Promise((done) => video.requestVideoFrameCallback(done));
      video.currentTime = media.timestamps[frame] + half;
      await shown;
      times.push(performance.now() - start);
    }
    video.remove();
    return times;
  },

  /** Share of colour values that differ by more than one between compositor and CPU reference, and the largest difference. */
  async compare(document: CrossingDocument, media: ShotMedia[], frame: number, view: View, traced: string) {
    const engine = new PictureEngine(media, 200e6);
    const compositor = new Compositor(new OffscreenCanvas(16, 16));
    const { width, height } = document.crossing;
    const scene = sceneAt(document, engine.shots, frame, { view, traced });
    const layers = await engine.prepare(scene, 1);
    const drawn = new Uint8Array(width * height * 4);
    compositor.read(
      scene,
      layers,
      { shots: engine.shots, crossing: document.crossing, width, height },
      drawn,
    );
    const reference = new Uint8Array(width * height * 4);
    const pictures = new Map<string, PicturePlanes>();
    const keyOf = (draw: { shotId: string; sourceFrame: number }) => `${draw.shotId}:${draw.sourceFrame}`;
    for (const wanted of picturesOf(scene, engine.shots))
      pictures.set(keyOf(wanted), await engine.picture(wanted));
    const planesOf = (draw: { shotId: string; sourceFrame: number }) => pictures.get(keyOf(draw))!;
    drawPicture(
      scene,
      { shots: engine.shots, crossing: document.crossing, planesOf, width, height },
      reference,
    );
    let [off, largest, sum] = [0, 0, 0];
    for (let i = 0; i < drawn.length; i++) {
      const difference = Math.abs(drawn[i] - reference[i]);
      if (difference > 1) off++;
      largest = Math.max(largest, difference);
      sum += reference[i];
    }
    await engine.close();
    return { off: off / (width * height), largest, mean: sum / reference.length };
  },

  /**
   * The same with all bits: share of values that differ by more than one of 1023, and the largest difference in such; how many
   * values the picture has, and the reds of its middle line, 0 to 1.
   */
  async compareDeep(document: CrossingDocument, media: ShotMedia[], frame: number) {
    const engine = new PictureEngine(media, 400e6, undefined, 'deep');
    const compositor = new Compositor(new OffscreenCanvas(16, 16));
    const { width, height } = document.crossing;
    const scene = sceneAt(document, engine.shots, frame, { view: 'result', traced: null });
    const layers = await engine.prepare(scene, 1);
    const size = { shots: engine.shots, crossing: document.crossing, width, height };
    const drawn = new Float32Array(width * height * 4);
    compositor.readDeep(scene, layers, size, drawn);
    const pictures = new Map<string, PicturePlanes>();
    const keyOf = (draw: { shotId: string; sourceFrame: number }) => `${draw.shotId}:${draw.sourceFrame}`;
    for (const wanted of picturesOf(scene, engine.shots))
      pictures.set(keyOf(wanted), await engine.picture(wanted));
    const reference = new Float32Array(drawn.length);
    drawDeepPicture(scene, { ...size, planesOf: (draw) => pictures.get(keyOf(draw))! }, reference);
    let [off, largest] = [0, 0];
    for (let i = 0; i < drawn.length; i++) {
      const difference = 1023 * Math.abs(drawn[i] - reference[i]);
      if (difference > 1) off++;
      largest = Math.max(largest, difference);
    }
    await engine.close();
    const values = new Set(drawn.map((value) => Math.round(65_535 * value))).size;
    const line = Array.from({ length: width }, (_, x) => drawn[4 * ((height / 2) * width + x)]);
    return { off: off / (width * height), largest, values, line };
  },

  /** A shot's luma with all bits, as the browser decodes it: code values of ten. */
  async deepLuma(media: ShotMedia, sourceFrame: number) {
    const engine = new PictureEngine([media], 100e6, undefined, 'deep');
    const { deep } = await engine.picture({ shotId: media.shot.id, sourceFrame });
    await engine.close();
    return [...deep!.y].map((value) => value >> 6);
  },

  /**
   * A frame as a video takes it, against all of it drawn, read back and converted: share of luma that differs by more than two
   * code values, mean difference of chroma, and the share of both that is the same.
   */
  async comparePlanes(document: CrossingDocument, media: ShotMedia[], frame: number) {
    const engine = new PictureEngine(media, 200e6);
    const compositor = new Compositor(new OffscreenCanvas(16, 16));
    const { width, height } = document.crossing;
    const scene = sceneAt(document, engine.shots, frame, { view: 'result', traced: null });
    const layers = await engine.prepare(scene, 1);
    const made = new FramePlanes(compositor, { width, height });
    // What was there before is written over.
    made.planes.fill(1);
    made.draw(scene, layers, engine.shots, document.crossing);
    const rgba = new Uint8Array(width * height * 4);
    compositor.read(scene, layers, { shots: engine.shots, crossing: document.crossing, width, height }, rgba);
    const whole = new Uint8Array(made.planes.length);
    rgbaToI420(rgba, width, height, exportColour, whole);
    let [off, chroma, same] = [0, 0, 0];
    for (let i = 0; i < whole.length; i++) {
      const difference = Math.abs(whole[i] - made.planes[i]);
      if (difference === 0) same++;
      if (i >= width * height) chroma += difference;
      else if (difference > 2) off++;
    }
    await engine.close();
    const luma = width * height;
    return { off: off / luma, chroma: chroma / (luma / 2), same: same / whole.length };
  },
};

/** A number drawn as 16 blocks, most significant bit first, along the top. */
function numberIn(luma: Uint8Array, width: number, height: number): number {
  const side = width / 16;
  let number = 0;
  for (let bit = 0; bit < 16; bit++) {
    const x = Math.floor((bit + 0.5) * side);
    number = number * 2 + (luma[Math.floor(height / 4) * width + x] > 128 ? 1 : 0);
  }
  return number;
}

export type Harness = typeof harness;

(globalThis as typeof globalThis & { harness: Harness }).harness = harness;
