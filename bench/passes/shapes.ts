import { between, seeded } from '../../demo/random';
import { type Camera, edgeOf, type Layer, type Scene, still } from './scene';

export type Line = [x: number, y: number][];

/** A drawn pass with its truth: what is hard about it, and how it is drawn. */
export interface Pass {
  name: string;
  what: string;
  /** Light that flickers, limbs, shadows, second movers: more may be touched. */
  hard: boolean;
  /** Looked at only once the work on the finder was done. */
  apart?: boolean;
  kind: 'seam' | 'loop';
  side: 'left' | 'right';
  draw(): Promise<{ scene: Scene; truth(t: number): Line }>;
}

/** An upright object between two curves: its trailing edge on the left if it moves to the right. */
export function upright(
  left: (y: number, t: number) => number,
  right: (y: number, t: number) => number,
  middle: (t: number) => number,
  half: number,
) {
  return {
    distance: (x: number, y: number, t: number) => Math.max(left(y, t) - x, x - right(y, t)),
    extent: (t: number): [number, number] => [middle(t) - half, middle(t) + half],
  };
}

/** px from a capsule about the segment from (ax, ay) to (bx, by). */
export function capsule(
  x: number,
  y: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  radius: number,
) {
  const [dx, dy] = [bx - ax, by - ay];
  const share = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
  const [ex, ey] = [x - ax - share * dx, y - ay - share * dy];
  return Math.sqrt(ex * ex + ey * ey) - radius;
}

/** Coordinates along and across a limb that turns about `from` and ends at `to`. */
export function limb(
  x: number,
  y: number,
  to: readonly [number, number],
  from: readonly [number, number],
): [number, number] {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.sqrt(dx * dx + dy * dy);
  const [px, py] = [x - from[0], y - from[1]];
  return [from[0] + (px * dy - py * dx) / length, from[1] + (px * dx + py * dy) / length];
}

/** A hand-held camera's sway: sines of odd periods. */
export function shake(seed: number, far: number): (t: number) => Camera {
  const random = seeded(seed);
  const terms = Array.from({ length: 9 }, () => [between(random, 0.25, 1.3), between(random, 0, 6.28)]);
  const sum = (t: number, from: number) =>
    terms.slice(from, from + 3).reduce((all, [pace, phase]) => all + Math.sin(pace * t + phase), 0) / 1.5;
  return (t) => ({ x: far * sum(t, 0), y: 0.7 * far * sum(t, 3), turn: 0.0012 * far * sum(t, 6), zoom: 1 });
}

/** A seam's pass: layers from the back, one of them the object. */
export function seam(
  about: Pick<Pass, 'name' | 'what' | 'hard' | 'apart' | 'side'>,
  layers: () => Promise<{ behind: Layer[]; object: Layer; before?: Layer[] } & Omit<Scene, 'layers'>>,
): Pass {
  return {
    ...about,
    kind: 'seam',
    async draw() {
      const { behind, object, before = [], ...rest } = await layers();
      return {
        scene: { ...rest, layers: [...behind, object, ...before] },
        truth: (t) => edgeOf(object, rest.camera?.(t) ?? still, t, about.side),
      };
    },
  };
}

export const along =
  (x: (t: number) => number, y: (t: number) => number = () => 0) =>
  (u: number, v: number, t: number): [number, number] => [u - x(t), v - y(t)];

export function turned(x: number, y: number, angle: number, size: number): [number, number] {
  const [c, s] = [Math.cos(angle) / size, Math.sin(angle) / size];
  return [c * x + s * y, -s * x + c * y];
}
