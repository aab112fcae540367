import { setCrossing } from '@/core/actions/layer-actions';
import type { BlurBorder } from '@/core/model/choices';
import { riseAndFall as keysOfRise } from '@/core/move/blurs';
import { useDocument } from '../document/document-store';
import { edit } from '../session/edit';
import { setView, useView } from '../view/view-store';
import { moverNow } from './mover';

/** What a person does to blurs. */

export function changeShutter(moveShutter: number) {
  const { document } = useDocument.getState();
  if (!document || document.crossing.moveShutter === moveShutter) return;
  edit(`Shutter of what moves: ${moveShutter}°`, setCrossing(document, { moveShutter }));
}

/** What blurs show beyond a shot's borders. */
export function changeBlurBorder(blurBorder: BlurBorder) {
  const { document } = useDocument.getState();
  if (document && document.crossing.blurBorder !== blurBorder)
    edit('Borders of what is blurred', setCrossing(document, { blurBorder }));
}

/** A blur that rises to this frame and falls after it. */
export function riseAndFall(channel: 'blur-along' | 'blur-towards') {
  const { document } = useDocument.getState();
  const [id, { frame }] = [moverNow(), useView.getState()];
  if (!document || !id) return;
  edit('A blur that rises and falls', keysOfRise(document, id, channel, frame));
  setView({ lane: channel });
}
