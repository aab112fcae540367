'use client';

import Box from '@mui/material/Box';
import { type ReactNode, useState } from 'react';

/**
 * A part of a panel that opens at its heading. What is in it is only built while it is open.
 *
 * @param meant whether it is open until somebody shuts it.
 */
export function Fold({
  heading,
  meant = false,
  children,
}: {
  heading: ReactNode;
  meant?: boolean;
  children: ReactNode;
}) {
  const [chosen, setChosen] = useState<boolean | null>(null);
  const open = chosen ?? meant;
  return (
    <Box
      component="details"
      open={open}
      onToggle={({ currentTarget }) => currentTarget.open !== open && setChosen(currentTarget.open)}
      sx={{ '& summary': { cursor: 'pointer', fontSize: 13, py: 0.5 } }}
    >
      <summary>{heading}</summary>
      {open && children}
    </Box>
  );
}
