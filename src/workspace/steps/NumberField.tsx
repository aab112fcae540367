'use client';

import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { useState } from 'react';

/** A number that is taken when Enter is pressed or the field is left; what is out of range is said and not taken. */
export function NumberField({
  label,
  value,
  low,
  high,
  unit,
  whole = false,
  onChange,
}: {
  label: string;
  value: number;
  low: number;
  high: number;
  unit?: string;
  whole?: boolean;
  onChange(value: number): void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const number = typed === null ? value : Number(typed.replace(',', '.'));
  const wrong =
    typed !== null &&
    (typed.trim() === '' ||
      !Number.isFinite(number) ||
      number < low ||
      number > high ||
      (whole && !Number.isInteger(number)));
  const take = () => {
    if (typed !== null && !wrong && number !== value) onChange(number);
    setTyped(null);
  };
  return (
    <TextField
      label={label}
      value={typed ?? String(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') setTyped(null);
        const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        setTyped(null);
        onChange(Math.min(high, Math.max(low, value + by)));
      }}
      error={wrong}
      helperText={wrong ? `${whole ? 'A whole number' : 'A number'} from ${low} to ${high}` : undefined}
      fullWidth
      slotProps={{
        htmlInput: { inputMode: 'decimal', style: { fontFamily: '"Atkinson Hyperlegible Mono"' } },
        input: unit ? { endAdornment: <InputAdornment position="end">{unit}</InputAdornment> } : undefined,
      }}
    />
  );
}
