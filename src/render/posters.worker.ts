import * as Comlink from 'comlink';
import { crossingProgress, type StepProgress } from '@/core/checks/trace-progress';
import { coverageAt } from '@/core/compose/coverage-curve';
import { cutsByPicture } from '@/core/document/document';
import type { CrossingDocument } from '@/core/document/tables';
import { MatteScratch } from '@/core/matte/matte';
import { drawPicture } from '@/core/compose/picture';
import type { LayerDraw, Scene } from '@/core/compose/scene';
import type { ShotMedia } from '@/wire/answers';
import type { Affine } from '@/core/geometry/affine';
import { PictureEngine } from './engine';
import { Thumbnails } from './thumbnails';

/** The result of a crossing where it is half covered, small, and its coverage. */
export interface Posters {
  width: number;
  height: number;
  picture: Uint8ClampedArray<ArrayBuffer> | null;
  coverage: Float32Array<ArrayBuffer>;
  /** How far the trace has come. */
  progress: StepProgress;
}

/** A shot's frame, small. */
export interface FramePicture {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

/** A shot's px as they are. */
const itself: Affine = [1, 0, 0, 1, 0, 0];

let opened: { shotId: string; engine: PictureEngine } | null = null;

const service = {
  /** @param height of the pictures in px. */
  async draw(document: CrossingDocument, media: ShotMedia[], height: number): Promise<Posters> {
    const engine = new PictureEngine(media, 64e6, undefined, 'as shown');
    try {
      const { crossing } = document;
      const coverage = await coverageOf(document, engine);
      const thumbnails = new Thumbnails(
        engine.shots,
        Math.round((height * crossing.width) / crossing.height),
        height,
      );
      const picture = await drawn(document, engine, thumbnails, middleOf(coverage));
      const progress = crossingProgress(document, (id) => engine.shots[id], coverage);
      return { width: thumbnails.width, height, picture, coverage, progress };
    } finally {
      await engine.close();
    }
  },

  /**
   * The result at some crossing frames, small, one after the other.
   *
   * @param tell told each as it is drawn; its answer is waited for, and false ends it.
   */
  async film(
    document: CrossingDocument,
    media: ShotMedia[],
    height: number,
    frames: readonly number[],
    tell: (picture: FramePicture) => Promise<boolean>,
  ) {
    const engine = new PictureEngine(media, 64e6, undefined, 'as shown');
    try {
      const width = Math.round((height * document.crossing.width) / document.crossing.height);
      const thumbnails = new Thumbnails(engine.shots, width, height);
      for (const frame of frames) {
        const rgba = await drawn(document, engine, thumbnails, frame);
        if (!(await tell({ width, height, rgba: rgba ?? new Uint8ClampedArray(width * height * 4) }))) return;
      }
    } finally {
      await engine.close();
    }
  },

  /** One frame of a shot, small. The shot stays open until another is asked for, so that it can be scrubbed. */
  async frame(media: ShotMedia, sourceFrame: number, height: number): Promise<FramePicture> {
    const { shot } = media;
    if (opened?.shotId !== shot.id) {
      await opened?.engine.close();
      opened = { shotId: shot.id, engine: new PictureEngine([media], 64e6, undefined, 'as shown') };
    }
    const planes = await opened.engine.picture(
      { shotId: shot.id, sourceFrame, toShot: itself },
      height / shot.height,
    );
    const width = Math.round((height * shot.width) / shot.height);
    const rgba = new Uint8ClampedArray(width * height * 4);
    const draw: LayerDraw = {
      layerId: '',
      role: 'outgoing',
      shotId: shot.id,
      sourceFrame,
      toShot: itself,
      cut: { extent: 'none' },
      opacity: 1,
      negative: false,
      spill: null,
      bent: null,
      lens: null,
      mixed: null,
      plain: null,
      blur: null,
      grade: null,
      clip: null,
    };
    const scene: Scene = { background: 'black', blend: 'display', paint: 'picture', layers: [draw] };
    drawPicture(
      scene,
      { shots: { [shot.id]: shot }, crossing: shot, planesOf: () => planes, width, height },
      rgba,
    );
    return { width, height, rgba };
  },
};

/** The result at a crossing frame, small; null where there is none. */
async function drawn(
  document: CrossingDocument,
  engine: PictureEngine,
  thumbnails: Thumbnails,
  frame: number,
) {
  const missing = thumbnails.missing(document, frame).map(async ({ shotId, sourceFrame }) => {
    const share = thumbnails.height / engine.shots[shotId].height;
    const planes = await engine.picture({ shotId, sourceFrame, toShot: itself }, share);
    thumbnails.keep(shotId, sourceFrame, planes);
  });
  await Promise.all(missing);
  return thumbnails.draw(document, frame);
}

/** Frames that are looked at for a card's curve where they have to be decoded for it. */
const mostDecoded = 60;

/** Coverage frame by frame; where it hangs on pictures, of some frames, and linear between them. */
async function coverageOf(document: CrossingDocument, engine: PictureEngine) {
  const scratch = new MatteScratch();
  const { length } = document.crossing;
  const every = cutsByPicture(document) ? Math.ceil(length / mostDecoded) : 1;
  const coverage = new Float32Array(length);
  for (let frame = 0, before = 0; ; before = frame, frame = Math.min(length - 1, frame + every)) {
    const pictures = await engine.cutPictures(document, frame);
    coverage[frame] = coverageAt(document, engine.shots, frame, scratch, pictures);
    for (let between = before + 1; between < frame; between++) {
      const share = (between - before) / (frame - before);
      coverage[between] = coverage[before] + share * (coverage[frame] - coverage[before]);
    }
    if (frame === length - 1) return coverage;
  }
}

/** The frame nearest to half covered; the middle one when coverage leaps past it. */
function middleOf(coverage: Float32Array): number {
  let best = Math.floor(coverage.length / 2);
  for (let frame = 0; frame < coverage.length; frame++) {
    if (
      coverage[frame] > 0 &&
      coverage[frame] < 1 &&
      Math.abs(coverage[frame] - 0.5) < Math.abs(distanceFrom(coverage[best]))
    )
      best = frame;
  }
  return best;
}

function distanceFrom(covered: number): number {
  return covered > 0 && covered < 1 ? covered - 0.5 : 1;
}

export type PosterService = typeof service;

Comlink.expose(service);
