import type { CrossingRow, LayerRow } from '../document/tables';
import type { Shot } from '../model/shot';
import { type Affine, compose, identity, invert } from '../geometry/affine';
import { steadying } from '../motion/steady';

type Size = { width: number; height: number };

/** Crossing px a shot px before the layer's own scale: filling the frame, whole within it, or one to one. */
export function fitScale(crossing: Size, shot: Size, fit: LayerRow['fit']): number {
  const [across, down] = [crossing.width / shot.width, crossing.height / shot.height];
  return fit === 'fill' ? Math.max(across, down) : fit === 'fit' ? Math.min(across, down) : 1;
}

/** The map that steadying does to a frame's pixels; the identity where it is off or the motion is not measured. */
export function steadyMap(layer: Pick<LayerRow, 'steady'>, shot: Shot, sourceFrame: number): Affine {
  if (layer.steady === 0 || !shot.motion) return identity;
  const { maps } = steadying(shot.motion, layer.steady, shot.width, shot.height);
  return maps[Math.min(maps.length - 1, Math.max(0, sourceFrame))] ?? identity;
}

/**
 * From a shot's pixels to the crossing's at one of its frames: steadied, fitted, mirrored, scaled, turned about its
 * middle and shifted.
 */
export function placementOf(crossing: CrossingRow, layer: LayerRow, shot: Shot, sourceFrame: number): Affine {
  const scale = (fitScale(crossing, shot, layer.fit) * layer.scale) / 100;
  const mirror = layer.flip ? -1 : 1;
  const turn = (layer.turn * Math.PI) / 180;
  const [cos, sin] = layer.turn === 0 ? [1, 0] : [Math.cos(turn), Math.sin(turn)];
  const [a, b, c, d] = [cos * scale * mirror, sin * scale * mirror, -sin * scale, cos * scale];
  const [middleX, middleY] = [shot.width / 2, shot.height / 2];
  const placed: Affine = [
    a,
    b,
    c,
    d,
    crossing.width / 2 + layer.x - a * middleX - c * middleY,
    crossing.height / 2 + layer.y - b * middleX - d * middleY,
  ];
  return compose(placed, steadyMap(layer, shot, sourceFrame));
}

/** How many crossing px a shot px takes, in percent: over 100 the shot is enlarged and gets softer. */
export function shownScale(crossing: CrossingRow, layer: LayerRow, shot: Shot): number {
  const zoom =
    layer.steady > 0 && shot.motion ? steadying(shot.motion, layer.steady, shot.width, shot.height).zoom : 1;
  return fitScale(crossing, shot, layer.fit) * layer.scale * zoom;
}

/** The inverse of {@link placementOf}: from crossing px to shot px. */
export function toShotAt(crossing: CrossingRow, layer: LayerRow, shot: Shot, sourceFrame: number): Affine {
  return invert(placementOf(crossing, layer, shot, sourceFrame));
}
