'use client';

import Box from '@mui/material/Box';
import type { SystemStyleObject } from '@mui/system';

/** A name that is edited where it stands: taken on leaving or Enter; an empty one goes back to what it was. */
export function NameInput({
  value,
  label,
  most = 120,
  empty = false,
  placeholder,
  onFocus,
  onName,
  sx,
}: {
  value: string;
  label: string;
  /** Longest that is taken. */
  most?: number;
  /** Whether nothing may be entered. */
  empty?: boolean;
  placeholder?: string;
  onFocus?(): void;
  onName(name: string): void;
  sx?: SystemStyleObject;
}) {
  return (
    <Box
      component="input"
      // Another value from elsewhere is shown at once.
      key={value}
      defaultValue={value}
      aria-label={label}
      placeholder={placeholder}
      maxLength={most}
      onFocus={onFocus}
      onBlur={(event: React.FocusEvent<HTMLInputElement>) => {
        const name = event.target.value.trim();
        if ((name !== '' || empty) && name !== value) onName(name);
        else event.target.value = value;
      }}
      onKeyDown={(event: React.KeyboardEvent<HTMLInputElement>) =>
        event.key === 'Enter' && event.currentTarget.blur()
      }
      sx={{
        font: 'inherit',
        border: 0,
        p: 0,
        minWidth: 0,
        bgcolor: 'transparent',
        color: 'text.primary',
        ...sx,
      }}
    />
  );
}
