import { useCallback, useEffect, useRef, useState } from 'react';
import { finishDrawing } from './commands';
import { type Drawing, isEnough, withoutLast } from './drawing';
import type { Tool } from './view-store';

/**
 * The outline that is being drawn. Enter finishes it, Backspace takes back a point, Escape or another tool gives it
 * up; going to another frame keeps it.
 */
export function useDrawing(tool: Tool) {
  const [drawing, showDrawing] = useState<Drawing | null>(null);
  // Presses may come faster than the page is drawn: what is being drawn is kept apart from what is shown of it.
  const inDrawing = useRef<Drawing | null>(null);
  const setDrawing = useCallback((next: Drawing | null) => {
    inDrawing.current = next;
    showDrawing(next);
  }, []);

  useEffect(() => {
    if (inDrawing.current && inDrawing.current.kind !== tool) setDrawing(null);
  }, [tool, setDrawing]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const current = inDrawing.current;
      if (!current) return;
      if (event.key === 'Escape') setDrawing(null);
      else if (event.key === 'Backspace') setDrawing(withoutLast(current));
      else if (event.key === 'Enter' && isEnough(current)) {
        finishDrawing(current.kind, current.coordinates);
        setDrawing(null);
      } else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [setDrawing]);

  return { drawing, inDrawing, setDrawing };
}
