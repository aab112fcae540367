import { mixRate } from '../model/limits';

/** A second-order section, divided by a0: y = b0·x + b1·x₁ + b2·x₂ − a1·y₁ − a2·y₂. */
export interface Coefficients {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/** The quality that makes a low-pass or a high-pass flat (Butterworth), in dB as the specification takes it. */
export const flatQuality = 20 * Math.log10(Math.SQRT1_2);

/**
 * Filters by the formulas of W3C, Web Audio API 1.1, section 1.13.5 (after Bristow-Johnson's *Audio EQ Cookbook*).
 *
 * @param frequency Hz, above 0 and below half the rate.
 * @param quality dB for low-pass and high-pass; of a peak the plain Q.
 */
export function lowPass(frequency: number, quality = flatQuality, rate = mixRate): Coefficients {
  const { cos, alpha } = anglesOf(frequency, 10 ** (quality / 20), rate);
  return divided((1 - cos) / 2, 1 - cos, (1 - cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
}

export function highPass(frequency: number, quality = flatQuality, rate = mixRate): Coefficients {
  const { cos, alpha } = anglesOf(frequency, 10 ** (quality / 20), rate);
  return divided((1 + cos) / 2, -(1 + cos), (1 + cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
}

/** @param gain dB at the frequency. */
export function peaking(frequency: number, quality: number, gain: number, rate = mixRate): Coefficients {
  const { cos, alpha } = anglesOf(frequency, quality, rate);
  const a = 10 ** (gain / 40);
  return divided(1 + alpha * a, -2 * cos, 1 - alpha * a, 1 + alpha / a, -2 * cos, 1 - alpha / a);
}

/** A band with 0 dB at its middle. @param quality plain Q. */
export function bandPass(frequency: number, quality: number, rate = mixRate): Coefficients {
  const { cos, alpha } = anglesOf(frequency, quality, rate);
  return divided(alpha, 0, -alpha, 1 + alpha, -2 * cos, 1 - alpha);
}

function anglesOf(frequency: number, quality: number, rate: number) {
  const omega = (2 * Math.PI * frequency) / rate;
  return { cos: Math.cos(omega), alpha: Math.sin(omega) / (2 * quality) };
}

function divided(b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): Coefficients {
  return { b0: b0 / a0, b1: b1 / a0, b2: b2 / a0, a1: a1 / a0, a2: a2 / a0 };
}

/** One channel's filter with its memory (transposed direct form II); its coefficients may change as it runs. */
export class Biquad {
  private z1 = 0;
  private z2 = 0;

  constructor(private c: Coefficients) {}

  set(coefficients: Coefficients) {
    this.c = coefficients;
  }

  /** Filters samples in place. */
  run(samples: Float32Array, from = 0, to = samples.length) {
    const { b0, b1, b2, a1, a2 } = this.c;
    let { z1, z2 } = this;
    for (let i = from; i < to; i++) {
      const x = samples[i];
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      samples[i] = y;
    }
    // Numbers too small to be normal make some processors slow.
    this.z1 = Math.abs(z1) < 1e-25 ? 0 : z1;
    this.z2 = Math.abs(z2) < 1e-25 ? 0 : z2;
  }
}
