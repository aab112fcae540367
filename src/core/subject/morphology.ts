import { depthsOf } from './prior';

/** How many samples of a mask are set. */
export const areaOf = (mask: Uint8Array) => mask.reduce((sum, value) => sum + value, 0);

/** A mask grown by so many samples; by fewer than none: shrunk. */
export function grown(mask: Uint8Array, by: number, width: number, height: number): Uint8Array {
  const depths = depthsOf(mask, width, height);
  return mask.map((_, i) => (depths[i] > -by ? 1 : 0));
}

/** A mask whose strips and holes up to twice so wide are filled (morphological closing). */
export function closed(mask: Uint8Array, by: number, width: number, height: number): Uint8Array {
  return grown(grown(mask, by, width, height), -by, width, height);
}

/** A mask without slivers up to twice so wide, neither of it nor into it (opening, then closing). */
export function movingMean(mask: Uint8Array, by: number, width: number, height: number): Uint8Array {
  return closed(grown(grown(mask, -by, width, height), by, width, height), by, width, height);
}
