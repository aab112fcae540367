import type { ShotMotion } from '../document/rows';
import type { Affine } from '../geometry/affine';
import { numbersPerFrame } from '../motion/steady';

/** Where a first outline is looked for. */
export interface Beginning {
  /** First and last frame that may be chosen, as a crossing shows them. */
  within: readonly [first: number, last: number];
  /** From the shot's px to those of the frames' pictures. */
  toPicture: Affine;
}

/** Why there is none. */
export type NoFirst = 'not measured' | 'nothing crosses' | 'no clear edge';

/** Frames that are looked at, and the share of the picture from which on something moves otherwise in one. */
const looks = 9;
const somethingMoves = 0.015;

/** Frames in which something moves otherwise than the scene, or in which the scene's movement could not be told. */
export function movingFrames({ frames }: ShotMotion, [first, last]: readonly [number, number]): number[] {
  return Array.from({ length: last - first + 1 }, (_, k) => first + k).filter((frame) => {
    const [trust, share] = frames.slice(frame * numbersPerFrame + 4, frame * numbersPerFrame + 6);
    return share > somethingMoves || trust === 0;
  });
}

/** Some of the frames, evenly, the middle ones first: there what is looked for is likeliest whole in the picture. */
export function fromTheMiddle(there: readonly number[]): number[] {
  const last = there.length - 1;
  const some = Array.from({ length: looks }, (_, k) => there[Math.round(((k + 1) * last) / (looks + 1))]);
  const middle = (looks - 1) / 2;
  const order = some.map((frame, k) => ({ frame, far: Math.abs(k - middle) })).sort((a, b) => a.far - b.far);
  return [...new Set(order.map(({ frame }) => frame))];
}
