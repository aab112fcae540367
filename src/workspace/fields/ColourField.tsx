'use client';

import Box from '@mui/material/Box';
import { useEffect, useRef } from 'react';

/** A colour (red, green and blue in a byte each) to be chosen; it is told once, when the choice is made. */
export function ColourField({
  label,
  value,
  disabled,
  onChange,
}: {
  label: string;
  value: number;
  disabled?: boolean;
  onChange(value: number): void;
}) {
  const input = useRef<HTMLInputElement>(null);
  const shown = `#${value.toString(16).padStart(6, '0')}`;
  useEffect(() => {
    const { current } = input;
    if (!current) return;
    // React's own onChange tells of every colour on the way.
    const chosen = () => onChange(parseInt(current.value.slice(1), 16));
    current.addEventListener('change', chosen);
    return () => current.removeEventListener('change', chosen);
    // With every colour the field is another one.
  }, [shown, onChange]);
  return (
    <Box
      component="input"
      ref={input}
      key={shown}
      type="color"
      aria-label={label}
      title={label}
      disabled={disabled}
      defaultValue={shown}
      sx={{ width: 44, height: 37, p: 0.25, border: 1, borderColor: 'divider', bgcolor: 'transparent' }}
    />
  );
}
