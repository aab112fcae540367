'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect } from 'react';
import { pairOf } from '@/core/compose/scene';
import { layoutOf, tracedLayer } from '@/core/document/plans';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { stopMeasuring } from '../line-up/motion-store';
import { OtherShots } from '../line-up/OtherShots';
import { stopCarrying, useCarry } from '../trace/carry-store';
import { DecisionList } from './DecisionList';
import { draftIt } from './draft-it';
import { isToDraft } from './draft-at-once';
import { type DraftOptions, setDraftOptions, useDraft } from './draft-store';
import { WhatIsLeft } from './WhatIsLeft';
import { showView } from '../view/show';
import { setView } from '../view/view-store';

/** The first draft: what it does, what it decided, and what is left to put right. */
export function DraftStep() {
  const { under, options, says } = useDraft();
  const carrying = useCarry((state) => state.under);
  const document = useDocument((state) => state.document)!;
  const { enqueueSnackbar } = useSnackbar();
  const begin = () => void draftIt().then((refusal) => refusal && enqueueSnackbar(refusal));
  useEffect(() => {
    const asked = isToDraft();
    if (!asked) return;
    setDraftOptions(asked);
    begin();
    // Once, as the crossing opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const made = Object.keys(document.decisions).length > 0;
  const traced = Object.keys(document.outlines).length > 0;
  const layout = layoutOf(document.crossing.plan);
  const other = pairOf(document, tracedLayer(document)?.id ?? null)?.[1];
  const option = (name: keyof DraftOptions, label: string) => (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          sx={{ py: 0.25 }}
          checked={options[name]}
          onChange={(_, on) => setDraftOptions({ [name]: on })}
        />
      }
      label={label}
      sx={{ '& .MuiFormControlLabel-label': { fontSize: 13 } }}
    />
  );
  const choices = (
    <Box role="group" aria-label="What the draft does" sx={{ display: 'grid' }}>
      {layout.found && option('plan', 'Choose the plan as well')}
      {option('sound', 'Add sound: sweep, crossfade')}
      {layout.until === 'opens' && option('push', 'Push in through the opening')}
    </Box>
  );
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 }}>
      {!made && (
        <Box sx={{ color: 'text.secondary', fontSize: 13 }}>
          Kiv makes a first version to correct: opening and closing frames, what is played, where the other
          shot lies, the traced edge and its softness. What you did already stays.
        </Box>
      )}
      {under === null ? (
        <>
          {made && traced && (
            <Button
              variant="contained"
              fullWidth
              onClick={() => {
                showView('result');
                setView({ playing: true });
              }}
            >
              Play it (Space)
            </Button>
          )}
          <Button
            variant={made ? 'outlined' : 'contained'}
            fullWidth
            onClick={begin}
            title="Decides what is not decided yet (Ctrl Enter)"
          >
            {made ? 'Draft the rest' : 'Draft it'}
          </Button>
          {made && other && <OtherShots layer={other} />}
          {made ? (
            <Fold heading="What the draft does" meant={false}>
              {choices}
            </Fold>
          ) : (
            choices
          )}
        </>
      ) : (
        <Box sx={{ display: 'grid', gap: 0.75 }} role="status">
          <Box sx={{ fontSize: 13 }}>{carrying?.what ?? under}…</Box>
          <LinearProgress
            variant={carrying ? 'determinate' : 'indeterminate'}
            value={100 * (carrying?.share ?? 0)}
            aria-label={carrying?.what ?? under}
          />
          <Button
            variant="outlined"
            onClick={() => {
              stopMeasuring();
              stopCarrying();
            }}
          >
            Stop (Esc)
          </Button>
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>What is done by then stays.</Box>
        </Box>
      )}
      {says && (
        <Box role="status" sx={{ fontSize: 13 }}>
          {says}
        </Box>
      )}
      {under === null && <WhatIsLeft />}
      <DecisionList busy={under !== null} />
    </Box>
  );
}
