/**
 * Weights by which a followed line says how sure it is, as `npm run bench -- fit` wrote them. How they are found: docs/methods.md,
 * Carrying.
 */
export const fittedWeights = {
  /** When, to which passes by chance, and to how many frames of them. */
  fitted: { date: '2026-12-01', set: 'work', frames: 2576 },
  /** Of what each place said, for the scale of a Cauchy distribution, px. */
  places: {
    variance: 0.574,
    doubt: 4.55,
    unlike: 0.0632,
    leap: 0.00525,
    steps: 0.0131,
    varianceBefore: 0.00144,
    doubtBefore: 0.519,
  },
  /** Of the logarithms of what a frame said that was followed from one end; at 0 it is unsure. */
  oneWay: {
    bias: 2.95,
    lost: 1.03,
    spread: 3.69,
    other: 1.72,
    leap: 0.474,
    rough: 0.301,
    behind: 0.123,
    object: 0.169,
    beside: 1.05,
  },
  /** The same between two known frames. */
  between: { bias: -3.14, off: 1.09, apart: 0.454, beside: 1.15 },
} as const;
