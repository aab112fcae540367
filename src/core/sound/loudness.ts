import { Biquad, type Coefficients } from './biquad';
import type { Stereo } from './stereo';
import { mixRate } from '../model/limits';

/** ITU-R BS.1770-4, tables 1 and 2: the K-weighting's two sections at 48 kHz. */
const shelf: Coefficients = {
  b0: 1.53512485958697,
  b1: -2.69169618940638,
  b2: 1.19839281085285,
  a1: -1.69065929318241,
  a2: 0.73248077421585,
};
const revised: Coefficients = { b0: 1, b1: -2, b2: 1, a1: -1.99004745483398, a2: 0.99007225036621 };

/** Samples of a gating block's quarter: blocks of 400 ms overlap by 75 %. */
const quarter = mixRate / 10;

/** LUFS below which a block counts as silence, and LU below the rest at which it is left out. */
const absoluteGate = -70;
const relativeGate = -10;

const loudnessOf = (power: number) => -0.691 + 10 * Math.log10(power);
const powerOf = (loudness: number) => 10 ** ((loudness + 0.691) / 10);

/** Weights of the channels of two and of 5.1 (BS.1770-4, table 3); low effects are left out. */
const channelWeights: Readonly<Record<2 | 6, readonly number[]>> = {
  2: [1, 1],
  6: [1, 1, 1, 0, 1.41, 1.41],
};

/** Measures loudness as sound comes in (ITU-R BS.1770-4, annex 1; EBU Tech 3341 for the momentary one). */
export class LoudnessMeter {
  private readonly filters: [Biquad, Biquad][];
  private readonly weights: readonly number[];
  /** Mean powers of the quarters, all channels together. */
  private readonly quarters: number[] = [];
  private sum = 0;
  private filled = 0;

  /** @param channels of the sound: two, or the six of 5.1 in a WAV file's order. */
  constructor(channels: 2 | 6 = 2) {
    this.weights = channelWeights[channels];
    this.filters = this.weights.map(() => [new Biquad(shelf), new Biquad(revised)]);
  }

  add(sound: readonly Float32Array<ArrayBuffer>[]) {
    const count = sound[0].length;
    const weighted = sound.map((channel, c) => {
      const copy = channel.slice();
      for (const filter of this.filters[c]) filter.run(copy);
      return copy;
    });
    for (let i = 0; i < count;) {
      const end = Math.min(count, i + quarter - this.filled);
      this.filled += end - i;
      weighted.forEach((channel, c) => {
        for (let k = i; k < end; k++) this.sum += this.weights[c] * channel[k] ** 2;
      });
      i = end;
      if (this.filled < quarter) continue;
      this.quarters.push(this.sum / quarter);
      this.sum = 0;
      this.filled = 0;
    }
  }

  /** LUFS of the last 400 ms; −∞ before there are so many. */
  momentary(): number {
    const last = this.quarters.slice(-4);
    return last.length < 4 ? -Infinity : loudnessOf(mean(last));
  }

  /** LUFS of all that came in, gated; −∞ where nothing is above the gate. */
  integrated(): number {
    const blocks = this.quarters.slice(3).map((_, k) => mean(this.quarters.slice(k, k + 4)));
    const heard = blocks.filter((power) => power > powerOf(absoluteGate));
    if (heard.length === 0) return -Infinity;
    const gate = loudnessOf(mean(heard)) + relativeGate;
    const loud = heard.filter((power) => power > powerOf(gate));
    return loud.length === 0 ? -Infinity : loudnessOf(mean(loud));
  }
}

const mean = (numbers: readonly number[]) => numbers.reduce((sum, each) => sum + each, 0) / numbers.length;

// By short names, as they are called for every sample.
const { abs, max } = Math;

/** Taps on either side, and places between two samples, at which true peaks are looked for. */
const taps = 12;
const places = 4;
const between = Array.from({ length: places - 1 }, (_, p) => {
  const at = (p + 1) / places;
  return Float64Array.from({ length: 2 * taps }, (_, k) => {
    const x = k - taps + 1 - at;
    return (Math.sin(Math.PI * x) / (Math.PI * x)) * (0.5 + 0.5 * Math.cos((Math.PI * x) / (taps + 0.5)));
  });
});

/**
 * The largest absolute value at and between samples `i` and `i + 1`, as a reconstruction would have it: at four times
 * the rate, as ITU-R BS.1770-4, annex 2 asks; the interpolator is a sinc under a Hann window.
 */
export function truePeakAt(samples: Float32Array, i: number): number {
  let peak = abs(samples[i]);
  const first = i - taps + 1;
  for (const filter of between) {
    let sum = 0;
    for (let k = 0; k < filter.length; k++) sum += filter[k] * (samples[first + k] ?? 0);
    peak = max(peak, abs(sum));
  }
  return peak;
}

/** The largest true peak of a stretch of sound, as a factor of full scale. */
export function truePeak(sound: Stereo): number {
  let peak = 0;
  for (const channel of sound)
    for (let i = 0; i < channel.length; i++) {
      // Between samples it is rarely twice as high as at them: what is far below the peak so far is passed over.
      if (max(abs(channel[i]), abs(channel[i + 1] ?? 0)) * 2 > peak) peak = max(peak, truePeakAt(channel, i));
    }
  return peak;
}
