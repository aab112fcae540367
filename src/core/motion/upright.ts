import type { PicturePlanes } from '../picture/planes';
import type { Shot } from '../model/shot';

/** The luma of a decoded picture with its rotation flag carried out, as the shot is shown; not resized. */
export function uprightLuma(
  { y, width, height }: Pick<PicturePlanes, 'y' | 'width' | 'height'>,
  rotation: Shot['rotation'],
): { values: Uint8Array; width: number; height: number } {
  if (rotation === 0) return { values: y, width, height };
  const values = new Uint8Array(y.length);
  if (rotation === 180) {
    for (let i = 0; i < y.length; i++) values[i] = y[y.length - 1 - i];
    return { values, width, height };
  }
  // A quarter turn: rows become columns.
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const [x, line] = rotation === 90 ? [height - 1 - row, column] : [row, width - 1 - column];
      values[line * height + x] = y[row * width + column];
    }
  }
  return { values, width: height, height: width };
}
