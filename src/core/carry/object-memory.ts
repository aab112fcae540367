import type { ObjectMemory } from '../edge/layer-costs';
import type { SideColours } from '../edge/side-colours';
import { type EdgeSoftness, objectShare } from '../edge/softness-profile';
import type { EdgeLine, StraightPicture } from '../edge/straight';
import type { RememberingSettings } from './follow-settings';

/** The object's memory with what a frame shows of it, freed of what lies behind where both are seen. */
export function renewedMemory({
  line,
  inside,
  bare,
  depths,
  mixed,
  step,
  deepest,
  old,
  renewal,
  speed,
  softness,
  outer,
  settings: { purelyObject, pacesPerPx },
}: {
  line: EdgeLine;
  /** From deep inside to the edge. */
  inside: StraightPicture;
  bare: StraightPicture | null;
  depths: number;
  /** Depths at which what lies behind may show through. */
  mixed: number;
  step: number;
  /** px inward at which each place is all object. */
  deepest: Float64Array;
  old: ObjectMemory | null;
  /** Share of what was remembered that this frame renews. */
  renewal: number;
  /** px a frame across the line at each place. */
  speed: Float64Array;
  softness: EdgeSoftness;
  outer: SideColours;
  settings: RememberingSettings;
}): ObjectMemory {
  const size = line.count * depths;
  const memory: ObjectMemory = {
    count: line.count,
    depths,
    step,
    y: new Float32Array(size),
    u: new Float32Array(size),
    v: new Float32Array(size),
    weight: new Float32Array(size),
  };
  const shared = new Map<number, Float32Array>();
  for (let i = 0; i < line.count; i++) {
    const c = 3 * i;
    const pace = Math.round(pacesPerPx * speed[i]);
    const shares =
      shared.get(pace) ??
      Float32Array.from({ length: mixed }, (_, k) => objectShare(softness, pace / pacesPerPx, -k * step));
    shared.set(pace, shares);
    for (let k = 0; k < depths; k++) {
      const s = i * depths + (depths - 1 - k);
      const o = i * depths + k;
      const share = k * step > deepest[i] ? 1 : shares[k];
      let [y, u, v] = [inside.y[s], inside.u[s], inside.v[s]];
      let weight = 1;
      if (y !== y) weight = 0;
      else if (share < purelyObject) {
        const b = i * mixed + (mixed - 1 - k);
        const known = bare !== null && bare.y[b] === bare.y[b];
        const [by, bu, bv] = known
          ? [bare.y[b], bare.u[b], bare.v[b]]
          : [outer.mean[c], outer.mean[c + 1], outer.mean[c + 2]];
        y = Math.min(255, Math.max(0, (y - (1 - share) * by) / share));
        u = Math.min(255, Math.max(0, (u - (1 - share) * bu) / share));
        v = Math.min(255, Math.max(0, (v - (1 - share) * bv) / share));
        weight = share * share;
      }
      const before = old?.weight[o] ?? 0;
      if (weight > 0) {
        const take = before > 0 ? renewal * weight : 1;
        memory.y[o] = take * y + (old ? (1 - take) * old.y[o] : 0);
        memory.u[o] = take * u + (old ? (1 - take) * old.u[o] : 0);
        memory.v[o] = take * v + (old ? (1 - take) * old.v[o] : 0);
      } else if (old) {
        memory.y[o] = old.y[o];
        memory.u[o] = old.u[o];
        memory.v[o] = old.v[o];
      }
      memory.weight[o] = Math.max(before, weight);
    }
  }
  return memory;
}

/** The object's memory at places each of which was another one before. @param cameFrom indices of those, as fractions. */
export function memoryFrom(memory: ObjectMemory, cameFrom: Float64Array): ObjectMemory {
  const { depths, count, step, y, u, v, weight } = memory;
  const moved = (values: Float32Array) => {
    const next = new Float32Array(cameFrom.length * depths);
    for (let i = 0; i < cameFrom.length; i++) {
      const at = Math.min(count - 1, Math.max(0, cameFrom[i]));
      const a = Math.floor(at);
      const b = Math.min(count - 1, a + 1);
      const share = at - a;
      for (let k = 0; k < depths; k++)
        next[i * depths + k] = values[a * depths + k] * (1 - share) + values[b * depths + k] * share;
    }
    return next;
  };
  return {
    count: cameFrom.length,
    depths,
    step,
    y: moved(y),
    u: moved(u),
    v: moved(v),
    weight: moved(weight),
  };
}
