import { useEffect } from 'react';

/** Escape lets go of what a hand holds, before any other key binding hears of it. */
export function useLetGo(held: () => boolean, letGo: () => void) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !held()) return;
      letGo();
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  });
}
