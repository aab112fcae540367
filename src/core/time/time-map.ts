import type { Rate } from './rate';

/**
 * The source frame that a layer shows at a crossing frame.
 *
 * The layer starts at source frame `offset` when the crossing is at frame 0 and runs at the shot's own speed;
 * where the rates differ, the source frame under way at the crossing frame's start is shown. Whole numbers
 * throughout, so that no frame is shown twice or skipped by rounding.
 *
 * @returns a frame number that may lie before 0 or past the shot's end: there the layer has no picture.
 */
export function sourceFrameAt(crossingFrame: number, offset: number, crossing: Rate, shot: Rate): number {
  return offset + Math.floor((crossingFrame * crossing.den * shot.num) / (crossing.num * shot.den));
}

/** The first crossing frame that shows `sourceFrame` or a later one; the inverse of {@link sourceFrameAt}. */
export function crossingFrameOf(sourceFrame: number, offset: number, crossing: Rate, shot: Rate): number {
  return Math.ceil(((sourceFrame - offset) * crossing.num * shot.den) / (crossing.den * shot.num));
}
