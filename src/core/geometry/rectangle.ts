/** x, y of the first pixel and of the one past the last. */
export type Rectangle = readonly [x0: number, y0: number, x1: number, y1: number];
