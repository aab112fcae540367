/**
 * Weights by which a followed line says how sure it is, as `npm run bench -- fit` wrote them. How they are found: docs/methods.md,
 * Carrying.
 */
export const fittedWeights = {
  /** When, to which passes by chance, and to how many frames of them. */
  fitted: { date: '2026-12-01', set: 'work', frames: 2576 },
  /** Of what each place said, for the scale of a Cauchy distribution, px. */
  places: {
    variance: 0.473,
    doubt: 33,
    unlike: 0.0633,
    leap: 0.00594,
    steps: 0.0135,
    varianceBefore: 0.00789,
    doubtBefore: 0.006,
  },
  /** Of the logarithms of what a frame said that was followed from one end; at 0 it is unsure. */
  oneWay: {
    bias: 2.15,
    lost: 0.814,
    spread: 3.53,
    other: 1.71,
    leap: 0.569,
    rough: 0.359,
    behind: 0.157,
    object: 0.231,
    beside: 1.3,
  },
  /** The same between two known frames. */
  between: { bias: -2.86, off: 1.31, apart: 0.441 },
} as const;
