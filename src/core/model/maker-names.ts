/** Sounds that Kiv makes itself. */
export const makerNames = [
  'air sweep',
  'thud',
  'latch',
  'creak',
  'wind',
  'murmur',
  'water',
  'night insects',
] as const;
export type MakerName = (typeof makerNames)[number];
