import * as Comlink from 'comlink';
import { coverageAt } from '@/core/compose/coverage-curve';
import { type CrossingDocument, playedRange } from '@/core/document/document';
import { plainLayer } from '@/core/document/rows';
import { MatteScratch } from '@/core/matte/matte';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';
import { Thumbnails } from './thumbnails';

/** First, middle and last result of a crossing, small, and its coverage. */
export interface Posters {
  width: number;
  height: number;
  pictures: (Uint8ClampedArray<ArrayBuffer> | null)[];
  coverage: Float32Array<ArrayBuffer>;
}

const service = {
  /** @param height of the pictures in px. */
  async draw(document: CrossingDocument, media: ShotMedia[], height: number): Promise<Posters> {
    const engine = new PictureEngine(media, 64e6);
    try {
      const { crossing } = document;
      const scratch = new MatteScratch();
      const coverage = Float32Array.from({ length: crossing.length }, (_, frame) =>
        coverageAt(document, engine.shots, frame, scratch),
      );
      const thumbnails = new Thumbnails(
        engine.shots,
        Math.round((height * crossing.width) / crossing.height),
        height,
      );
      const pictures: Posters['pictures'] = [];
      const [first, last] = playedRange(document);
      for (const frame of [first, middleOf(coverage), last]) {
        for (const { shotId, sourceFrame } of thumbnails.missing(document, frame)) {
          thumbnails.keep(shotId, sourceFrame, await engine.picture({ shotId, sourceFrame }));
        }
        pictures.push(thumbnails.draw(document, frame));
      }
      return { width: thumbnails.width, height, pictures, coverage };
    } finally {
      await engine.close();
    }
  },

  /** One frame of a shot, small. */
  async frame(media: ShotMedia, sourceFrame: number, height: number): Promise<Omit<Posters, 'coverage'>> {
    const { shot } = media;
    const place = { id: 'layer', role: 'outgoing' as const, shotId: shot.id, position: 0 };
    const layer = { ...plainLayer, ...place, offset: sourceFrame };
    const crossing = {
      id: '',
      name: '',
      plan: 'pass-by' as const,
      width: shot.width,
      height: shot.height,
      rateNum: shot.rate.num,
      rateDen: shot.rate.den,
      length: 1,
      inFrame: 0,
      outFrame: null,
    };
    const { width, pictures } = await service.draw(
      { crossing, layers: { layer }, outlines: {}, poses: {}, marks: {} },
      [media],
      height,
    );
    return { width, height, pictures: pictures.slice(0, 1) };
  },
};

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
