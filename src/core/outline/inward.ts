import type { OutlineRow } from '../document/tables';

/** Area of a closed polyline, px², its first point repeated or not; positive where it runs clockwise on the screen. */
export function signedArea(line: readonly number[]): number {
  let twice = 0;
  for (let i = 0; i < line.length; i += 2) {
    const j = (i + 2) % line.length;
    twice += line[i] * line[j + 1] - line[j] * line[i + 1];
  }
  return twice / 2;
}

/**
 * Which side of a line its region lies on, seen as one walks along it: 1 to the right, −1 to the left.
 *
 * @param line x, y of its points by turns; a loop's closed by itself.
 */
export function regionSide(outline: Pick<OutlineRow, 'kind' | 'sweptSide'>, line: readonly number[]): 1 | -1 {
  if (outline.kind === 'seam') return outline.sweptSide === 'left' ? -1 : 1;
  return signedArea(line) >= 0 ? 1 : -1;
}

/** Unit vectors into the region at each of a line's points, at right angles to the way between its neighbours. */
export function inwardDirections(
  outline: Pick<OutlineRow, 'kind' | 'sweptSide'>,
  line: readonly number[],
): [x: number, y: number][] {
  const count = line.length / 2;
  const closed = outline.kind === 'loop';
  const side = regionSide(outline, line);
  return Array.from({ length: count }, (_, k) => {
    const a = closed ? (k + count - 1) % count : Math.max(0, k - 1);
    const b = closed ? (k + 1) % count : Math.min(count - 1, k + 1);
    const [dx, dy] = [line[2 * b] - line[2 * a], line[2 * b + 1] - line[2 * a + 1]];
    const length = Math.hypot(dx, dy) || 1;
    return [(-side * dy) / length, (side * dx) / length];
  });
}
