import { useCallback, useEffect, useRef, useState } from 'react';
import { finishDrawing } from '../trace/commands';
import { begun, type Drawing, finished, isEnough, kindOf, pulled, withoutLast, withPoint } from './drawing';
import type { Tool } from '../view-store';

type Place = [x: number, y: number];

/**
 * The outline that is being drawn. Enter finishes it, Backspace takes back a point, Escape or another tool gives it
 * up; going to another frame keeps it.
 *
 * @param freehand whether seams and loops follow the pressed pointer.
 * @param reach px of the shot within which two places count as one.
 */
export function useDrawing(tool: Tool, freehand: boolean, reach: number) {
  const [drawing, showDrawing] = useState<Drawing | null>(null);
  // Presses may come faster than the page is drawn: what is being drawn is kept apart from what is shown of it.
  const inDrawing = useRef<Drawing | null>(null);
  const setDrawing = useCallback((next: Drawing | null) => {
    inDrawing.current = next;
    showDrawing(next);
  }, []);
  const finish = useCallback(() => {
    const current = inDrawing.current;
    if (!current) return;
    const { kind, coordinates } = finished(current, reach / 6);
    if (isEnough(kind, coordinates)) finishDrawing(kind, coordinates);
    else if (current.by === 'points') return;
    setDrawing(null);
  }, [reach, setDrawing]);

  useEffect(() => {
    const current = inDrawing.current;
    if (current && (current.by !== 'points' || current.kind !== tool)) setDrawing(null);
  }, [tool, setDrawing]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const current = inDrawing.current;
      if (!current) return;
      if (event.key === 'Escape') setDrawing(null);
      else if (event.key === 'Backspace') setDrawing(withoutLast(current));
      else if (event.key === 'Enter') finish();
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [setDrawing, finish]);

  /** A press of the pointer with a drawing tool. */
  const press = (at: Place) => {
    const current = inDrawing.current;
    if (tool === 'rectangle' || tool === 'ellipse')
      return setDrawing({ by: 'corners', shape: tool, from: at, to: at });
    if (tool !== 'seam' && tool !== 'loop') return;
    if (freehand) return setDrawing({ by: 'trail', kind: tool, trail: [...at] });
    if (current?.by !== 'points' || current.kind !== tool) return setDrawing(begun(tool, ...at));
    const [x, y] = current.coordinates;
    if (tool === 'loop' && Math.hypot(at[0] - x, at[1] - y) < reach && isEnough('loop', current.coordinates))
      finish();
    else setDrawing(withPoint(current, ...at));
  };

  /** Follows the pressed pointer; false when nothing is being drawn with it. */
  const follow = (at: Place): boolean => {
    const current = inDrawing.current;
    if (current?.by === 'trail') setDrawing({ ...current, trail: [...current.trail, ...at] });
    else if (current?.by === 'corners') setDrawing({ ...current, to: at });
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
    finish();
    return true;
  };

  return { drawing, press, follow, release, finish, kind: drawing && kindOf(drawing) };
}
