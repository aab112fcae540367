/**
 * The frames of a shot in presentation order: the timestamp of each, in seconds, ascending, and the numbers of
 * the frames at which decoding can begin. Made from the file's own timestamps when the shot is brought in.
 */
export interface FrameIndex {
  timestamps: Float64Array;
  keyFrames: Uint32Array;
}

/**
 * The number of the frame whose timestamp is nearest to `timestamp` (seconds). Decoders round timestamps to
 * microseconds, so the nearest is the one that was meant.
 *
 * @throws RangeError when the index is empty.
 */
export function frameOfTimestamp(index: FrameIndex, timestamp: number): number {
  const { timestamps } = index;
  if (timestamps.length === 0) throw new RangeError('The frame index is empty.');
  const after = lowerBound(timestamps, timestamp);
  if (after === 0) return 0;
  if (after === timestamps.length) return timestamps.length - 1;
  return timestamp - timestamps[after - 1] <= timestamps[after] - timestamp ? after - 1 : after;
}

/** When each frame comes on, in whole microseconds since the first. @param timestamps seconds, ascending. */
export function frameTimesOf(timestamps: Float64Array): number[] {
  return Array.from(timestamps, (timestamp) => Math.round((timestamp - timestamps[0]) * 1e6));
}

/** The last frame at or before `frame` at which decoding can begin; 0 when none is named. */
export function keyFrameFor(index: FrameIndex, frame: number): number {
  const { keyFrames } = index;
  const after = lowerBound(keyFrames, frame + 1);
  return after === 0 ? 0 : keyFrames[after - 1];
}

/** The most frames that have to be decoded to show one: the longest stretch from key frame to key frame. */
export function longestStretch({ timestamps, keyFrames }: FrameIndex): number {
  let longest = 0;
  for (let k = 0; k < keyFrames.length; k++)
    longest = Math.max(longest, (keyFrames[k + 1] ?? timestamps.length) - keyFrames[k]);
  return Math.max(longest, keyFrames[0] ?? timestamps.length);
}

/** The first place in an ascending array whose value is not below `value`. */
function lowerBound(ascending: ArrayLike<number>, value: number): number {
  let low = 0;
  let high = ascending.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ascending[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
