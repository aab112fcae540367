/** What the server takes in one step; the page holds to it before it sends. */
export const limits = {
  /** Characters of a crossing's, layer's or outline's name. */
  name: 120,
  markName: 60,
  /** Characters of an edit's label. */
  label: 200,
  /** Row changes of one edit. */
  changes: 20_000,
  /** Points of one outline. */
  points: 2000,
  /** Frames of a crossing. */
  frames: 100_000,
  /** Length of a step as JSON, in UTF-16 code units. */
  stepLength: 32e6,
} as const;
