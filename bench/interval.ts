import { seeded } from '../demo/random';
import { quantile } from '../src/core/numbers/quantile';

/** Times that passes are drawn anew from those there are. */
const draws = 1000;

/** A figure over passes with its 90 % interval. */
export interface Interval {
  value: number;
  low: number;
  high: number;
}

/** The 90 % interval of a figure over passes: by bootstrap (Efron 1979), as many passes drawn from them again and again. */
export function intervalOver<T>(passes: readonly T[], figure: (passes: readonly T[]) => number): Interval {
  const random = seeded(1);
  const drawn = Array.from({ length: draws }, () =>
    figure(passes.map(() => passes[Math.floor(random() * passes.length)])),
  ).filter((value) => !Number.isNaN(value));
  return { value: figure(passes), low: quantile(drawn, 0.05), high: quantile(drawn, 0.95) };
}

export function formatInterval({ value, low, high }: Interval, unit: string, digits = 1): string {
  if (Number.isNaN(value)) return '–';
  return `${value.toFixed(digits)} ${unit} (${low.toFixed(digits)} to ${high.toFixed(digits)})`;
}
