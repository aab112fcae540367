import { useEffect } from 'react';
import { isLarge } from '@/footage/work-copy';
import { useDocument } from './document-store';

/** ms between two looks whether a work copy is there. */
const lookEvery = 6000;

/** Takes over work copies of large shots as soon as they are made. */
export function useWorkCopies() {
  const awaited = useDocument(({ shots }) =>
    shots.some(({ shot, work, stills }) => !work && !stills && isLarge(shot)),
  );
  useEffect(() => {
    if (!awaited) return;
    const timer = setInterval(() => void useDocument.getState().lookForWorkCopies(), lookEvery);
    return () => clearInterval(timer);
  }, [awaited]);
}
