import { type ShotMotion, lookEvery, numbersPerLook } from '../model/shot';
import type { PicturePlanes } from '../picture/planes';
import { colourStatistics, lightOf } from './matching';

/** Samples across a picture that are looked at. */
const samplesAcross = 96;

/** A picture's mean l, α and β in light, from some of its samples, evenly. */
export function lookOf(planes: PicturePlanes): [l: number, a: number, b: number] {
  const stride = Math.max(1, Math.floor(planes.width / samplesAcross));
  const width = Math.floor(planes.width / stride);
  const height = Math.max(1, Math.floor(planes.height / stride));
  const small = (plane: Uint8Array, ownWidth: number, ownHeight: number) =>
    Uint8Array.from({ length: width * height }, (_, i) => {
      const x = Math.floor((((i % width) + 0.5) * ownWidth) / width);
      const y = Math.floor(((Math.floor(i / width) + 0.5) * ownHeight) / height);
      return plane[y * ownWidth + x];
    });
  const { mean } = colourStatistics(
    lightOf(
      {
        width,
        height,
        chromaWidth: width,
        chromaHeight: height,
        y: small(planes.y, planes.width, planes.height),
        u: small(planes.u, planes.chromaWidth, planes.chromaHeight),
        v: small(planes.v, planes.chromaWidth, planes.chromaHeight),
        colour: planes.colour,
      },
      null,
    ),
  );
  return mean;
}

/** How a shot looks about a frame; null where it was measured before looks were. */
export function lookAt({ looks }: ShotMotion, frame: number): readonly number[] | null {
  if (!looks || looks.length === 0) return null;
  const last = looks.length / numbersPerLook - 1;
  const k = Math.min(last, Math.max(0, Math.round(frame / lookEvery)));
  return looks.slice(k * numbersPerLook, (k + 1) * numbersPerLook);
}
