import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { shotMapAt } from './moves';
import { lensOf, asFilmed } from '../geometry/lens';
import { applyAffine } from '../geometry/affine';

/** px of the shot by which a corner of the frame may lie beyond it: less is not seen. */
export const beyondBorder = 0.5;

/** px of the shot by which the frame's border lies beyond a layer's shot, at most; less than 0 where it does nowhere. */
export function borderAt(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
  source: number,
): number {
  const { width, height } = document.crossing;
  const map = shotMapAt(document, layer, shot, frame, source);
  const lens = lensOf(layer.lens, shot);
  // Where a lens bows the sides, their middles too.
  const shares = lens ? [0, 0.25, 0.5, 0.75, 1] : [0, 1];
  let most = -Infinity;
  for (const across of shares)
    for (const down of shares) {
      if (across % 1 !== 0 && down % 1 !== 0) continue;
      const straight = applyAffine(map, across * width, down * height);
      const [x, y] = lens ? asFilmed(lens, ...straight) : straight;
      most = Math.max(most, -x, -y, x - shot.width, y - shot.height);
    }
  return most;
}
