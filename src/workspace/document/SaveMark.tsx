'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { saveAsFile } from '@/interface/save-as-file';
import { useDocument } from './document-store';
import { showSetAside, useSetAside } from './set-aside-store';

/** Hands the edits that have not reached the server to the person, as a file. */
function saveUnsent() {
  const { document, unsentEdits } = useDocument.getState();
  if (!document) return;
  const { id, name } = document.crossing;
  const contents = {
    what: 'Unsaved changes of a Kiv crossing',
    crossing: { id, name },
    steps: unsentEdits(),
  };
  saveAsFile(`Unsaved changes, ${name}.json`, JSON.stringify(contents, null, 1));
}

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
          `${save.why ? 'The disk is full' : 'No answer from the server'}: ${save.waiting} ${save.waiting === 1 ? 'change waits' : 'changes wait'} in this ${save.onlyHere > 0 ? 'window only' : 'browser'}`}
      </Box>
      {save.kind === 'waiting' && <Button onClick={nudge}>Try now</Button>}
      {save.kind === 'waiting' && (
        <Button onClick={saveUnsent} title="Save the changes that wait as a JSON file">
          Save as a file
        </Button>
      )}
      {aside > 0 && (
        <Button variant="outlined" color="warning" onClick={() => showSetAside(true)} sx={{ flex: 'none' }}>
          {aside} set aside
        </Button>
      )}
    </Box>
  );
}
