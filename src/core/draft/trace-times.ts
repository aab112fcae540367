import { numbersPerPoint as N } from '../model/choices';

/** A pose of a trace. */
interface Posed {
  /** Source frame. */
  frame: number;
  coordinates: readonly number[];
}

/**
 * First and last frame on which a line that was carried is in the picture, each where it was carried until it had left the picture; null
 * where carrying ended before that.
 *
 * @param poses ascending by frame.
 * @param width of the shot, px.
 */
export function timesOfTrace(
  poses: readonly Posed[],
  width: number,
): { opens: number | null; closes: number | null } {
  const isIn = ({ coordinates }: Posed) => coordinates.some((x, i) => i % N === 0 && x > 0 && x < width);
  const first = poses.findIndex(isIn);
  const last = poses.findLastIndex(isIn);
  return {
    opens: first > 0 ? poses[first].frame : null,
    closes: last >= 0 && last < poses.length - 1 ? poses[last].frame : null,
  };
}
