import type { LayerRow } from '../document/tables';
import { plainTime, type Rate } from '../model/time';
import type { Shot } from '../model/shot';
import { crossingFrameOf, offsetShowing, type ShotClock, sourceFrameAt } from '../time/time-map';

/** First and last frame of a shot that a crossing takes. */
export interface Stretch {
  first: number;
  last: number;
}

/** Whether a shot has such a stretch, of one frame at least. */
export function isStretchOf({ first, last }: Stretch, { frameCount }: Pick<Shot, 'frameCount'>): boolean {
  return first >= 0 && first <= last && last < frameCount;
}

/** A layer that shows a stretch of its shot alone, its first frame on crossing frame 0. */
export function onStretch(
  layer: LayerRow,
  shot: ShotClock & Pick<Shot, 'frameCount'>,
  stretch: Stretch,
): LayerRow {
  return {
    ...trimmedTo(layer, shot, stretch),
    offset: offsetShowing(stretch.first, layer, shot),
  };
}

/** A layer that shows a stretch of its shot alone, when it showed it before. */
export function trimmedTo(
  layer: LayerRow,
  { frameCount }: Pick<Shot, 'frameCount'>,
  { first, last }: Stretch,
): LayerRow {
  return {
    ...layer,
    trimIn: first === 0 ? null : first,
    trimOut: last === frameCount - 1 ? null : last,
    // What is frozen is frozen within it.
    holdFrom: layer.holdFrom === null ? null : Math.min(last, Math.max(first, layer.holdFrom)),
  };
}

/** A layer in a crossing that begins at one of its frames, as an offset counts them. */
export function begunAt(layer: LayerRow, crossingFrame: number, crossing: Rate, shot: ShotClock): LayerRow {
  return {
    ...layer,
    offset: sourceFrameAt(crossingFrame, { ...layer, holdFrom: null }, crossing, { rate: shot.rate }),
  };
}

/** Crossing frames that a stretch of a shot lasts at its own speed. */
export function lengthOf(
  { first, last }: Stretch,
  crossing: Rate,
  shot: ShotClock & Pick<Shot, 'frameCount'>,
): number {
  return crossingFrameOf(
    last + 1,
    { ...plainTime, offset: offsetShowing(first, plainTime, shot) },
    crossing,
    shot,
  );
}

/** All of a shot. */
export const wholeOf = ({ frameCount }: Pick<Shot, 'frameCount'>): Stretch => ({
  first: 0,
  last: frameCount - 1,
});
