import { formatRate } from '@/core/time/rate';
import type { Rate } from '@/core/model/time';

/** Rates that stills can be given. */
export const stillRates: { rate: Rate; label: string }[] = [
  { num: 24000, den: 1001 },
  { num: 24, den: 1 },
  { num: 25, den: 1 },
  { num: 30000, den: 1001 },
  { num: 30, den: 1 },
  { num: 50, den: 1 },
  { num: 60000, den: 1001 },
  { num: 60, den: 1 },
].map((rate) => ({ rate, label: `${formatRate(rate)} fps` }));
