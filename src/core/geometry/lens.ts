import { lensBounds } from '../model/limits';

/**
 * How a lens bends what is straight, by the division model (Fitzgibbon 2001): a place at distance r from the middle of
 * the shot belongs at r / (1 + λ r²), r in halves of the shot's diagonal. λ < 0: a wide lens, whose straight lines bow
 * outwards (barrel); λ > 0: inwards; 0: none.
 */
export interface Lens {
  lambda: number;
  /** The middle, px of the shot, and half its diagonal. */
  x: number;
  y: number;
  half: number;
}

/** @returns null where it bends nothing. */
export function lensOf(lambda: number, shot: { width: number; height: number }): Lens | null {
  if (lambda === 0) return null;
  return { lambda, x: shot.width / 2, y: shot.height / 2, half: Math.hypot(shot.width, shot.height) / 2 };
}

/** Where a place of the shot (px) lies once the shot is straightened. */
export function straightened({ lambda, x: mx, y: my, half }: Lens, x: number, y: number): [number, number] {
  const [dx, dy] = [x - mx, y - my];
  const by = 1 / (1 + (lambda * (dx * dx + dy * dy)) / (half * half));
  return [mx + dx * by, my + dy * by];
}

/**
 * The place of the shot (px) that a place of the straightened one shows: the inverse of {@link straightened}, in closed
 * form. Where λ > 0 and nothing of the shot comes to lie there, a place far outside it.
 */
export function asFilmed({ lambda, x: mx, y: my, half }: Lens, x: number, y: number): [number, number] {
  const [dx, dy] = [x - mx, y - my];
  const under = 1 - (4 * lambda * (dx * dx + dy * dy)) / (half * half);
  const by = under < 0 ? 1e6 : 2 / (1 + Math.sqrt(under));
  return [mx + dx * by, my + dy * by];
}

/** {@link asFilmed} for shaders, in shares of the shot's width and height; `lens`: λ, half the diagonal, width and height. */
export const lensShader = `
uniform vec4 lens;
vec2 asFilmed(vec2 at) {
  vec2 from = (at - 0.5) * lens.zw;
  float under = 1.0 - 4.0 * lens.x * dot(from, from) / (lens.y * lens.y);
  return (at - 0.5) * (under < 0.0 ? 1e6 : 2.0 / (1.0 + sqrt(under))) + 0.5;
}`;

/** Steps of the first look over all λ, and how often the best of them is narrowed. */
const [looks, narrowed] = [61, 40];

/**
 * The λ under which lines that are straight in the world are straightest (plumb lines, Brown 1971; Devernay and
 * Faugeras 2001), by least squares: a look over all, then the golden section about the best.
 *
 * @param lines x and y of places along each, px of the shot; those of fewer than three places say nothing.
 * @returns null where no line says anything; `off`: root mean square distance of the places from straight lines, px of the
 *   shot, with it and without it.
 */
export function lensFromLines(
  lines: readonly (readonly number[])[],
  shot: { width: number; height: number },
): { lambda: number; off: number; offBefore: number } | null {
  const telling = lines.filter((line) => line.length >= 6);
  if (telling.length === 0) return null;
  const places = telling.reduce((sum, line) => sum + line.length / 2, 0);
  const off = (lambda: number) => {
    const lens = lensOf(lambda, shot);
    let sum = 0;
    for (const line of telling) sum += bow(line, lens);
    return Math.sqrt(sum / places);
  };
  const [low, high] = lensBounds;
  const step = (high - low) / (looks - 1);
  let best = low;
  for (let k = 0; k < looks; k++) if (off(low + k * step) < off(best)) best = low + k * step;
  const golden = (Math.sqrt(5) - 1) / 2;
  let [a, b] = [Math.max(low, best - step), Math.min(high, best + step)];
  for (let k = 0; k < narrowed; k++) {
    const [c, d] = [b - golden * (b - a), a + golden * (b - a)];
    if (off(c) < off(d)) b = d;
    else a = c;
  }
  const lambda = (a + b) / 2;
  return { lambda, off: off(lambda), offBefore: off(0) };
}

/**
 * Sum of squared distances of a line's places from the straight line that fits them best, in px of the shot: what
 * straightening enlarges or shrinks the line by is taken out again, or shrinking all would do.
 */
function bow(line: readonly number[], lens: Lens | null): number {
  const at: number[] = [];
  for (let i = 0; i < line.length; i += 2)
    at.push(...(lens ? straightened(lens, line[i], line[i + 1]) : [line[i], line[i + 1]]));
  const count = at.length / 2;
  let [mx, my] = [0, 0];
  for (let i = 0; i < at.length; i += 2) {
    mx += at[i] / count;
    my += at[i + 1] / count;
  }
  let [xx, xy, yy] = [0, 0, 0];
  for (let i = 0; i < at.length; i += 2) {
    const [dx, dy] = [at[i] - mx, at[i + 1] - my];
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
  }
  // The lesser eigenvalue of the places' scatter.
  const least = (xx + yy - Math.hypot(xx - yy, 2 * xy)) / 2;
  const lengthOf = (of: readonly number[]) =>
    Math.hypot(of[of.length - 2] - of[0], of[of.length - 1] - of[1]) || 1;
  return Math.max(0, least) * (lengthOf(line) / lengthOf(at)) ** 2;
}

/**
 * The turn, degrees clockwise, that brings a line level or upright, whichever is nearer: between −45 and 45.
 *
 * @param line x and y of its first and last place, as the crossing shows them.
 */
export function levelling([x0, y0, x1, y1]: readonly number[]): number {
  const angle = (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI;
  const off = angle - 90 * Math.round(angle / 90);
  return -off;
}
