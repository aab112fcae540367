'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { saveAsFile } from '@/interface/save-as-file';
import { useDocument } from './document-store';
import { type KeptAside, letGo, showSetAside, useSetAside } from './set-aside-store';

const whatOf = ({ step }: KeptAside) =>
  step.kind === 'do' ? step.edit.label : step.kind === 'undo' ? 'An undo' : 'A redo';

/** Edits that could not be saved: what, when and why, and what to do with each. */
export function SetAsideList() {
  const { entries, shown } = useSetAside();
  const open = shown && entries.length > 0;
  return (
    <Dialog
      open={open}
      onClose={() => showSetAside(false)}
      maxWidth="sm"
      fullWidth
      aria-labelledby="set-aside-title"
    >
      <DialogTitle id="set-aside-title" sx={{ pb: 0.5 }}>
        Set aside
      </DialogTitle>
      <DialogContent>
        <Box sx={{ color: 'text.secondary', mb: 1.5 }}>
          These edits could not be saved with the rest. They are kept in this browser until you decide.
          {entries.some(({ key }) => key < 0) &&
            ' The browser’s storage cannot be written: save those you need as files before you close this window.'}
        </Box>
        <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0 }} aria-label="Edits set aside">
          {entries.map((entry) => (
            <Entry key={entry.key} entry={entry} />
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => showSetAside(false)}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function Entry({ entry }: { entry: KeptAside }) {
  const doAgain = useDocument((state) => state.doAgain);
  const [refusal, setRefusal] = useState<string | null>(null);
  const [leaving, setLeaving] = useState(false);
  const { step, at, reason } = entry;
  return (
    <Box component="li" sx={{ borderTop: 1, borderColor: 'divider', py: 1 }}>
      <Box sx={{ fontWeight: 700, overflowWrap: 'anywhere' }}>{whatOf(entry)}</Box>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {at ? new Date(at).toLocaleString() : 'In an earlier version of Kiv'}
      </Box>
      <Box sx={{ fontSize: 14, overflowWrap: 'anywhere' }}>
        {reason ?? 'Another window changed the crossing first.'}
      </Box>
      {refusal && (
        <Box role="alert" sx={{ fontSize: 14, color: 'error.main' }}>
          {refusal}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 1, mt: 0.5 }}>
        {step.kind === 'do' && (
          <>
            <Button
              variant="outlined"
              onClick={() => {
                const why = doAgain(step.edit);
                setRefusal(why);
                if (why === null) void letGo(entry);
              }}
            >
              Try again
            </Button>
            <Button
              onClick={() =>
                saveAsFile(
                  `Set aside, ${step.edit.label}.json`,
                  JSON.stringify({ what: step.edit.label, at, reason, ...entry }, null, 1),
                )
              }
            >
              Save as a file
            </Button>
          </>
        )}
        <Button
          color={leaving ? 'error' : 'inherit'}
          onBlur={() => setLeaving(false)}
          onClick={() => (leaving ? void letGo(entry) : setLeaving(true))}
        >
          {leaving ? 'Discard for good' : 'Discard'}
        </Button>
      </Box>
    </Box>
  );
}
