import { median } from '../numbers/quantile';
import type { StraightPicture } from '../edge/straight';

/**
 * Factor of the frame's light on the background, from the line outward: averaged over neighbouring places, and renewed
 * slowly from frame to frame. Samples of a place that are nearer than its `soft` take the value there; 1 means no difference.
 */
export function shadeOf(
  outside: StraightPicture,
  bare: StraightPicture,
  before: Float32Array | null,
  soft: ArrayLike<number>,
): Float32Array {
  const { count, across } = outside;
  const lit = new Float64Array((count + 1) * across);
  const base = new Float64Array((count + 1) * across);
  for (let i = 0; i < count; i++)
    for (let m = 0; m < across; m++) {
      const [s, o] = [i * across + m, (i + 1) * across + m];
      const known = bare.y[s] > 30 && outside.y[s] === outside.y[s];
      lit[o] = lit[o - across] + (known ? outside.y[s] - 16 : 0);
      base[o] = base[o - across] + (known ? bare.y[s] - 16 : 0);
    }
  const shade = new Float32Array(count * across).fill(1);
  const kept = before?.length === shade.length ? before : null;
  for (let i = 0; i < count; i++) {
    const [a, b] = [Math.max(0, i - 5) * across, Math.min(count, i + 6) * across];
    const first = Math.min(soft[i], across - 1);
    for (let m = first; m < across; m++) {
      const [p, q] = [Math.max(first, m - 1), Math.min(across - 1, m + 1)];
      let [sum, of] = [0, 0];
      for (let k = p; k <= q; k++) {
        sum += lit[b + k] - lit[a + k];
        of += base[b + k] - base[a + k];
      }
      const old = kept ? kept[i * across + m] : 1;
      const now = of > 200 ? Math.min(1.6, Math.max(0.3, sum / of)) : old;
      const factor = kept ? old + 0.4 * (now - old) : now;
      shade[i * across + m] = factor;
    }
    for (let m = 0; m < first; m++) shade[i * across + m] = shade[i * across + first];
  }
  return kept ? shade : evenedAlong(shade, count);
}

/** Factor by which a shadow may differ from place to place when it is first seen: a limb that smears looks like one. */
const differs = 0.2;

/** A first look at a shadow: where it is little else than along the whole line, it is as there. */
function evenedAlong(shade: Float32Array, count: number): Float32Array {
  const across = shade.length / count;
  for (let m = 0; m < across; m++) {
    const common = median(Float32Array.from({ length: count }, (_, i) => shade[i * across + m]));
    for (let i = 0, s = m; i < count; i++, s += across)
      if (Math.abs(shade[s] - common) < differs) shade[s] = common;
  }
  return shade;
}

/** What lies behind under the object, in the light that falls on it right beside the edge. */
export function darken(bare: StraightPicture, shade: Float32Array): void {
  const outward = shade.length / bare.count;
  for (let i = 0, s = 0; i < bare.count; i++) {
    const factor = shade[i * outward];
    for (let m = 0; m < bare.across; m++, s++) {
      bare.y[s] = 16 + (bare.y[s] - 16) * factor;
      bare.u[s] = 128 + (bare.u[s] - 128) * factor;
      bare.v[s] = 128 + (bare.v[s] - 128) * factor;
    }
  }
}
