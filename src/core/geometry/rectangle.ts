/** x, y of the first pixel and of the one past the last. */
export type Rectangle = readonly [x0: number, y0: number, x1: number, y1: number];

/** The box about a line of places, x, y by turns. */
export function boxAbout(line: readonly number[]): Rectangle {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < line.length; i += 2) {
    [x0, x1] = [Math.min(x0, line[i]), Math.max(x1, line[i])];
    [y0, y1] = [Math.min(y0, line[i + 1]), Math.max(y1, line[i + 1])];
  }
  return [x0, y0, x1, y1];
}
