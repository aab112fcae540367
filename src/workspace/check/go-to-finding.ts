import type { Finding } from '@/core/checks/findings';
import { goTo } from '../session/go-to';
import { setSound } from '../session/sound-store';
import { showView } from '../view/show';
import { setView } from '../view/view-store';

/** Goes to a finding's worst frame, with what it is about in hand. */
export function goToFinding({ kind, worst, outlineId, pieceId }: Finding) {
  setView({ playing: false, ...(outlineId ? { outlineId, points: new Set<number>() } : {}) });
  goTo(worst);
  if (pieceId) {
    setSound({ pieceId });
    setView({ lane: 'sound' });
  }
  if (outlineId && kind !== 'ends open') showView('plain');
}
