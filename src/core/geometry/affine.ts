/** The map (x, y) → (a·x + c·y + e, b·x + d·y + f), entries in that order. */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const identity: Affine = [1, 0, 0, 1, 0, 0];

/** The map that does `first`, then `then`. */
export function compose(then: Affine, first: Affine): Affine {
  const [a, b, c, d, e, f] = then;
  return [
    a * first[0] + c * first[1],
    b * first[0] + d * first[1],
    a * first[2] + c * first[3],
    b * first[2] + d * first[3],
    a * first[4] + c * first[5] + e,
    b * first[4] + d * first[5] + f,
  ];
}

/** @throws RangeError when the map flattens the plane. */
export function invert([a, b, c, d, e, f]: Affine): Affine {
  const determinant = a * d - b * c;
  if (determinant === 0) throw new RangeError('This map has no inverse.');
  return [
    d / determinant,
    -b / determinant,
    -c / determinant,
    a / determinant,
    (c * f - d * e) / determinant,
    (b * e - a * f) / determinant,
  ];
}

export function applyAffine([a, b, c, d, e, f]: Affine, x: number, y: number): [number, number] {
  return [a * x + c * y + e, b * x + d * y + f];
}
