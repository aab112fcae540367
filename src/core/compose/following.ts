import type { CrossingDocument, LayerRow } from '../document/tables';
import { type Affine, applyAffine } from '../geometry/affine';

/** A layer's place, size and turn, as its row has them: px of the crossing from its middle, percent, degrees. */
type Placed = Pick<LayerRow, 'x' | 'y' | 'scale' | 'turn'>;

/** What a layer has done since it was at rest: all of the picture enlarged and turned about a point that is itself shifted. */
export interface Movement {
  /** The point, px of the crossing from its middle, and its shift. */
  about: readonly [x: number, y: number];
  shift: readonly [x: number, y: number];
  /** 1: as large as at rest. */
  enlarged: number;
  /** Degrees, clockwise. */
  turned: number;
}

/** The way from one placement of a layer to another. */
export function movementBetween(rest: Placed, now: Placed): Movement {
  return {
    about: [rest.x, rest.y],
    shift: [now.x - rest.x, now.y - rest.y],
    enlarged: now.scale / rest.scale,
    turned: now.turn - rest.turn,
  };
}

/**
 * A part of a movement, so that two halves are the whole: size runs in its logarithm, and place along with size, so that
 * a point that stays still in the whole movement does in its parts.
 *
 * @param share 0 to 1.
 */
export function partOf({ about, shift, enlarged, turned }: Movement, share: number): Movement {
  const part = enlarged ** share;
  const way = Math.abs(enlarged - 1) < 1e-9 ? share : (part - 1) / (enlarged - 1);
  return { about, shift: [shift[0] * way, shift[1] * way], enlarged: part, turned: turned * share };
}

/** A placement that goes along with a movement of all of the picture. */
export function takenAlong<P extends Placed>(placed: P, movement: Movement): P {
  const [x, y] = applyAffine(mapOf(movement, { width: 0, height: 0 }), placed.x, placed.y);
  return { ...placed, x, y, scale: placed.scale * movement.enlarged, turn: placed.turn + movement.turned };
}

/** A movement as a map of the crossing's px. */
export function mapOf(
  { about, shift, enlarged, turned }: Movement,
  { width, height }: { width: number; height: number },
): Affine {
  const angle = (turned * Math.PI) / 180;
  const [a, b] = [Math.cos(angle) * enlarged, Math.sin(angle) * enlarged];
  const [cx, cy] = [width / 2 + about[0], height / 2 + about[1]];
  return [a, b, -b, a, cx + shift[0] - a * cx + b * cy, cy + shift[1] - b * cx - a * cy];
}

/** The layers whose movement a layer goes along with, the nearest first; itself is among them where that is a circle. */
export function followedBy({ layers }: CrossingDocument, layer: LayerRow): LayerRow[] {
  const way: LayerRow[] = [];
  for (let at = layers[layer.followsId ?? '']; at && !way.includes(at); at = layers[at.followsId ?? ''])
    way.push(at);
  return way;
}
