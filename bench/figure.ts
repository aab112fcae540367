/** One measured figure, with what it is held against in the same run. */
export interface Figure {
  name: string;
  value: number;
  unit: string;
  reference?: { name: string; value: number };
  /** The ratio to the reference, or without one the value itself, that must not be exceeded. */
  atMost?: number;
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1];
}

/** The figure as one line of the report. */
export function formatFigure({ name, value, unit, reference, atMost }: Figure): string {
  const ratio = reference ? value / reference.value : value;
  const against = reference
    ? ` · ${reference.name} ${reference.value.toFixed(2)} ${unit} · ratio ${ratio.toFixed(3)}`
    : '';
  const verdict =
    atMost === undefined ? '' : ` · wanted ≤ ${atMost} · ${ratio <= atMost ? 'held' : 'MISSED'}`;
  return `${name}: ${value.toFixed(2)} ${unit}${against}${verdict}`;
}
