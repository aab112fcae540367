import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { crossingFrameOf } from '../time/time-map';

/** The frames between which the edge seems to move, and what that rests on. */
export interface EdgeProposal {
  opens: number;
  closes: number;
  basis: string;
}

/** Crossing frames proposed for *opens* and *closes* from what crosses the traced shot; null when nothing does. */
export function proposeEdge(document: CrossingDocument, layer: LayerRow, shot: Shot): EdgeProposal | null {
  const crosser = shot.motion?.crosser;
  if (!crosser) return null;
  const { rateNum, rateDen, length } = document.crossing;
  const at = (source: number) =>
    crossingFrameOf(source, { ...layer, holdFrom: null }, { num: rateNum, den: rateDen }, shot);
  const within = (frame: number) => Math.min(length - 1, Math.max(0, frame));
  const [opens, closes] = [at(crosser.opens), at(crosser.closes)].sort((a, b) => a - b);
  if (closes < 0 || opens > length - 1) return null;
  const way = crosser.direction > 0 !== layer.flip ? 'right' : 'left';
  const basis =
    crosser.kind === 'across'
      ? `Something moves ${way} against the picture, ${Math.abs(crosser.speed).toFixed(0)} px a frame; its trailing edge enters and leaves here.`
      : 'Something in the picture begins to move here, and comes to rest.';
  return { opens: within(opens), closes: within(closes), basis };
}
