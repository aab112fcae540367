import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { applyHomography, type Homography } from '../geometry/homography';
import { asFilmed, type Lens, lensOf, straightened } from '../geometry/lens';
import { inverse3 } from '../geometry/matrix3';
import { bentAt } from './moves';

type Place = [x: number, y: number];

/** What bends a shot's picture before it is placed: its lens undone, then its corners pulled; px of the shot both ways. */
export interface Bends {
  /** Where a place of the shot as it was filmed is seen. */
  there(x: number, y: number): Place;
  /** The place of the shot as it was filmed that is seen at a place. */
  back(x: number, y: number): Place;
}

/**
 * @param pulled from the shot with its corners pulled to the one with them at rest.
 * @returns null where neither bends anything.
 */
export function bendsBy(lens: Lens | null, pulled: Homography | null): Bends | null {
  if (!lens && !pulled) return null;
  const toPulled = pulled && inverse3(pulled);
  return {
    there(x, y) {
      const straight: Place = lens ? straightened(lens, x, y) : [x, y];
      return toPulled ? applyHomography(toPulled, ...straight) : straight;
    },
    back(x, y) {
      const straight: Place = pulled ? applyHomography(pulled, x, y) : [x, y];
      return lens ? asFilmed(lens, ...straight) : straight;
    },
  };
}

/** What bends a layer's shot in the result at a crossing frame. */
export function bendsAt(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  frame: number,
): Bends | null {
  return bendsBy(lensOf(layer.lens, shot), bentAt(document, layer, shot, frame));
}
