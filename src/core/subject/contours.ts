import type { Region } from './subject-frame';

const { floor } = Math;

/** A closed line about a part of a region, or about a hole in it. */
export interface Contour {
  /** x, y by turns, px of the region's grid; the region lies on its right as one walks along it. */
  line: number[];
  hole: boolean;
  /** Samples enclosed. */
  area: number;
}

/**
 * The lines between a region's samples and the others, through the middles of the sides that part them; samples that
 * touch by a corner only are apart. Where the region reaches the frame's border the line runs `beyond` samples outside.
 */
export function contoursOf({ inside, width, height }: Region, beyond: number): Contour[] {
  const at = (i: number, j: number) =>
    i < 0 || j < 0 || i >= width || j >= height ? 0 : inside[j * width + i];
  /** Whether the left side of a sample has been walked along, upwards. */
  const walked = new Uint8Array(width * height);
  const walk = (startX: number, startY: number): Contour => {
    const line: number[] = [];
    let [x, y, dx, dy, area] = [startX, startY, 0, -1, 0];
    do {
      if (dy < 0) walked[(y - 1) * width + x] = 1;
      const [mx, my] = [x + dx / 2, y + dy / 2];
      line.push(
        mx === 0 ? -beyond : mx === width ? width + beyond : mx,
        my === 0 ? -beyond : my === height ? height + beyond : my,
      );
      area += x * dy - y * dx;
      x += dx;
      y += dy;
      // The inside stays on the right hand.
      const rightAhead = at(x + (dx - dy - 1) / 2, y + (dx + dy - 1) / 2);
      const leftAhead = at(x + (dx + dy - 1) / 2, y + (dy - dx - 1) / 2);
      if (!rightAhead) [dx, dy] = [-dy, dx];
      else if (leftAhead) [dx, dy] = [dy, -dx];
    } while (x !== startX || y !== startY || dx !== 0 || dy !== -1);
    return { line, hole: area < 0, area: Math.abs(area) / 2 };
  };
  const found: Contour[] = [];
  // Most samples are outside: those are passed over as quickly as can be.
  for (let k = inside.indexOf(1); k >= 0; k = inside.indexOf(1, k + 1)) {
    const j = floor(k / width);
    const end = (j + 1) * width;
    for (let before = 0; k < end; k++) {
      const value = inside[k];
      if (value && !before && !walked[k]) found.push(walk(k - j * width, j + 1));
      before = value;
    }
    k--;
  }
  return found;
}
