/** Three by three numbers, by rows. */
export type Matrix3 = readonly number[];

export function times3(a: Matrix3, b: Matrix3): number[] {
  return Array.from({ length: 9 }, (_, k) => {
    const [row, column] = [Math.floor(k / 3) * 3, k % 3];
    return a[row] * b[column] + a[row + 1] * b[column + 3] + a[row + 2] * b[column + 6];
  });
}

export function apply3(m: Matrix3, x: number, y: number, z: number): [number, number, number] {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

export function determinant3([a, b, c, d, e, f, g, h, i]: Matrix3): number {
  return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
}

/** The inverse, by the adjugate. @throws RangeError for a singular matrix. */
export function inverse3(m: Matrix3): number[] {
  const [a, b, c, d, e, f, g, h, i] = m;
  const determinant = determinant3(m);
  if (determinant === 0) throw new RangeError('This map has no inverse.');
  return [
    ...[e * i - f * h, c * h - b * i, b * f - c * e],
    ...[f * g - d * i, a * i - c * g, c * d - a * f],
    ...[d * h - e * g, b * g - a * h, a * e - b * d],
  ].map((value) => value / determinant);
}
