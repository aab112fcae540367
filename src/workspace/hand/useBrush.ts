import { useCallback, useRef, useState } from 'react';
import type { Stroke } from '@/core/subject/strokes';
import { paint, usePainting } from '../trace/painting';
import { useLetGo } from '@/interface/useLetGo';

/** The stroke that the pressed pointer paints. Alt turns *this* into *not this* and the other way round; Escape lets go. */
export function useBrush(shotWidth: number) {
  const [live, showLive] = useState<Stroke | null>(null);
  const held = useRef<Stroke | null>(null);
  const hold = useCallback((stroke: Stroke | null) => {
    held.current = stroke;
    showLive(stroke);
  }, []);
  const letGo = useCallback(() => hold(null), [hold]);
  useLetGo(() => held.current !== null, letGo);

  const press = (at: readonly [number, number], event: PointerEvent) => {
    const { mark, size } = usePainting.getState();
    const other = mark === 'this' ? ('not this' as const) : ('this' as const);
    hold({ mark: event.altKey && mark !== 'open' ? other : mark, radius: size * shotWidth, path: [...at] });
  };

  /** Follows the pointer; false when nothing is painted. */
  const follow = (at: readonly [number, number]): boolean => {
    const stroke = held.current;
    if (!stroke) return false;
    hold({ ...stroke, path: [...stroke.path, ...at] });
    return true;
  };

  /** The pointer is let go; false when nothing was painted. */
  const release = (): boolean => {
    const stroke = held.current;
    if (!stroke) return false;
    paint(stroke);
    hold(null);
    return true;
  };

  return { live, press, follow, release, letGo };
}
