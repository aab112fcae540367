/** One measured figure, with what it is held against in the same run. */
export interface Figure {
  name: string;
  value: number;
  unit: string;
  reference?: { name: string; value: number };
  /** The ratio to the reference, or without one the value itself, that must not be exceeded. */
  atMost?: number;
  /** Likewise what it must reach. */
  atLeast?: number;
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1];
}

/** What is held against the bound: the ratio to the reference, or the value itself. */
const heldAgainstBound = ({ value, reference }: Figure) => (reference ? value / reference.value : value);

/** Whether a figure is worse than it may be. */
export function isMissed(figure: Figure): boolean {
  const { atMost = Infinity, atLeast = -Infinity } = figure;
  const held = heldAgainstBound(figure);
  return !(held <= atMost && held >= atLeast);
}

/** The figure as one line of the report. */
export function formatFigure(figure: Figure): string {
  const { name, value, unit, reference, atMost, atLeast } = figure;
  const ratio = heldAgainstBound(figure);
  const against = reference
    ? ` · ${reference.name} ${reference.value.toFixed(2)} ${unit} · ratio ${ratio.toFixed(3)}`
    : '';
  const wanted = atMost !== undefined ? `≤ ${atMost}` : atLeast !== undefined ? `≥ ${atLeast}` : null;
  const verdict = wanted === null ? '' : ` · wanted ${wanted} · ${isMissed(figure) ? 'MISSED' : 'held'}`;
  // Shares from 0 to 1 differ by thousandths.
  return `${name}: ${value.toFixed(unit === '' ? 3 : 2)}${unit && ` ${unit}`}${against}${verdict}`;
}
