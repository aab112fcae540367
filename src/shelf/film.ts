import { useEffect, useRef, useState } from 'react';
import { filmOf } from '@/interface/posters';
import type { FramePicture } from '@/render/posters.worker';

/** ms that a pointer stays before anything is drawn for it. */
const stays = 250;
/** Pictures that are there before it plays, so that it does not catch up with the drawing at once. */
const head = 10;

const stillWanted = () => window.matchMedia('(prefers-reduced-motion: reduce)').matches;

/** The result of a crossing, small and playing, while it is pointed at; null where it is not, or not yet. */
export function useFilm(crossingId: string, revision: number, height: number) {
  const [pointed, setPointed] = useState(false);
  const [picture, setPicture] = useState<FramePicture | null>(null);
  const held = useRef<{ revision: number; whole: boolean; pictures: FramePicture[]; every: number } | null>(
    null,
  );
  useEffect(() => {
    if (!pointed || stillWanted()) return;
    let here = true;
    let film = held.current?.revision === revision && held.current.whole ? held.current : null;
    let playing: ReturnType<typeof setInterval> | undefined;
    let at = 0;
    const play = (every: number) => {
      playing ??= setInterval(() => {
        if (!film) return;
        // Where the drawing is behind it waits; at the end of the whole it begins again.
        if (at + 1 < film.pictures.length) at++;
        else if (film.whole) at = 0;
        setPicture(film.pictures[at]);
      }, every);
    };
    const timer = setTimeout(() => {
      if (film) return play(film.every);
      const drawn = { revision, whole: false, pictures: [] as FramePicture[], every: 40 };
      film = drawn;
      filmOf(crossingId, height, (next, every) => {
        drawn.pictures.push(next);
        drawn.every = every;
        if (here && drawn.pictures.length === head) play(every);
        return here;
      }).then(
        () => {
          if (!here) return;
          drawn.whole = true;
          held.current = drawn;
          play(drawn.every);
        },
        // A crossing that cannot be drawn keeps its picture; its card says why.
        () => {},
      );
    }, stays);
    return () => {
      here = false;
      clearTimeout(timer);
      clearInterval(playing);
      setPicture(null);
    };
  }, [pointed, crossingId, revision, height]);
  return { picture, point: () => setPointed(true), leave: () => setPointed(false) };
}
