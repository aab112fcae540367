import type { Affine } from '../geometry/affine';

/** Where a first outline is looked for. */
export interface Beginning {
  /** First and last frame that may be chosen, as a crossing shows them. */
  within: readonly [first: number, last: number];
  /** From the shot's px to those of the frames' pictures. */
  toPicture: Affine;
}

/** Why there is none. */
export type NoFirst = 'not measured' | 'nothing crosses' | 'no clear edge';

/** Frames that are looked at. */
const looks = 9;

/** Some of the frames, evenly, the middle ones first: there what is looked for is likeliest whole in the picture. */
export function fromTheMiddle(there: readonly number[]): number[] {
  const last = there.length - 1;
  const some = Array.from({ length: looks }, (_, k) => there[Math.round(((k + 1) * last) / (looks + 1))]);
  const middle = (looks - 1) / 2;
  const order = some.map((frame, k) => ({ frame, far: Math.abs(k - middle) })).sort((a, b) => a.far - b.far);
  return [...new Set(order.map(({ frame }) => frame))];
}
