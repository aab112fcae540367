/** Parts of a cubic that is bent, so that ends and handles say enough: a line across a whole frame lies within 0.02 %. */
const parts = 8;
/** px to either side between which a map's derivative is taken. */
const reach = 0.01;

/**
 * A cubic (x, y of its four points by turns) as a map of the plane shows it, in parts: their ends are mapped, their handles
 * go along with the map's derivative there.
 */
export function mappedCubic(
  map: (x: number, y: number) => readonly [x: number, y: number],
  cubic: readonly number[],
): number[][] {
  const ends = Array.from({ length: parts + 1 }, (_, k) => {
    const [x, y, dx, dy] = placeAndPull(cubic, k / parts);
    const length = Math.hypot(dx, dy) || 1;
    const [ux, uy] = [(dx / length) * reach, (dy / length) * reach];
    const [before, after] = [map(x - ux, y - uy), map(x + ux, y + uy)];
    // A third of a part's way.
    const share = length / (2 * reach) / (3 * parts);
    const [px, py] = map(x, y);
    return { px, py, hx: (after[0] - before[0]) * share, hy: (after[1] - before[1]) * share };
  });
  return Array.from({ length: parts }, (_, k) => {
    const [a, b] = [ends[k], ends[k + 1]];
    return [a.px, a.py, a.px + a.hx, a.py + a.hy, b.px - b.hx, b.py - b.hy, b.px, b.py];
  });
}

/** A cubic's place and derivative at a share of its way. */
function placeAndPull(c: readonly number[], t: number): [x: number, y: number, dx: number, dy: number] {
  const s = 1 - t;
  const at = (i: number) =>
    s * s * s * c[i] + 3 * s * s * t * c[i + 2] + 3 * s * t * t * c[i + 4] + t * t * t * c[i + 6];
  const pull = (i: number) =>
    3 * (s * s * (c[i + 2] - c[i]) + 2 * s * t * (c[i + 4] - c[i + 2]) + t * t * (c[i + 6] - c[i + 4]));
  return [at(0), at(1), pull(0), pull(1)];
}
