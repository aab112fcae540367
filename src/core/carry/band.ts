import type { EdgeLine } from '../edge/straight';

/** Samples of a band beside a line, between two distances, px, as far as there is room; about 1,400 at most. */
export function bandBeside(line: EdgeLine, from: number, to: number): Float64Array {
  const rows = 10;
  [from, to] = [Math.max(from, -line.room[0]), Math.min(to, line.room[1])];
  const stride = Math.max(1, Math.floor(line.count / 140));
  const places = Math.ceil(line.count / stride);
  const points = new Float64Array(places * rows * 2);
  for (let i = 0, o = 0; i < line.count; i += stride)
    for (let k = 0; k < rows; k++) {
      const far = from + ((k + 0.5) / rows) * (to - from);
      points[o++] = line.x[i] + far * line.nx[i];
      points[o++] = line.y[i] + far * line.ny[i];
    }
  return points;
}
