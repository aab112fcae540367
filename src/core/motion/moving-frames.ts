import { type ShotMotion, numbersPerFrame } from '../model/shot';

/** Share of the picture from which on something moves otherwise than the scene. */
const somethingMoves = 0.015;

/** Frames in which something moves otherwise than the scene, or in which the scene's movement could not be told. */
export function movingFrames({ frames }: ShotMotion, [first, last]: readonly [number, number]): number[] {
  return Array.from({ length: last - first + 1 }, (_, k) => first + k).filter((frame) => {
    const [trust, share] = frames.slice(frame * numbersPerFrame + 4, frame * numbersPerFrame + 6);
    return share > somethingMoves || trust === 0;
  });
}
