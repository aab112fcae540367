'use client';

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { KeyIcon, NoKeyIcon } from '@/interface/icons';
import { SmallButton } from '@/interface/SmallButton';

/** Fields of a value over time, and whether it has a key on this frame. */
export function KeyedRow({
  name,
  keyed,
  onToggle,
  children,
}: {
  name: string;
  keyed: boolean;
  onToggle(): void;
  children: ReactNode;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
      <Box sx={{ flex: 1, display: 'grid', gridAutoFlow: 'column', gridAutoColumns: '1fr', gap: 0.75 }}>
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
