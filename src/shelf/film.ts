import { useEffect, useState } from 'react';
import { filmOf } from '@/interface/posters';
import type { FramePicture } from '@/render/posters.worker';

/** ms that a pointer stays before anything is drawn for it. */
const stays = 250;
/** Pictures that are there before it plays, so that it does not catch up with the drawing at once. */
const head = 10;

/** Whether things may move without being asked to. */
const movesUnasked = () => !window.matchMedia('(prefers-reduced-motion: reduce)').matches;

interface Film {
  /** The crossing at a revision. */
  of: string;
  pictures: FramePicture[];
  /** ms from one picture to the next. */
  every: number;
  whole: boolean;
}

/** The film that was pointed at last, once it is whole: some 20 MB. */
let kept: Film | null = null;

/** The result of a crossing, small and playing, while it is pointed at; null where it is not, or not yet. */
export function useFilm(crossingId: string, revision: number, height: number) {
  const [pointed, setPointed] = useState(false);
  const [picture, setPicture] = useState<FramePicture | null>(null);
  const of = `${crossingId} ${revision}`;
  useEffect(() => {
    if (!pointed || !movesUnasked()) return;
    let here = true;
    let film = kept?.of === of ? kept : null;
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
      const drawn: Film = { of, pictures: [], every: 40, whole: false };
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
          kept = drawn;
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
  }, [pointed, crossingId, of, height]);
  return { picture, point: () => setPointed(true), leave: () => setPointed(false) };
}
