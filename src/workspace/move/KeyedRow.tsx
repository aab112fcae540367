'use client';

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { KeyIcon, NoKeyIcon } from '@/interface/icons';
import { SmallButton } from '@/interface/SmallButton';

/** Fields of a value over time, and whether it has a key on this frame. */
export function KeyedRow({
  name,
  keyed,
  columns,
  onToggle,
  children,
}: {
  name: string;
  keyed: boolean;
  /** Widths of the fields; left out: all the same. */
  columns?: string;
  onToggle(): void;
  children: ReactNode;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
      <Box
        sx={{
          ...{ flex: 1, display: 'grid', gridAutoFlow: 'column', gridAutoColumns: '1fr', gap: 0.75 },
          gridTemplateColumns: columns,
        }}
      >
        {children}
      </Box>
      <SmallButton
        label={keyed ? `Remove the ${name}’s key on this frame` : `Key the ${name} on this frame`}
        pressed={keyed}
        onClick={onToggle}
      >
        {keyed ? <KeyIcon size={16} /> : <NoKeyIcon size={16} />}
      </SmallButton>
    </Box>
  );
}
