import type { Shot } from '@/core/model/shot';
import { call } from '@/interface/api';
import { startWorker, told } from '@/interface/start-worker';
import type { MotionService } from '@/render/motion.worker';
import type { ShotMedia } from '@/wire/answers';

/** A shot whose movement is being measured. */
export interface MotionUnderWay {
  /** The shot with its movement, once it is kept; rejects where it could not be measured. */
  measured: Promise<Shot>;
  /** Gives up, at once: `measured` is never told. */
  end(): void;
}

/** Measures how a shot moves, in a worker of its own, and keeps it. @param hear told the share that is done. */
export function measureMotion(media: ShotMedia, hear: (share: number) => void): MotionUnderWay {
  const running = startWorker<MotionService>(
    new Worker(new URL('../render/motion.worker.ts', import.meta.url), { type: 'module' }),
  );
  const measured = (async () => {
    try {
      const found = running.service.measure(media, told(hear));
      const motion = await Promise.race([found, running.failed]);
      await call(`/api/shots/${media.shot.id}/motion`, 'PUT', motion);
      return { ...media.shot, motion };
    } finally {
      running.end();
    }
  })();
  return { measured, end: () => running.end() };
}
