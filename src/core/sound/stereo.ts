/** Two channels of equally many samples, −1 to 1 at full scale. */
export type Stereo = readonly [left: Float32Array<ArrayBuffer>, right: Float32Array<ArrayBuffer>];

export const silence = (count: number): Stereo => [new Float32Array(count), new Float32Array(count)];

/** The factor of a level in dB; at −60 dB and below nothing is left. */
export const gainOf = (decibels: number) => (decibels <= quietest ? 0 : 10 ** (decibels / 20));
export const decibelsOf = (gain: number) => 20 * Math.log10(Math.max(gain, 1e-9));

/** dB at which a level counts as silence. */
export const quietest = -60;
