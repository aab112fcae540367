'use client';

import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { MouseEvent, ReactNode } from 'react';

/** A small button with a picture, whose name shows under the pointer. */
export function SmallButton({
  label,
  pressed,
  disabled,
  onClick,
  children,
}: {
  label: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick(event: MouseEvent<HTMLElement>): void;
  children: ReactNode;
}) {
  return (
    <Tooltip title={label}>
      <span>
        <IconButton
          size="small"
          aria-label={label}
          aria-pressed={pressed}
          disabled={disabled}
          color={pressed ? 'primary' : 'default'}
          onClick={onClick}
          sx={{ p: '3px' }}
        >
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
