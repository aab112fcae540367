import { rateOf } from '../time/rate';
import { fitScale } from './placement';
import { layerSourceFrame, shownSourceFrame } from './source-frames';
import type { CrossingDocument, LayerRow } from '../document/tables';
import type { Shot, ShotMotion } from '../model/shot';
import { sourcePositionAt } from '../time/time-map';
import { pathOf, steadying, unsteadiness } from '../motion/steady';

/** How a layer's picture moves in the crossing. */
export interface LayerMotion {
  /** For each crossing frame, px of the crossing since the frame before; NaN where the shot has no picture. */
  dx: Float64Array;
  dy: Float64Array;
  /** Mean over the frames given that are not frozen, px a frame. */
  meanX: number;
  meanY: number;
  /** Root mean square distance of the picture from its own smooth course, px of the crossing, as it is shown. */
  unsteadiness: number;
}

/**
 * A layer's movement as the crossing shows it: at its speed and direction in time, mirrored, scaled, turned and
 * steadied.
 *
 * @param from, to first and last crossing frame of the means.
 * @returns null while the shot's motion is not measured.
 */
export function layerMotion(
  document: CrossingDocument,
  layer: LayerRow,
  shot: Shot,
  from: number,
  to: number,
): LayerMotion | null {
  const { motion } = shot;
  if (!motion) return null;
  const { crossing } = document;
  const { x, y } = shownPath(motion, layer, shot);
  const scale = (fitScale(crossing, shot, layer.fit) * layer.scale) / 100;
  const turn = (layer.turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn) * scale, Math.sin(turn) * scale];
  const mirror = layer.flip ? -1 : 1;
  const dx = new Float64Array(crossing.length).fill(NaN);
  const dy = new Float64Array(crossing.length).fill(NaN);
  let [sumX, sumY, count] = [0, 0, 0];
  const rate = rateOf(crossing);
  // Between source frames too, so that a slowed shot does not seem to stop at every frame shown twice.
  const at = (path: Float64Array, frame: number) => {
    const position = Math.min(path.length - 1, Math.max(0, sourcePositionAt(frame, layer, rate, shot)));
    const k = Math.min(path.length - 2, Math.floor(position));
    return k < 0 ? path[0] : path[k] + (path[k + 1] - path[k]) * (position - k);
  };
  for (let frame = 1; frame < crossing.length; frame++) {
    if (shownSourceFrame(document, layer, shot, frame) === null) continue;
    if (shownSourceFrame(document, layer, shot, frame - 1) === null) continue;
    const b = layerSourceFrame(document, layer, shot, frame);
    const a = layerSourceFrame(document, layer, shot, frame - 1);
    // A frozen picture stands still on purpose: its frames say nothing of how the shot moves.
    const frozen = a === b && b === layer.holdFrom;
    const px = frozen ? 0 : (at(x, frame) - at(x, frame - 1)) * mirror;
    const py = frozen ? 0 : at(y, frame) - at(y, frame - 1);
    dx[frame] = cos * px - sin * py;
    dy[frame] = sin * px + cos * py;
    if (frozen || frame < from || frame > to) continue;
    sumX += dx[frame];
    sumY += dy[frame];
    count++;
  }
  return {
    dx,
    dy,
    meanX: count > 0 ? sumX / count : 0,
    meanY: count > 0 ? sumY / count : 0,
    unsteadiness: unsteadiness({ x, y }) * scale,
  };
}

/** The picture's path after steadying. */
function shownPath(motion: ShotMotion, layer: LayerRow, shot: Shot): { x: Float64Array; y: Float64Array } {
  const path = pathOf(motion);
  if (layer.steady === 0) return path;
  const { maps } = steadying(motion, layer.steady, shot.width, shot.height);
  const [middleX, middleY] = [shot.width / 2, shot.height / 2];
  return {
    x: path.x.map((value, k) => value + maps[k][0] * middleX + maps[k][2] * middleY + maps[k][4] - middleX),
    y: path.y.map((value, k) => value + maps[k][1] * middleX + maps[k][3] * middleY + maps[k][5] - middleY),
  };
}
