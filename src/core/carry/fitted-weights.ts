/**
 * Weights by which a followed line says how sure it is, as `npm run bench -- fit` wrote them. How they are found: docs/methods.md,
 * Carrying.
 */
export const fittedWeights = {
  /** When, to which passes by chance, and to how many frames of them. */
  fitted: { date: '2026-12-01', set: 'work', frames: 2576 },
  /** Of what each place said, for the scale of a Cauchy distribution, px. */
  places: {
    variance: 0.598,
    doubt: 4.63,
    unlike: 0.0621,
    leap: 0.00541,
    steps: 0.013,
    varianceBefore: 0.0000243,
    doubtBefore: 0.53,
  },
  /** Of the logarithms of what a frame said that was followed from one end; at 0 it is unsure. */
  oneWay: {
    bias: 2.32,
    lost: 0.854,
    spread: 3.52,
    other: 1.75,
    leap: 0.644,
    rough: 0.31,
    behind: 0.147,
    object: 0.171,
    beside: 1.28,
  },
  /** The same between two known frames. */
  between: { bias: -4.98, off: 1.15, apart: 0.75, beside: 1.71 },
} as const;
