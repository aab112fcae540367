'use client';

import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import type { ReactNode } from 'react';
import { setCrossing } from '@/core/actions/layer-actions';
import { KeysIcon, RedoIcon, UndoIcon } from '@/interface/icons';
import { NameInput } from '@/interface/NameInput';
import { TopBar } from '@/interface/TopBar';
import { useDocument } from './document/document-store';
import { SaveMark } from './document/SaveMark';
import { edit } from './session/edit';
import { setView } from './view/view-store';

/** The open crossing's name, whether it is saved, undo and redo, and the key map. */
export function CrossingBar() {
  const name = useDocument((state) => state.document!.crossing.name);
  const undoable = useDocument((state) => state.history.findLast((entry) => !entry.undone));
  const redoable = useDocument((state) => state.history.find((entry) => entry.undone));
  const { undo, redo } = useDocument.getState();
  const rename = (to: string) => {
    const { document } = useDocument.getState();
    if (document) edit('Rename the crossing', setCrossing(document, { name: to }));
  };
  return (
    <TopBar>
      <NameInput
        value={name}
        label="Name of the crossing"
        onName={rename}
        sx={{
          ...{ fontWeight: 700, fontSize: 15 },
          ...{ borderLeft: 1, borderColor: 'divider', pl: 2, minWidth: 80, flex: '0 1 320px' },
        }}
      />
      <SaveMark />
      <Box sx={{ flex: 1 }} />
      <BarButton
        label="Undo"
        says={undoable ? `Undo: ${undoable.label} (Ctrl Z)` : 'Nothing to undo'}
        disabled={!undoable}
        onClick={() => void undo()}
      >
        <UndoIcon />
      </BarButton>
      <BarButton
        label="Redo"
        says={redoable ? `Redo: ${redoable.label} (Ctrl Shift Z)` : 'Nothing to redo'}
        disabled={!redoable}
        onClick={() => void redo()}
      >
        <RedoIcon />
      </BarButton>
      <BarButton label="Keys" says="Keys (?)" onClick={() => setView({ keysShown: true })}>
        <KeysIcon />
      </BarButton>
    </TopBar>
  );
}

function BarButton({
  label,
  says,
  disabled = false,
  onClick,
  children,
}: {
  label: string;
  says: string;
  disabled?: boolean;
  onClick(): void;
  children: ReactNode;
}) {
  return (
    <Tooltip title={says}>
      <span>
        <IconButton size="small" aria-label={label} disabled={disabled} onClick={onClick}>
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
