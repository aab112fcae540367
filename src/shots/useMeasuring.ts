import { useEffect, useState } from 'react';
import { call } from '@/interface/api';
import type { ShotListing, ShotMedia } from '@/wire/answers';
import { measureMotion, type MotionUnderWay } from './measure-motion';
import { useFinding } from './found-crossings';
import { useUploads } from './uploads';

/** ms for which nobody must have touched the page before footage is measured by itself. */
const quiet = 8000;
/** States of a file on its way in: what works then works for it. */
const underWay = new Set(['checking', 'sending', 'waiting', 'indexing', 'converting']);
/** Shots of more frames are measured only where they are asked for. */
const mostFrames = 4000;

/** Whether a shot's movement is still to be measured by itself. */
export function isToMeasure({ hasMotion, frameCount }: ShotListing): boolean {
  return !hasMotion && frameCount > 1 && frameCount <= mostFrames;
}

/**
 * Measures how new footage moves, one shot after the other, while nothing else is done on a page. What a person does
 * there stops it until it is quiet again.
 *
 * @param onMeasured told of each shot that is done.
 * @returns the shot that is being measured, or null.
 */
export function useMeasuring(shots: readonly ShotListing[], onMeasured: () => void): ShotListing | null {
  const [now, setNow] = useState<ShotListing | null>(null);
  const arriving = useUploads((state) => state.uploads.some(({ state: each }) => underWay.has(each)));
  const finding = useFinding((state) => state.under !== null);
  const busy = arriving || finding;
  const [given, setGiven] = useState<ReadonlySet<string>>(new Set());
  const next = shots.find((shot) => isToMeasure(shot) && !given.has(shot.id));
  useEffect(() => {
    if (!next || busy) return undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let under: MotionUnderWay | null = null;
    let run = 0;
    const measure = async () => {
      const mine = ++run;
      const media = await call<ShotMedia>(`/api/shots/${next.id}`);
      if (mine !== run) return;
      setNow(next);
      under = measureMotion(media, () => undefined);
      await under.measured;
      setNow(null);
      onMeasured();
    };
    const stop = () => {
      run++;
      clearTimeout(timer);
      under?.end();
      under = null;
    };
    const wait = () => {
      stop();
      setNow(null);
      timer = setTimeout(() => {
        if (document.hidden) return wait();
        // A shot that cannot be measured is skipped; the step that needs it says why.
        measure().catch(() => {
          setNow(null);
          setGiven((before) => new Set([...before, next.id]));
        });
      }, quiet);
    };
    wait();
    const touches = ['pointerdown', 'keydown', 'wheel'] as const;
    for (const touch of touches) window.addEventListener(touch, wait, { passive: true });
    return () => {
      for (const touch of touches) window.removeEventListener(touch, wait);
      stop();
    };
  }, [next?.id, busy, onMeasured]); // eslint-disable-line react-hooks/exhaustive-deps
  return now;
}
