'use client';

import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';

/** Something that is on or off. */
export function SwitchField({
  label,
  title,
  on,
  onChange,
}: {
  label: string;
  title?: string;
  on: boolean;
  onChange(on: boolean): void;
}) {
  return (
    <FormControlLabel
      control={<Switch size="small" checked={on} onChange={(_event, checked) => onChange(checked)} />}
      label={label}
      title={title}
      sx={{ ml: -0.5, '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
}
