import { flattenOutline } from './curve';

/** px between the places at which it is looked. */
const apart = 8;

/**
 * Below this share a pose says little about the frames beside it: what lies outside the picture was put there, not seen
 * (found on the demo, where 16 to 27 % of the line are in the picture as it comes in).
 */
export const leastInPicture = 0.4;

/** Share of an outline's length that lies in a picture, 0 to 1. */
export function shareInPicture(
  coordinates: readonly number[],
  closed: boolean,
  { width, height }: { width: number; height: number },
): number {
  const line = flattenOutline(coordinates, closed, 1, 1);
  if (closed) line.push(line[0], line[1]);
  let [within, all] = [0, 0];
  for (let i = 2; i + 1 < line.length; i += 2) {
    const [x0, y0, x1, y1] = line.slice(i - 2, i + 2);
    const length = Math.hypot(x1 - x0, y1 - y0);
    const parts = Math.max(1, Math.ceil(length / apart));
    for (let k = 0; k < parts; k++) {
      const t = (k + 0.5) / parts;
      const [x, y] = [x0 + t * (x1 - x0), y0 + t * (y1 - y0)];
      all += length / parts;
      if (x >= 0 && x <= width && y >= 0 && y <= height) within += length / parts;
    }
  }
  return all === 0 ? 0 : within / all;
}
