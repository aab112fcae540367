import { mixRate } from '../model/limits';

/**
 * Resampling by a sinc under a Kaiser window (J. O. Smith, *Digital Audio Resampling*; Kaiser and Schafer 1980 for the
 * window's shape): from 44.1 to 48 kHz flat within 0.1 dB to 20 kHz, and images and aliases below −90 dB.
 */

/** Zero crossings of the sinc on either side, counted at the lower of both rates. */
const crossings = 44;
/** Entries of the table from one zero crossing to the next; between them it is read linearly. */
const perCrossing = 512;
/** For 100 dB: 0.1102 (A − 8.7). */
const beta = 0.1102 * (100 - 8.7);

const kernel = (() => {
  const table = new Float64Array(crossings * perCrossing + 2);
  const scale = 1 / besselI0(beta);
  for (let k = 0; k < table.length; k++) {
    const x = k / perCrossing;
    const edge = 1 - (x / crossings) ** 2;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    table[k] = edge <= 0 ? 0 : sinc * besselI0(beta * Math.sqrt(edge)) * scale;
  }
  return table;
})();

/** The modified Bessel function of order 0, by its power series (Abramowitz and Stegun 9.6.12). */
function besselI0(x: number): number {
  let [sum, term] = [1, 1];
  for (let k = 1; term > sum * 1e-16; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Highest frequency that is left when sounds are brought to the mix's rate, Hz; it falls off from 20 kHz. */
const highest = 22_000;

/** Share of the source's own band that is left when it is read `speed` times as fast as it was taken at `rate`. */
function bandOf(rate: number, speed: number): number {
  return Math.min(1, (2 * highest) / (rate * speed));
}

/** Source samples that are read before and after a place. */
export function reach(rate: number, speed = 1): number {
  return Math.ceil(crossings / bandOf(rate, speed)) + 1;
}

/**
 * Reads samples at places between them.
 *
 * @param samples one channel at `rate`; beyond its ends there is silence.
 * @param placeOf where output sample n is read, in source samples.
 * @param count how many are read.
 * @param speed how many times as fast as it was taken it is read, so that nothing is folded back.
 */
export function readBetween(
  samples: Float32Array,
  placeOf: (n: number) => number,
  count: number,
  rate = mixRate,
  speed = 1,
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(count);
  const band = bandOf(rate, speed);
  const half = crossings / band;
  const step = band * perCrossing;
  for (let n = 0; n < count; n++) {
    const place = placeOf(n);
    const first = Math.max(0, Math.ceil(place - half));
    const last = Math.min(samples.length - 1, Math.floor(place + half));
    let sum = 0;
    for (let i = first; i <= last; i++) {
      const at = (i < place ? place - i : i - place) * step;
      const k = at | 0;
      sum += samples[i] * (kernel[k] + (at - k) * (kernel[k + 1] - kernel[k]));
    }
    out[n] = sum * band;
  }
  return out;
}

/**
 * One channel brought to the mix's rate.
 *
 * @param from the first sample of the result, at the mix's rate; the source's first sample is its 0.
 * @param first the place of `samples[0]` in the source.
 */
export function toMixRate(
  samples: Float32Array<ArrayBuffer>,
  rate: number,
  first: number,
  from: number,
  count: number,
): Float32Array<ArrayBuffer> {
  if (rate === mixRate) {
    const out = new Float32Array(count);
    const start = Math.max(from, first);
    const end = Math.min(from + count, first + samples.length);
    if (end > start) out.set(samples.subarray(start - first, end - first), start - from);
    return out;
  }
  // In whole numbers, so that no place drifts over hours.
  return readBetween(samples, (n) => ((from + n) * rate) / mixRate - first, count, rate);
}
