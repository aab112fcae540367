import { bentAt } from '@/core/compose/moves';
import { type Affine, applyAffine, compose, invert } from '@/core/geometry/affine';
import { applyHomography, type Homography } from '@/core/geometry/homography';
import { asFilmed, type Lens, lensOf, straightened } from '@/core/geometry/lens';
import { mappedCubic } from '@/core/geometry/mapped-cubic';
import { inverse3 } from '@/core/geometry/matrix3';
import { fromShotAt, type Traced } from '../trace/traced';
import type { Camera } from '../view-store';

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

/**
 * @param toScreen from px of the shot, straightened and with its corners where they have been pulled, to px of the screen.
 * @param pulled from there to the straightened shot with its corners at rest; null: they are.
 */
export function sightOf(toScreen: Affine, lens: Lens | null, pulled: Homography | null = null): Sight {
  const fromScreen = invert(toScreen);
  const toPulled = pulled && inverse3(pulled);
  const bent = (x: number, y: number): Place => {
    const straight = lens ? straightened(lens, x, y) : ([x, y] as Place);
    return toPulled ? applyHomography(toPulled, ...straight) : straight;
  };
  const onScreen = (cubic: readonly number[]) =>
    [0, 2, 4, 6].flatMap((i) => applyAffine(toScreen, cubic[i], cubic[i + 1]));
  return {
    scale: Math.hypot(toScreen[0], toScreen[1]),
    place: (x, y) => applyAffine(toScreen, ...bent(x, y)),
    back: (x, y) => {
      const at = applyAffine(fromScreen, x, y);
      const straight = pulled ? applyHomography(pulled, ...at) : at;
      return lens ? asFilmed(lens, ...straight) : straight;
    },
    cubics: (cubic) => (lens || pulled ? mappedCubic(bent, cubic) : [cubic]).map(onScreen),
  };
}

/**
 * The shot that is traced on at a crossing frame, as the camera over the picture sees it.
 *
 * @param result whether the result is seen; the other views show corners at rest.
 */
export function sightAt(traced: Traced, frame: number, { scale, x, y }: Camera, result: boolean): Sight {
  const { document, layer, shot } = traced;
  const toScreen = compose([scale, 0, 0, scale, x, y], fromShotAt(traced, frame));
  return sightOf(toScreen, lensOf(layer.lens, shot), result ? bentAt(document, layer, shot, frame) : null);
}
