import { movedAt, restOf } from '../compose/moves';
import { shownSourceFrame, type Shots } from '../compose/scene';
import { applyChanges, type CrossingDocument, layersInOrder, playedRange } from '../document/document';
import type { RowChange } from '../document/edit';
import { setLayer } from '../document/layer-actions';
import { setMove } from '../document/move-actions';
import type { Finding } from './findings';
import { beyondBorder, borderAt } from './move-checks';

/** What mends a finding about moves; none where it cannot be mended so. */
export function mendMove(document: CrossingDocument, shots: Shots, finding: Finding): RowChange[] {
  if (finding.kind === 'border shows') return enlargeOverBorder(document, shots, finding);
  if (finding.kind === 'not at rest') return bringToRest(document, finding);
  return [];
}

/** Most that a shot is enlarged, times, to fill the frame. */
const mostEnlarged = 4;

/** The lowest shot enlarged, with all its keys, by as little as fills the frame on the finding's frames. */
function enlargeOverBorder(document: CrossingDocument, shots: Shots, { from, to }: Finding): RowChange[] {
  const layer = layersInOrder(document).find(({ visible }) => visible);
  const shot = layer && shots[layer.shotId];
  if (!shot) return [];
  const enlarged = (by: number) => setLayer(document, layer.id, { scale: Math.min(2000, layer.scale * by) });
  const fills = (by: number) => {
    const after = applyChanges(document, enlarged(by));
    for (let frame = from; frame <= to; frame++) {
      const source = shownSourceFrame(after, after.layers[layer.id], shot, frame);
      if (source !== null && borderAt(after, after.layers[layer.id], shot, frame, source) > beyondBorder)
        return false;
    }
    return true;
  };
  if (!fills(mostEnlarged)) return [];
  let [low, high] = [1, mostEnlarged];
  while (high - low > 0.001) {
    const middle = (low + high) / 2;
    if (fills(middle)) high = middle;
    else low = middle;
  }
  return enlarged(high);
}

/** Keys on the finding's frame at which the shot, and the whole picture, is as it is at rest. */
function bringToRest(document: CrossingDocument, { worst: frame }: Finding): RowChange[] {
  const role = frame === playedRange(document)[0] ? 'outgoing' : 'incoming';
  const layer = layersInOrder(document).find((each) => each.visible && each.role === role);
  if (!layer) return [];
  return [layer.id, document.crossing.id].flatMap((id) => {
    const [moved, rest] = [movedAt(document, id, frame), restOf(document, id)];
    const key = (channel: 'place' | 'size' | 'turn' | 'opacity', value: number, second = 0) =>
      setMove(document, id, channel, frame, value, second);
    return [
      ...(moved.x !== rest.x || moved.y !== rest.y ? key('place', rest.x, rest.y) : []),
      ...(['size', 'turn', 'opacity'] as const).flatMap((channel) =>
        moved[channel] !== rest[channel] ? key(channel, rest[channel]) : [],
      ),
    ];
  });
}
