/** log2 of the pixels in a run. */
export const blockShift = 4;

/** Runs to a row: a multiple of four, so that four can be looked at as one word. */
export function blocksPerRow(width: number): number {
  return ((width + (4 << blockShift) - 1) >> (blockShift + 2)) << 2;
}
