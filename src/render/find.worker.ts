import * as Comlink from 'comlink';
import { CoverMap, looksEvery } from '@/core/find/cover-map';
import { crossingsIn, type FoundCrossing } from '@/core/find/crossings';
import { uprightLuma } from '@/core/motion/upright';
import type { PicturePlanes } from '@/core/picture/planes';
import { everyPicture } from '@/footage/every-picture';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';

/** Bytes of decoded stills held. */
const heldPictures = 48e6;
/** ms between two reports of how far it is, and looks between two of what has been found so far. */
const tellEvery = 200;
const findEvery = 600;

/** ms after which it is looked whether waiting is over. */
const lookAgain = 250;

let held = false;

const service = {
  /** Waits where it is, so that it takes nothing from what is done meanwhile, or goes on. */
  hold(on: boolean) {
    held = on;
  },
  /**
   * Looks a whole shot through for what crosses it.
   *
   * @param onProgress told the share that is done, 0 to 1.
   * @param onFound told what has been found up to there, now and then.
   */
  async lookThrough(
    media: ShotMedia,
    onProgress: (share: number) => void,
    onFound: (found: FoundCrossing[]) => void,
  ): Promise<FoundCrossing[]> {
    const { shot } = media;
    const every = looksEvery(shot.rate);
    const map = new CoverMap(shot, shot.rate.num / shot.rate.den / every);
    const looked = { map, every, rate: shot.rate, width: shot.width };
    let told = 0;
    for await (const { frame, planes } of picturesOf(media, every)) {
      while (held) await new Promise((done) => setTimeout(done, lookAgain));
      const { values, width, height } = uprightLuma(planes, shot.rotation);
      map.add(values, width, height);
      if ((frame / every) % findEvery === findEvery - 1) onFound(crossingsIn(looked));
      if (performance.now() - told < tellEvery) continue;
      told = performance.now();
      onProgress((frame + 1) / shot.frameCount);
    }
    map.end();
    return crossingsIn(looked).map((crossing) => ({
      ...crossing,
      closes: Math.min(shot.frameCount - 1, crossing.closes),
    }));
  },
};

/** A shot's pictures at every so many frames, from a copy where there is one: a look has fewer samples than either. */
async function* picturesOf(
  media: ShotMedia,
  every: number,
): AsyncGenerator<{ frame: number; planes: PicturePlanes }, void, undefined> {
  const { shot, work } = media;
  if (!media.stills) return yield* everyPicture(work ?? media, shot.colour, every);
  const engine = new PictureEngine([media], heldPictures);
  try {
    for (let frame = 0; frame < shot.frameCount; frame += every)
      yield { frame, planes: await engine.picture({ shotId: shot.id, sourceFrame: frame }) };
  } finally {
    await engine.close();
  }
}

export type FindService = typeof service;

Comlink.expose(service);
