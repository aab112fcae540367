'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useDocument } from './document-store';

/** Whether everything done has reached the disk; always in view. */
export function SaveMark() {
  const save = useDocument((state) => state.save);
  const nudge = useDocument((state) => state.nudgeSaving);
  const text =
    save.kind === 'saved'
      ? 'Saved'
      : save.kind === 'saving'
        ? 'Saving…'
        : save.kind === 'waiting'
          ? `No answer from the server: ${save.waiting} ${save.waiting === 1 ? 'change waits' : 'changes wait'} in this browser`
          : 'Changed in another window';
  return (
    <Box
      role="status"
      data-testid="save-state"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        fontSize: 13,
        color: save.kind === 'waiting' ? 'warning.main' : 'text.secondary',
        whiteSpace: 'nowrap',
      }}
    >
      {text}
      {save.kind === 'waiting' && <Button onClick={nudge}>Try now</Button>}
    </Box>
  );
}
