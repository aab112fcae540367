'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { type DecisionRow, decisionsInOrder } from '@/core/draft/decisions';
import type { Sureness } from '@/core/model/choices';
import { FindingIcon, OpenMarkIcon, TickIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { setView } from '../view/view-store';
import { clearDecisions, undoDecision } from './decision-commands';

const surenessSays: Record<Sureness, string> = {
  sure: 'Sure',
  likely: 'Likely: look at it',
  open: 'Not decided',
};

/** What the draft decided: each with what it rests on, the way to change it, and undoing it alone. */
export function DecisionList({ busy }: { busy: boolean }) {
  const document = useDocument((state) => state.document)!;
  const { enqueueSnackbar } = useSnackbar();
  const [undoing, setUndoing] = useState(false);
  const decisions = decisionsInOrder(document);
  if (decisions.length === 0) return null;
  const undo = (decision: DecisionRow) => {
    setUndoing(true);
    void undoDecision(decision).then((said) => {
      setUndoing(false);
      if (said) enqueueSnackbar(said);
    });
  };
  return (
    <Box sx={{ display: 'grid', gap: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'space-between' }}>
        <Box component="h3" sx={{ m: 0, fontSize: 14 }}>
          What was decided
        </Box>
        <Button onClick={clearDecisions} disabled={busy} title="Removes the lines; what they changed stays">
          Clear list
        </Button>
      </Box>
      <Box
        component="ol"
        aria-label="What was decided"
        sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)' }}
      >
        {decisions.map((decision) => (
          <DecisionItem
            key={decision.id}
            decision={decision}
            busy={busy || undoing}
            onUndo={() => undo(decision)}
          />
        ))}
      </Box>
    </Box>
  );
}

function DecisionItem({
  decision: { what, basis, sure, step },
  busy,
  onUndo,
}: {
  decision: DecisionRow;
  busy: boolean;
  onUndo(): void;
}) {
  return (
    <Box
      component="li"
      sx={{
        ...{ display: 'grid', gridTemplateColumns: '20px minmax(0, 1fr)', columnGap: 0.5 },
        ...{ borderTop: 1, borderColor: 'divider', pt: 0.5 },
      }}
    >
      <Box
        role="img"
        aria-label={surenessSays[sure]}
        title={surenessSays[sure]}
        sx={{ color: sure === 'sure' ? 'primary.main' : 'text.primary', pt: '1px' }}
      >
        {sure === 'sure' ? (
          <TickIcon size={16} />
        ) : sure === 'likely' ? (
          <FindingIcon size={16} />
        ) : (
          <OpenMarkIcon size={16} />
        )}
      </Box>
      <Box sx={{ overflowWrap: 'break-word' }}>
        <Box sx={{ fontSize: 13, fontWeight: 600, lineHeight: 1.35 }}>{what}</Box>
        {basis && <Box sx={{ fontSize: 12, color: 'text.secondary', lineHeight: 1.35 }}>{basis}</Box>}
        <Box sx={{ display: 'flex', ml: -0.75, '& .MuiButton-root': { py: 0, fontSize: 12 } }}>
          <Button onClick={() => setView({ step, playing: false })} aria-label={`Change: ${what}`}>
            Change
          </Button>
          {sure !== 'open' && (
            <Button disabled={busy} onClick={onUndo} aria-label={`Undo this: ${what}`}>
              Undo this
            </Button>
          )}
        </Box>
      </Box>
    </Box>
  );
}
