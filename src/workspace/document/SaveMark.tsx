'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useDocument } from './document-store';
import { showSetAside, useSetAside } from './set-aside-store';

/** Whether everything done has reached the disk, and what could not be saved; always in view. */
export function SaveMark() {
  const save = useDocument((state) => state.save);
  const nudge = useDocument((state) => state.nudgeSaving);
  const aside = useSetAside((state) => state.entries.length);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}>
      <Box
        role="status"
        data-testid="save-state"
        title={save.kind === 'waiting' ? (save.why ?? undefined) : undefined}
        sx={{
          fontSize: 13,
          color: save.kind === 'waiting' ? 'warning.main' : 'text.secondary',
          whiteSpace: 'nowrap',
          overflow: 'hidden',
          textOverflow: 'ellipsis',
        }}
      >
        {save.kind === 'saved' && 'Saved'}
        {save.kind === 'saving' && 'Saving…'}
        {save.kind === 'waiting' &&
          `${save.why ? 'The disk is full' : 'No answer from the server'}: ${save.waiting} ${save.waiting === 1 ? 'change waits' : 'changes wait'} in this browser`}
      </Box>
      {save.kind === 'waiting' && <Button onClick={nudge}>Try now</Button>}
      {aside > 0 && (
        <Button variant="outlined" color="warning" onClick={() => showSetAside(true)} sx={{ flex: 'none' }}>
          {aside} set aside
        </Button>
      )}
    </Box>
  );
}
