'use client';

import { mixRate } from '@/core/model/limits';
import { NumberField } from '../fields/NumberField';

/** A number of samples, typed in seconds. */
export function SecondsField({
  label,
  samples,
  most,
  onChange,
}: {
  label: string;
  samples: number;
  most: number;
  onChange(samples: number): void;
}) {
  return (
    <NumberField
      label={label}
      unit="s"
      value={Math.round((samples / mixRate) * 1000) / 1000}
      low={0}
      high={Math.floor((most / mixRate) * 1000) / 1000}
      onChange={(seconds) => onChange(Math.min(most, Math.round(seconds * mixRate)))}
    />
  );
}
