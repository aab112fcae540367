import { Bezier } from 'bezier-js';
import { flattenOutline, regionOf } from '../outline';
import { drawMatte, MatteScratch } from './matte';

/** Growing and shrinking a curved seam, against the offsets of the package bezier-js. */

const [width, height] = [320, 240];
/** A seam of one S-shaped cubic from above the frame to below it; the swept side is the right one. */
const [p0, p1, p2, p3]: [number, number][] = [
  [110, -20],
  [320, 60],
  [10, 180],
  [205, 260],
];
const curve = new Bezier(...p0, ...p1, ...p2, ...p3);
const pose = [...p0, 0, 0, p1[0] - p0[0], p1[1] - p0[1], ...p3, p2[0] - p3[0], p2[1] - p3[1], 0, 0];

const spreads = [-18, -6, 4, 15];

test.each(spreads)('with a spread of %d px the edge’s middle runs along the offset curve', (spread) => {
  const region = regionOf(flattenOutline(pose, false), 'seam', 'right', width, height);
  const out = new Uint8Array(width * height);
  const edge = { featherInside: 6, featherOutside: 6, spread };
  drawMatte(region, edge, width, height, out, new MatteScratch());
  /** Alpha between pixel centres. */
  const alphaAt = (x: number, y: number) => {
    const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    const [fx, fy] = [x - 0.5 - left, y - 0.5 - top];
    const at = (dx: number, dy: number) => out[(top + dy) * width + left + dx];
    return (at(0, 0) * (1 - fx) + at(1, 0) * fx) * (1 - fy) + (at(0, 1) * (1 - fx) + at(1, 1) * fx) * fy;
  };
  let compared = 0;
  for (let t = 0; t <= 1; t += 0.01) {
    // bezier-js's normal points to the right of the way, into the region: to grow is to go against it.
    const { x, y } = curve.offset(t, -spread) as unknown as { x: number; y: number };
    const foot = curve.get(t);
    // In the frame, and where no other part of the curve is nearer than the offset's own foot.
    if (x < 20 || y < 20 || x > width - 20 || y > height - 20) continue;
    if (curve.project({ x, y }).d! < Math.abs(spread) - 0.02) continue;
    expect(Math.hypot(x - foot.x, y - foot.y)).toBeCloseTo(Math.abs(spread), 6);
    // A hundredth of a pixel is a third of a code value here; rounding and the mix of four pixels add to it.
    expect(Math.abs(alphaAt(x, y) - 127.5)).toBeLessThan(3);
    compared++;
  }
  expect(compared).toBeGreaterThan(60);
});
