import { changeLayer, draftLayer, shotOfLayer, slippedOffset } from '../line-up/lining-up';
import { layerName } from '../session/layer-name';
import { useDocument } from '../document/document-store';
import { setView } from '../view/view-store';

/** Height of a row of the sheet, px: dragging a column by as much slips its shot by a frame. */
export const rowHeight = 34;
/** Shift makes a row's drag stand for this many frames. */
const coarse = 10;

/** Begins to slip a layer by its column; lives until the pointer is let go. Escape gives up. */
export function startSlipping(start: PointerEvent, layerId: string) {
  const layer = useDocument.getState().document?.layers[layerId];
  const shot = layer && shotOfLayer(layer);
  if (!layer || !shot || start.button !== 0) return;
  setView({ layerId, playing: false });
  let by = 0;
  const draft = (event: PointerEvent) => {
    const rows = (event.clientY - start.clientY) / rowHeight;
    by = Math.round(rows * (event.shiftKey ? coarse : 1));
    if (by === 0) setView({ draft: null });
    else draftLayer(layer, { offset: slippedOffset(layer, shot, by) });
  };
  const end = () => {
    window.removeEventListener('pointermove', draft);
    window.removeEventListener('pointerup', take);
    window.removeEventListener('pointercancel', giveUp);
    window.removeEventListener('keydown', onKey, true);
  };
  const take = () => {
    end();
    if (by === 0) return;
    // The row under the pointer is not meant to be gone to; a press that ends on another row makes no click.
    const swallow = (event: MouseEvent) => event.stopPropagation();
    window.addEventListener('click', swallow, { capture: true, once: true });
    setTimeout(() => window.removeEventListener('click', swallow, true));
    const way = `${Math.abs(by)} ${Math.abs(by) === 1 ? 'frame' : 'frames'} ${by > 0 ? 'later' : 'earlier'}`;
    changeLayer(`Slip the ${layerName(layer)} ${way}`, layer, { offset: slippedOffset(layer, shot, by) });
  };
  const giveUp = () => {
    end();
    setView({ draft: null });
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    giveUp();
  };
  window.addEventListener('pointermove', draft);
  window.addEventListener('pointerup', take);
  window.addEventListener('pointercancel', giveUp);
  window.addEventListener('keydown', onKey, true);
}
