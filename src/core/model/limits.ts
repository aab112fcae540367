/** What the server takes in one step; the page holds to it before it sends. */
export const limits = {
  /** Characters of a crossing's, layer's or outline's name. */
  name: 120,
  markName: 60,
  /** Characters of what a decision says, and of what it rests on. */
  decision: 400,
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

/** What λ may be; beyond it the borders of a wide lens would lie endlessly far out. */
export const lensBounds = [-0.7, 0.5] as const;

/** Most samples, at the mix's rate, of a sound and of its place: 12 hours. */
export const mostSamples = 12 * 3600 * 48_000;

/** Most samples of a made sound: 2 minutes. */
export const mostMade = 120 * 48_000;

/** Tracks of sound. */
export const mostTracks = 8;

/** Samples a second in which everything is mixed. */
export const mixRate = 48_000;
