import { useCallback, useEffect, useRef, useState } from 'react';
import type { Place } from '@/core/trail/edge-trail';
import { finishDrawing } from '../trace/commands';
import { begun, type Drawing, finished, isEnough, pulled, withoutLast, withPoint } from './drawing';
import { EdgeDrawer } from './edge-drawer';
import { alongEdge } from '../trace/edge-trail';
import type { DrawnBy, Tool } from '../view/view-store';

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
  const [edge] = useState(
    () => new EdgeDrawer({ drawing: () => inDrawing.current, draw: setDrawing }, alongEdge),
  );
  const finish = useCallback(() => {
    const current = inDrawing.current;
    if (!current) return;
    const { kind, coordinates } = finished(current, reach / 6);
    if (isEnough(kind, coordinates)) finishDrawing(kind, coordinates);
    else if (current.by === 'points' || current.by === 'edge') return;
    setDrawing(null);
  }, [reach, setDrawing]);

  useEffect(() => {
    const current = inDrawing.current;
    const goesOn = current?.by === 'points' || current?.by === 'edge';
    if (goesOn && current.kind === tool) return;
    edge.giveUp();
    if (current) setDrawing(null);
  }, [tool, setDrawing, edge]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!inDrawing.current) return;
      if (event.key === 'Escape') {
        edge.giveUp();
        setDrawing(null);
      } else if (event.key === 'Backspace')
        edge.afterPresses(() => inDrawing.current && setDrawing(withoutLast(inDrawing.current)));
      else if (event.key === 'Enter') edge.afterPresses(finish);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [setDrawing, finish, edge]);

  const followsEdge = (event: PointerEvent) => (drawnBy === 'edge' ? !event.altKey : event.shiftKey);

  /** A press of the pointer with a drawing tool. */
  const press = (at: Place, event: PointerEvent) => {
    const current = inDrawing.current;
    if (tool === 'rectangle' || tool === 'ellipse')
      return setDrawing({ by: 'corners', shape: tool, from: [...at], to: [...at] });
    if (tool !== 'seam' && tool !== 'loop') return;
    const follows = followsEdge(event);
    if (current?.by === 'edge' || (!current && follows)) return edge.press(tool, at, follows, reach, finish);
    if (drawnBy === 'freehand') return setDrawing({ by: 'trail', kind: tool, trail: [...at] });
    if (current?.by !== 'points' || current.kind !== tool) return setDrawing(begun(tool, ...at));
    const [x, y] = current.coordinates;
    if (tool === 'loop' && Math.hypot(at[0] - x, at[1] - y) < reach && isEnough('loop', current.coordinates))
      finish();
    else setDrawing(withPoint(current, ...at));
  };

  /** Follows the pointer, pressed or not; false when nothing is being drawn with it. */
  const follow = (at: Place, event: PointerEvent): boolean => {
    const current = inDrawing.current;
    if (current?.by === 'edge') edge.point(at, followsEdge(event));
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

  return { drawing, press, follow, release, finish: () => edge.afterPresses(finish) };
}
