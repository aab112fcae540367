import { useCallback, useEffect, useRef, useState } from 'react';
import { finishDrawing } from '../trace/commands';
import {
  begun,
  begunOnEdge,
  type Drawing,
  type EdgeDrawing,
  finished,
  isEnough,
  type Place,
  pulled,
  straightTo,
  withoutLast,
  withPoint,
  withStretch,
} from './drawing';
import { alongEdge } from '../trace/edge-trail';
import type { DrawnBy, Tool } from '../view-store';

/**
 * The outline that is being drawn. Enter finishes it, Backspace takes back a point or a stretch, Escape or another tool
 * gives it up; going to another frame keeps it.
 *
 * @param drawnBy how seams and loops are drawn; Shift draws along the edge meanwhile, Alt lets go of it.
 * @param reach px of the shot within which two places count as one.
 */
export function useDrawing(tool: Tool, drawnBy: DrawnBy, reach: number) {
  const [drawing, showDrawing] = useState<Drawing | null>(null);
  // Presses may come faster than the page is drawn: what is being drawn is kept apart from what is shown of it.
  const inDrawing = useRef<Drawing | null>(null);
  const setDrawing = useCallback((next: Drawing | null) => {
    inDrawing.current = next;
    showDrawing(next);
  }, []);
  // Presses along the edge are answered one after the other; of moves of the pointer only the last counts.
  const answers = useRef(Promise.resolve());
  const unanswered = useRef(0);
  /** Counts Escapes, so that a press that was asked about before one is let go. */
  const givenUp = useRef(0);
  const pointed = useRef<Place | null>(null);
  const asking = useRef(false);
  const finish = useCallback(() => {
    const current = inDrawing.current;
    if (!current) return;
    const { kind, coordinates } = finished(current, reach / 6);
    if (isEnough(kind, coordinates)) finishDrawing(kind, coordinates);
    else if (current.by === 'points' || current.by === 'edge') return;
    setDrawing(null);
  }, [reach, setDrawing]);

  /** Does something once every press so far has its line; at once where none waits. */
  const afterPresses = useCallback((work: () => unknown) => {
    if (unanswered.current === 0) work();
    else answers.current = answers.current.then(() => void work());
  }, []);

  useEffect(() => {
    const current = inDrawing.current;
    const goesOn = current?.by === 'points' || current?.by === 'edge';
    if (goesOn && current.kind === tool) return;
    // Also what a press that waits for its line would begin.
    givenUp.current++;
    if (current) setDrawing(null);
  }, [tool, setDrawing]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!inDrawing.current && unanswered.current === 0) return;
      if (event.key === 'Escape') {
        setDrawing(null);
        givenUp.current++;
      } else if (event.key === 'Backspace') {
        afterPresses(() => inDrawing.current && setDrawing(withoutLast(inDrawing.current)));
      } else if (event.key === 'Enter') afterPresses(finish);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [setDrawing, finish, afterPresses]);

  const followsEdge = (event: PointerEvent) => (drawnBy === 'edge' ? !event.altKey : event.shiftKey);

  const isFirst = (at: Place, [x, y]: Place) => Math.hypot(at[0] - x, at[1] - y) < reach;

  /** A press while a line along the edge is drawn, or the one that begins it. */
  const pressOnEdge = async (kind: 'seam' | 'loop', at: Place, follows: boolean) => {
    const current = inDrawing.current?.by === 'edge' ? inDrawing.current : null;
    const closes =
      kind === 'loop' && current && current.presses.length > 2 && isFirst(at, current.presses[0]);
    const from = current ? current.presses[current.presses.length - 1] : null;
    const to = closes ? current.presses[0] : at;
    const attempt = givenUp.current;
    const found = follows ? await alongEdge(from, to, closes ? 0 : reach) : null;
    if (givenUp.current !== attempt || (current && !sameStretches(inDrawing.current, current))) return;
    const place = found?.to ?? to;
    if (!current) setDrawing(begunOnEdge(kind, place));
    else setDrawing(withStretch(current, place, found?.line ?? straightTo(from!, place)));
    if (closes) finish();
  };

  /** Shows the line from the last press to the pointer. */
  const point = (at: Place, event: PointerEvent) => {
    const current = inDrawing.current;
    if (current?.by !== 'edge') return;
    if (!followsEdge(event)) {
      pointed.current = null;
      setDrawing({ ...current, live: [...at] });
      return;
    }
    pointed.current = at;
    if (!asking.current) void askForLine();
  };

  const askForLine = async () => {
    asking.current = true;
    try {
      for (let at = pointed.current; at; at = pointed.current) {
        pointed.current = null;
        const current = inDrawing.current;
        if (current?.by !== 'edge') return;
        const found = await alongEdge(current.presses[current.presses.length - 1], at, 0);
        const now = inDrawing.current;
        if (sameStretches(now, current)) setDrawing({ ...now, live: found?.line ?? [...at] });
      }
    } finally {
      asking.current = false;
    }
  };

  /** A press of the pointer with a drawing tool. */
  const press = (at: Place, event: PointerEvent) => {
    const current = inDrawing.current;
    if (tool === 'rectangle' || tool === 'ellipse')
      return setDrawing({ by: 'corners', shape: tool, from: [...at], to: [...at] });
    if (tool !== 'seam' && tool !== 'loop') return;
    const follows = followsEdge(event);
    if (current?.by === 'edge' || unanswered.current > 0 || (!current && follows)) {
      pointed.current = null;
      const attempt = givenUp.current;
      unanswered.current++;
      answers.current = answers.current
        .then(() => (givenUp.current === attempt ? pressOnEdge(tool, at, follows) : undefined))
        .finally(() => unanswered.current--);
      return;
    }
    if (drawnBy === 'freehand') return setDrawing({ by: 'trail', kind: tool, trail: [...at] });
    if (current?.by !== 'points' || current.kind !== tool) return setDrawing(begun(tool, ...at));
    const [x, y] = current.coordinates;
    if (tool === 'loop' && isFirst(at, [x, y]) && isEnough('loop', current.coordinates)) finish();
    else setDrawing(withPoint(current, ...at));
  };

  /** Follows the pointer, pressed or not; false when nothing is being drawn with it. */
  const follow = (at: Place, event: PointerEvent): boolean => {
    const current = inDrawing.current;
    if (current?.by === 'edge') point(at, event);
    else if (current?.by === 'trail') setDrawing({ ...current, trail: [...current.trail, ...at] });
    else if (current?.by === 'corners') setDrawing({ ...current, to: [...at] });
    else if (current?.pulling) setDrawing(pulled(current, ...at, reach / 2));
    else return false;
    return true;
  };

  /** The pointer is let go; false when nothing was being drawn with it. */
  const release = (): boolean => {
    const current = inDrawing.current;
    if (current?.by === 'points') {
      if (!current.pulling) return false;
      setDrawing({ ...current, pulling: false });
      return true;
    }
    if (!current) return false;
    if (current.by !== 'edge') finish();
    return true;
  };

  return { drawing, press, follow, release, finish: () => afterPresses(finish) };
}

/** Whether a drawing is still the same, but for the line to the pointer. */
function sameStretches(now: Drawing | null, before: EdgeDrawing): now is EdgeDrawing {
  return now?.by === 'edge' && now.stretches === before.stretches;
}
