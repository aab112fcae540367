'use client';

import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { useRef, useState } from 'react';

/**
 * A number that is taken when Enter is pressed or the field is left. What is out of range is not taken, and stays with a sentence
 * until it is right or Escape gives it up.
 *
 * @param shownAs what stands on the field where its group says the rest.
 * @param always whether Enter takes the number that is shown already, too: as where a key is made of it.
 */
export function NumberField({
  label,
  shownAs,
  value,
  low,
  high,
  unit,
  whole = false,
  always = false,
  onChange,
}: {
  label: string;
  shownAs?: string;
  value: number;
  low: number;
  high: number;
  unit?: string;
  whole?: boolean;
  always?: boolean;
  onChange(value: number): void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const left = useRef<'Enter' | 'Escape' | null>(null);
  const number = typed === null ? value : Number(typed.replace(',', '.'));
  const wrong =
    typed !== null &&
    (typed.trim() === '' ||
      !Number.isFinite(number) ||
      number < low ||
      number > high ||
      (whole && !Number.isInteger(number)));
  const take = () => {
    const by = left.current;
    left.current = null;
    if (wrong && by !== 'Escape') return;
    if (by !== 'Escape' && (number !== value || (always && by === 'Enter'))) onChange(number);
    setTyped(null);
  };
  return (
    <TextField
      label={shownAs ?? label}
      value={typed ?? String(value)}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        // Leaving the field takes the number; the keys go back to the picture.
        if (event.key === 'Escape' || (event.key === 'Enter' && !wrong)) {
          left.current = event.key;
          (event.target as HTMLElement).blur();
        }
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
        htmlInput: {
          inputMode: 'decimal',
          'aria-label': shownAs && label,
          style: { fontFamily: '"Atkinson Hyperlegible Mono"' },
        },
        input: unit ? { endAdornment: <InputAdornment position="end">{unit}</InputAdornment> } : undefined,
      }}
    />
  );
}
