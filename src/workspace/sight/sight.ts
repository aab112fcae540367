import { type Bends, bendsAt, bendsBy } from '@/core/compose/bends';
import { type Affine, applyAffine, compose, invert } from '@/core/geometry/affine';
import { lensOf } from '@/core/geometry/lens';
import { mappedCubic } from '@/core/geometry/mapped-cubic';
import { fromShotAt, type LayerShot } from '../session/traced';
import type { Camera } from '../view/view-store';

type Place = [x: number, y: number];

/** How the shot that is traced on is seen: where its px lie on the screen. */
export interface Sight {
  /** Screen px a shot px. */
  scale: number;
  place(x: number, y: number): Place;
  /** The shot's px at a place of the screen. */
  back(x: number, y: number): Place;
  /** Cubics (x, y of four points) as they are seen: one, or more where they are bent. */
  cubics(cubic: readonly number[]): number[][];
}

/** @param toScreen from px of the shot, bent as it is seen, to px of the screen. @param bends null: as it was filmed. */
export function sightOf(toScreen: Affine, bends: Bends | null): Sight {
  const fromScreen = invert(toScreen);
  const onScreen = (cubic: readonly number[]) =>
    [0, 2, 4, 6].flatMap((i) => applyAffine(toScreen, cubic[i], cubic[i + 1]));
  return {
    scale: Math.hypot(toScreen[0], toScreen[1]),
    place: (x, y) => applyAffine(toScreen, ...(bends ? bends.there(x, y) : ([x, y] as const))),
    back: (x, y) => {
      const at = applyAffine(fromScreen, x, y);
      return bends ? bends.back(...at) : at;
    },
    cubics: (cubic) => (bends ? mappedCubic(bends.there, cubic) : [cubic]).map(onScreen),
  };
}

/**
 * A layer's shot at a crossing frame, as the camera over the picture sees it.
 *
 * @param result whether the result is seen; the other views show corners at rest.
 */
export function sightAt(of: LayerShot, frame: number, { scale, x, y }: Camera, result: boolean): Sight {
  const { document, layer, shot } = of;
  const toScreen = compose([scale, 0, 0, scale, x, y], fromShotAt(of, frame));
  const bends = result ? bendsAt(document, layer, shot, frame) : bendsBy(lensOf(layer.lens, shot), null);
  return sightOf(toScreen, bends);
}
