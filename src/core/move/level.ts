import { beyondBorder, borderAt } from '../compose/border';
import { bendsAt } from '../compose/bends';
import { shotMapAt } from '../compose/moves';
import { layerSourceFrame, shownSourceFrame, type Shots } from '../compose/source-frames';
import { applyChanges, playedRange } from '../document/document';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { RowChange } from '../document/edit';
import { setLayer } from '../actions/layer-actions';
import { applyAffine, invert } from '../geometry/affine';
import { levelling } from '../geometry/lens';

/** Most percent that a shot is shown at, and most that it is enlarged by, times, to fill the frame. */
export const mostScale = 2000;
const mostEnlarged = 4;

/**
 * By how much, times, a layer has to be enlarged to fill the frame on all frames of a stretch; to a thousandth.
 *
 * @returns 1 where it fills it; null where even four times do not.
 */
export function enlargementOver(
  document: CrossingDocument,
  shots: Shots,
  { id, shotId, scale }: LayerRow,
  from: number,
  to: number,
): number | null {
  const shot = shots[shotId];
  if (!shot) return null;
  const fills = (by: number) => {
    const after = applyChanges(document, setLayer(document, id, { scale: Math.min(mostScale, scale * by) }));
    const layer = after.layers[id];
    for (let frame = from; frame <= to; frame++) {
      const source = shownSourceFrame(after, layer, shot, frame);
      if (source !== null && borderAt(after, layer, shot, frame, source) > beyondBorder) return false;
    }
    return true;
  };
  if (fills(1)) return 1;
  if (!fills(mostEnlarged)) return null;
  let [low, high] = [1, mostEnlarged];
  while (high - low > 0.001) {
    const middle = (low + high) / 2;
    if (fills(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/** Settings of a layer for all frames, and the least enlargement with which it fills the frame still, if it did before. */
export function setAndFill(
  document: CrossingDocument,
  shots: Shots,
  layer: LayerRow,
  settings: Partial<LayerRow>,
): RowChange[] {
  const [first, last] = playedRange(document);
  const filled = enlargementOver(document, shots, layer, first, last) === 1;
  const after = applyChanges(document, setLayer(document, layer.id, settings));
  const by = filled ? enlargementOver(after, shots, after.layers[layer.id], first, last) : 1;
  const scale = Math.min(mostScale, after.layers[layer.id].scale * (by ?? 1));
  return setLayer(document, layer.id, { ...settings, scale });
}

/**
 * Degrees by which a layer has to be turned so that lines that should be level or upright are so on a frame: the mean of
 * what each asks for, longer ones counting more.
 *
 * @param lines x and y of places along each, px of the shot.
 * @returns null where there is no line.
 */
export function turnThatLevels(
  document: CrossingDocument,
  shots: Shots,
  layer: LayerRow,
  frame: number,
  lines: readonly (readonly number[])[],
): number | null {
  const shot = shots[layer.shotId];
  if (!shot) return null;
  const source = layerSourceFrame(document, layer, shot, frame);
  const fromShot = invert(shotMapAt(document, layer, shot, frame, source));
  const bends = bendsAt(document, layer, shot, frame);
  let [sum, weight] = [0, 0];
  for (const line of lines) {
    const [from, to] = [0, line.length - 2].map((i) =>
      applyAffine(
        fromShot,
        ...(bends ? bends.there(line[i], line[i + 1]) : ([line[i], line[i + 1]] as const)),
      ),
    );
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (length === 0) continue;
    sum += levelling([...from, ...to]) * length;
    weight += length;
  }
  return weight === 0 ? null : sum / weight;
}
