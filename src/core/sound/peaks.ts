import type { Stereo } from './stereo';

/** Lowest and highest sample of each stretch of a sound, both channels together: min, max, min, max … */
export type Peaks = Float32Array<ArrayBuffer>;

/** The wave of a piece as it will sound, as far as it lies within the crossing. */
export interface PieceWave {
  id: string;
  /** Crossing samples. */
  from: number;
  to: number;
  /** Where its source's first sample lay: a wave goes along with it while a hand moves the piece. */
  zero: number;
  perPeak: number;
  peaks: Peaks;
}

/** @param perPeak samples of a stretch. */
export function peaksOf([left, right]: Stereo, perPeak: number): Peaks {
  const peaks = new Float32Array(2 * Math.ceil(left.length / perPeak));
  for (let p = 0; p * 2 < peaks.length; p++) {
    let [low, high] = [Infinity, -Infinity];
    for (let i = p * perPeak; i < Math.min(left.length, (p + 1) * perPeak); i++) {
      low = Math.min(low, left[i], right[i]);
      high = Math.max(high, left[i], right[i]);
    }
    peaks[2 * p] = low;
    peaks[2 * p + 1] = high;
  }
  return peaks;
}
