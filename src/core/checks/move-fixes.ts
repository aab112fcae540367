import { movedAt, restOf } from '../compose/moves';
import { shownSourceFrame, type Shots } from '../compose/source-frames';
import { layersInOrder, playedRange } from '../document/document';
import type { CrossingDocument } from '../document/tables';
import type { RowChange } from '../document/edit';
import { setLayer } from '../actions/layer-actions';
import { setMove } from '../actions/move-actions';
import { assertNever } from '../model/assert-never';
import { type Finding, isMoveFix } from './findings';
import { smoothJolts } from './jolts';
import { enlargementOver, mostScale } from '../move/level';

/** Row changes that mend a finding about moves; none where it cannot be mended here. */
export function mendMove(document: CrossingDocument, shots: Shots, finding: Finding): RowChange[] {
  const { fix } = finding;
  if (!fix || !isMoveFix(fix)) return [];
  switch (fix) {
    case 'enlarge':
      return enlargeOverBorder(document, shots, finding);
    case 'bring to rest':
      return bringToRest(document, finding);
    case 'smooth jolt':
      return smoothJolts(document, finding);
    case 'mix frames':
      return mixBetween(document, shots, finding);
    default:
      return assertNever(fix);
  }
}

/** The lowest shot enlarged, with all its keys, by as little as fills the frame on the finding's frames. */
function enlargeOverBorder(document: CrossingDocument, shots: Shots, { from, to }: Finding): RowChange[] {
  const layer = layersInOrder(document).find(({ visible }) => visible);
  const by = layer && enlargementOver(document, shots, layer, from, to);
  return by && by > 1 ? setLayer(document, layer.id, { scale: Math.min(mostScale, layer.scale * by) }) : [];
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

/** Mixes the frames of the ramped layers that repeat theirs on the finding's frame. */
function mixBetween(document: CrossingDocument, shots: Shots, { worst }: Finding): RowChange[] {
  return layersInOrder(document)
    .filter((layer) => {
      const shot = shots[layer.shotId];
      if (!shot || !layer.visible || layer.ramp.length === 0 || layer.betweens === 'mixed') return false;
      const at = (frame: number) => shownSourceFrame(document, layer, shot, frame);
      return at(worst) !== null && at(worst) === at(worst - 1);
    })
    .flatMap((layer) => setLayer(document, layer.id, { betweens: 'mixed' }));
}
