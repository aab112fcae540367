/**
 * px from a place to the nearest of a polyline.
 *
 * @param line x, y by turns.
 * @param closed whether its end runs on into its beginning.
 * @returns Infinity where the line has fewer than two places.
 */
export function distanceToLine(x: number, y: number, line: ArrayLike<number>, closed: boolean): number {
  let least = Infinity;
  for (let k = closed ? 0 : 2; k < line.length; k += 2) {
    const from = k === 0 ? line.length - 2 : k - 2;
    const [dx, dy] = [line[k] - line[from], line[k + 1] - line[from + 1]];
    const [u, v] = [x - line[from], y - line[from + 1]];
    const along = Math.min(1, Math.max(0, (u * dx + v * dy) / (dx * dx + dy * dy || 1)));
    least = Math.min(least, (u - along * dx) ** 2 + (v - along * dy) ** 2);
  }
  return Math.sqrt(least);
}

/** Whether a closed line goes round a place, by the even-odd rule. @param line x, y by turns. */
export function goesRound(line: ArrayLike<number>, x: number, y: number): boolean {
  let within = false;
  for (let i = 0, j = line.length - 2; i < line.length; j = i, i += 2) {
    if (line[i + 1] > y === line[j + 1] > y) continue;
    const across = ((line[j] - line[i]) * (y - line[i + 1])) / (line[j + 1] - line[i + 1]) + line[i];
    if (x < across) within = !within;
  }
  return within;
}
