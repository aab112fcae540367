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
    doubt: 33,
    unlike: 0.0621,
    leap: 0.0055,
    steps: 0.013,
    varianceBefore: 0.00000614,
    doubtBefore: 0.0059,
  },
  /** Of the logarithms of what a frame said that was followed from one end; at 0 it is unsure. */
  oneWay: {
    bias: 2.41,
    lost: 0.85,
    spread: 3.46,
    other: 1.77,
    leap: 0.558,
    rough: 0.333,
    behind: 0.193,
    object: 0.211,
    beside: 1.29,
  },
  /** The same between two known frames. */
  between: { bias: -2.95, off: 1.25, apart: 0.743 },
} as const;
