import type { FramePicture } from '../picture/frame-picture';
import { type EdgeLine, type Passage, straightPicture, type StraightPicture } from '../edge/straight';
import type { Affine } from '../geometry/affine';
import { still } from './behind-way';

/** px outside a line that are looked at, and places to either side that are looked at together. */
const deep = 12;
const near = 4;
/** Mean difference, code values, from which a way is wrong, and up to which another is right. */
const wrong = 7;
const right = 9;
/** px on either side of a line whose mean colours are compared, and code values by which they differ at most within one thing. */
const beside = 6;
const plain = 24;
/** Cost of a px off the place where the object's movement takes it. */
const pull = 6;

/**
 * Where a line runs through the object, as along a board before the hands that carry it: there what lies right outside
 * goes with the object to the next frame and not with what lies behind, in shadow or not, and looks like what lies right inside.
 * 1 at those places, 0 at others.
 *
 * @param soft px outside the line that are a mix of both sides.
 */
export function attachedPlaces(
  here: FramePicture,
  there: FramePicture,
  line: EdgeLine,
  { soft, object, behind }: { soft: number; object: Affine; behind: Passage },
): Uint8Array {
  const from = soft + 1;
  const strip = straightPicture(here, line, { from, step: 1, across: deep, passage: null });
  const differences = (passage: Passage) => {
    const next = straightPicture(there, line, { from, step: 1, across: deep, passage });
    const sums = new Float64Array(line.count + 1);
    const numbers = new Float64Array(line.count + 1);
    for (let i = 0, s = 0; i < line.count; i++) {
      sums[i + 1] = sums[i];
      numbers[i + 1] = numbers[i];
      for (let m = 0; m < deep; m++, s++) {
        const off =
          Math.abs(next.y[s] - strip.y[s]) +
          Math.abs(next.u[s] - strip.u[s]) +
          Math.abs(next.v[s] - strip.v[s]);
        if (off !== off) continue;
        sums[i + 1] += off;
        numbers[i + 1]++;
      }
    }
    return (i: number) => {
      const [a, b] = [Math.max(0, i - near), Math.min(line.count, i + near + 1)];
      return numbers[b] - numbers[a] < 20 ? NaN : (sums[b] - sums[a]) / (numbers[b] - numbers[a]);
    };
  };
  const inside = straightPicture(here, line, {
    from: -from - beside,
    step: 1,
    across: beside,
    passage: null,
  });
  const along = differences({ map: object, ...still(line.count) });
  const stays = differences(behind);
  const shaded = inShadow(
    strip,
    straightPicture(there, line, { from, step: 1, across: deep, passage: behind }),
  );
  const found = Uint8Array.from({ length: line.count }, (_, i) => {
    const [goes, rests] = [along(i), Math.min(stays(i), shaded(i))];
    return rests > wrong && goes < right && goes < 0.5 * rests && step(inside, strip, i) < plain ? 1 : 0;
  });
  // Near its ends such a stretch is not told, as places are looked at together.
  return found.map((_, i) => (found.subarray(Math.max(0, i - near), i + near + 1).includes(1) ? 1 : 0));
}

/** Light that a shadow leaves. */
const [darkest, lightest] = [0.3, 0.95];

/** Mean difference at places about one of what lies behind in a shadow, as dark as it is there; Infinity where none would do. */
function inShadow(strip: StraightPicture, bare: StraightPicture): (i: number) => number {
  const { count, across, y, u, v } = strip;
  return (i) => {
    const [first, last] = [Math.max(0, i - near) * across, Math.min(count, i + near + 1) * across];
    let [lit, base] = [0, 0];
    for (let s = first; s < last; s++) {
      if (y[s] !== y[s] || bare.y[s] !== bare.y[s]) continue;
      lit += y[s] - 16;
      base += bare.y[s] - 16;
    }
    const light = lit / base;
    if (!(light > darkest && light < lightest)) return Infinity;
    let [sum, n] = [0, 0];
    for (let s = first; s < last; s++) {
      const off =
        Math.abs(y[s] - 16 - light * (bare.y[s] - 16)) +
        Math.abs(u[s] - 128 - light * (bare.u[s] - 128)) +
        Math.abs(v[s] - 128 - light * (bare.v[s] - 128));
      if (off !== off) continue;
      sum += off;
      n++;
    }
    return n > 0 ? sum / n : Infinity;
  };
}

/** Difference between the mean colours right inside and right outside a line at places about one, code values. */
function step(inside: StraightPicture, outside: StraightPicture, i: number): number {
  const mean = ({ across, count, ...picture }: StraightPicture, plane: 'y' | 'u' | 'v') => {
    let [sum, n] = [0, 0];
    for (let k = Math.max(0, i - near); k <= Math.min(count - 1, i + near); k++)
      for (let m = 0; m < beside; m++) {
        if (picture.y[k * across + m] !== picture.y[k * across + m]) continue;
        sum += picture[plane][k * across + m];
        n++;
      }
    return sum / (n || 1);
  };
  return (['y', 'u', 'v'] as const).reduce(
    (sum, plane) => sum + Math.abs(mean(inside, plane) - mean(outside, plane)),
    0,
  );
}

/** Pulls attached places to where the object's movement takes them: `count` × (2 · half + 1) costs of offsets `step` px apart about `centre`. */
export function pullAttached(
  costs: Float32Array,
  attached: Uint8Array,
  half: number,
  step: number,
  centre: Float64Array | null,
): void {
  const offsets = 2 * half + 1;
  for (let i = 0; i < attached.length; i++) {
    if (!attached[i]) continue;
    for (let k = 0; k < offsets; k++)
      costs[i * offsets + k] += pull * ((centre?.[i] ?? 0) + (k - half) * step) ** 2;
  }
}
