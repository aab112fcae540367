/**
 * Weights by which a followed line says how sure it is, as `npm run bench -- fit` wrote them. How they are found: docs/methods.md,
 * Carrying.
 */
export const fittedWeights = {
  /** When, to which passes by chance, and to how many frames of them. */
  fitted: { date: '2026-12-02', set: 'work', frames: 3904 },
  /** Of what each place said, for the scale of a Cauchy distribution, px. */
  places: {
    variance: 0.492,
    doubt: 33,
    unlike: 0.0713,
    leap: 0.0099,
    steps: 0.00994,
    varianceBefore: 0.00852,
    doubtBefore: 0.0061,
  },
  /** Of the logarithms of what a frame said that was followed from one end; at 0 it is unsure. */
  oneWay: {
    bias: 2.37,
    lost: 1.57,
    spread: 4.54,
    other: 1.66,
    leap: 0.392,
    rough: 0.48,
    behind: 0.258,
    object: 0.403,
    beside: 0.298,
  },
  /** The same between two known frames. */
  between: { bias: -2.3, off: 1.25, apart: 0.248 },
} as const;
