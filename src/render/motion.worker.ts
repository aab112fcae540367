import * as Comlink from 'comlink';
import { lookOf } from '@/core/colour/looks';
import { lookEvery, type ShotMotion } from '@/core/model/shot';
import { MotionMeasure } from '@/core/motion/measure';
import { uprightLuma } from '@/core/motion/upright';
import type { ShotMedia } from '@/wire/answers';
import { PictureEngine } from './engine';

const service = {
  /**
   * Measures how a shot moves, all of it.
   *
   * @param onProgress told the share that is done, 0 to 1.
   */
  async measure(media: ShotMedia, onProgress: (share: number) => void): Promise<ShotMotion> {
    const { shot } = media;
    const engine = new PictureEngine([media], 64e6);
    try {
      const measure = new MotionMeasure(shot.width, shot.height);
      const looks: number[] = [];
      let told = 0;
      for (let frame = 0; frame < shot.frameCount; frame++) {
        const planes = await engine.picture({ shotId: shot.id, sourceFrame: frame });
        const { values, width, height } = uprightLuma(planes, shot.rotation);
        measure.add(values, width, height);
        if (frame % lookEvery === 0) looks.push(...lookOf(planes));
        if (performance.now() - told < 100) continue;
        told = performance.now();
        onProgress((frame + 1) / shot.frameCount);
      }
      const { frames, crosser, cuts } = measure.result();
      const short = (values: readonly number[]) => values.map((value) => Math.round(value * 1e5) / 1e5);
      return { frames: short(frames), crosser, looks: short(looks), cuts };
    } finally {
      await engine.close();
    }
  },
};

export type MotionService = typeof service;

Comlink.expose(service);
