import { type Affine, applyAffine, compose, invert } from '@/core/geometry/affine';
import { asFilmed, type Lens, lensOf, straightened, straightenedCubic } from '@/core/geometry/lens';
import { fromShotAt, type Traced } from '../trace/traced';
import type { Camera } from '../view-store';

/** How the shot that is traced on is seen: where its px lie on the screen. */
export interface Sight {
  /** Screen px a shot px. */
  scale: number;
  place(x: number, y: number): [x: number, y: number];
  /** The shot's px at a place of the screen. */
  back(x: number, y: number): [x: number, y: number];
  /** Cubics (x, y of four points) as they are seen: one, or more where a lens bends them. */
  cubics(cubic: readonly number[]): number[][];
}

/** @param toScreen from px of the (straightened) shot to px of the screen. */
export function sightOf(toScreen: Affine, lens: Lens | null): Sight {
  const fromScreen = invert(toScreen);
  const onScreen = (cubic: readonly number[]) =>
    [0, 2, 4, 6].flatMap((i) => applyAffine(toScreen, cubic[i], cubic[i + 1]));
  return {
    scale: Math.hypot(toScreen[0], toScreen[1]),
    place: (x, y) => applyAffine(toScreen, ...(lens ? straightened(lens, x, y) : ([x, y] as const))),
    back: (x, y) => {
      const at = applyAffine(fromScreen, x, y);
      return lens ? asFilmed(lens, ...at) : at;
    },
    cubics: (cubic) => (lens ? straightenedCubic(lens, cubic) : [cubic]).map(onScreen),
  };
}

/** The shot that is traced on at a crossing frame, as the camera over the picture sees it. */
export function sightAt(traced: Traced, frame: number, { scale, x, y }: Camera): Sight {
  const toScreen = compose([scale, 0, 0, scale, x, y], fromShotAt(traced, frame));
  return sightOf(toScreen, lensOf(traced.layer.lens, traced.shot));
}
