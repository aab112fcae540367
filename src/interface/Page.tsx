'use client';

import Box from '@mui/material/Box';
import type { DragEventHandler, ReactNode } from 'react';
import { TopBar } from './TopBar';

/** A page that scrolls below the top bar: shelf, footage, exports. */
export function Page({
  children,
  ...drop
}: {
  children: ReactNode;
  onDragOver?: DragEventHandler;
  onDragLeave?: DragEventHandler;
  onDrop?: DragEventHandler;
}) {
  return (
    <Box sx={{ height: '100vh', display: 'flex', flexDirection: 'column' }}>
      <TopBar />
      <Box component="main" {...drop} sx={{ flex: 1, minHeight: 0, overflowY: 'auto', px: 4, py: 3 }}>
        <Box sx={{ maxWidth: 1180, mx: 'auto' }}>{children}</Box>
      </Box>
    </Box>
  );
}
