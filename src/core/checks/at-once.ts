import { opacityAt } from '../compose/moves';
import { layerSourceFrame, shownSourceFrame, type Shots } from '../compose/source-frames';
import type { CrossingDocument, LayerRow, OutlineRow } from '../document/tables';
import { layoutOf, tracedLayer } from '../document/plans';
import { shapeAt } from '../outline';
import type { Finding } from './findings';

/** Share of the frame that no edge takes from one frame to the next (common practice, no source). */
const mostAtOnce = 1 / 3;

/**
 * Frames on which more is covered, or less, than an edge takes in one frame, as where all is cut after the last pose. Where
 * the traced shot itself begins or ends there it is a cut, and meant.
 *
 * @param cutting the outlines that cut the traced layer. @param said frames of which this has been said already.
 */
export function coveredAtOnce(
  document: CrossingDocument,
  shots: Shots,
  coverage: ArrayLike<number>,
  cutting: readonly OutlineRow[],
  { first, last, said }: { first: number; last: number; said: readonly number[] },
): Finding[] {
  const layer = tracedLayer(document);
  if (!layer) return [];
  const found: Finding[] = [];
  for (let frame = first + 1; frame <= last; frame++) {
    const by = coverage[frame] - coverage[frame - 1];
    if (Math.abs(by) <= mostAtOnce || said.includes(frame - 1) || isCut(document, shots, layer, frame))
      continue;
    const cause = causeOf(document, shots, cutting, frame);
    found.push({
      kind: 'covered at once',
      outlineId: (cause?.outline ?? cutting[0]).id,
      from: frame,
      to: frame,
      worst: frame,
      says: `Frame ${frame}: ${Math.round(100 * Math.abs(by))} % of the picture ${by > 0 ? 'is covered' : 'comes back'} in one frame${cause ? `: ${cause.says}` : ''}.`,
      place: null,
      fix: cause?.kept ? 'keep as posed' : null,
    });
  }
  return found;
}

/** Whether the layer is seen on one of two neighbouring frames only. */
function isCut(document: CrossingDocument, shots: Shots, layer: LayerRow, frame: number): boolean {
  const shot = shots[layer.shotId];
  const seen = (at: number) =>
    shown(document, layer, at) && shot && shownSourceFrame(document, layer, shot, at) !== null;
  return Boolean(seen(frame)) !== Boolean(seen(frame - 1));
}

const shown = (document: CrossingDocument, layer: LayerRow, frame: number) =>
  layer.visible && opacityAt(document, layer, frame) > 0;

/** The outline that is posed on one of two neighbouring frames only, and what that does. */
function causeOf(
  document: CrossingDocument,
  shots: Shots,
  cutting: readonly OutlineRow[],
  frame: number,
): { outline: OutlineRow; says: string; kept: boolean } | null {
  const stays = layoutOf(document.crossing.plan).until !== 'fills';
  for (const outline of cutting) {
    const layer = document.layers[outline.layerId];
    const shot = layer && shots[layer.shotId];
    if (!shot) continue;
    const [before, now] = [frame - 1, frame].map(
      (at) =>
        shapeAt(document.poses[outline.id] ?? [], layerSourceFrame(document, layer, shot, at), outline).state,
    );
    const outlined = (state: typeof now) => state === 'posed' || state === 'in-between';
    if (outlined(before) && now === 'full')
      return { outline, says: `${outline.name} cuts everything after its last pose`, kept: stays };
    if (outlined(before) && now === 'empty')
      return { outline, says: `${outline.name} cuts nothing after its last pose`, kept: stays };
    if (outlined(now) && !outlined(before))
      return {
        outline,
        says: `${outline.name} has its first pose there; trace it back to where it comes in`,
        kept: false,
      };
  }
  return null;
}
