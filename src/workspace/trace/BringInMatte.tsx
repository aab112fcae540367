'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { call, sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import type { ShotListing } from '@/wire/answers';
import { NumberField } from '../fields/NumberField';
import { stopCarrying, useCarry } from './carry-store';
import { readingMatte, showMatte } from './matte-in';
import { cutByMatte } from './ready-matte';

/** A black-and-white shot or sequence, whose white is traced into outlines. */
export function BringInMatte() {
  const { enqueueSnackbar } = useSnackbar();
  const under = useCarry((state) => state.under);
  const [shots, setShots] = useState<readonly ShotListing[] | null>(null);
  const [chosen, setChosen] = useState('');
  const [startsOn, setStartsOn] = useState(0);
  const say = (said: string | null) => said && enqueueSnackbar(said, { autoHideDuration: 8000 });
  const show = (which: 'this' | 'all') => void showMatte(chosen, startsOn, which).catch(sentenceOf).then(say);
  const asItIs = () =>
    void cutByMatte(chosen, startsOn)
      .then((said) => {
        setShots(null);
        return said;
      })
      .catch(sentenceOf)
      .then(say);
  if (!shots)
    return (
      <Button
        title="A black-and-white film or numbered pictures among the footage: it cuts as it is, or what is white becomes outlines"
        onClick={() =>
          void call<ShotListing[]>('/api/shots').then(setShots, (error) => say(sentenceOf(error)))
        }
      >
        Bring in a matte
      </Button>
    );
  return (
    <Box component="section" aria-label="Bring in a matte" sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ fontSize: 13 }}>
        What is white in it becomes loops, black holes in them too; or it cuts as it is, softness and all.
        Bring it in under Footage first.
      </Box>
      <TextField
        select
        size="small"
        label="Matte"
        value={chosen}
        onChange={({ target }) => setChosen(target.value)}
      >
        {shots.map(({ id, name }) => (
          <MenuItem key={id} value={id}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <NumberField
        label="Matte starts on shot frame"
        value={startsOn}
        low={-100_000}
        high={100_000}
        whole
        onChange={setStartsOn}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button variant="outlined" disabled={!chosen || under !== null} onClick={() => show('this')}>
          This frame
        </Button>
        <Button variant="outlined" disabled={!chosen || under !== null} onClick={() => show('all')}>
          All frames
        </Button>
        <Button
          variant="outlined"
          disabled={!chosen}
          title="The shot is cut where the matte is white, frame by frame, without outlines"
          sx={{ gridColumn: '1 / -1' }}
          onClick={asItIs}
        >
          Cut by it as it is
        </Button>
      </Box>
      {under?.what === readingMatte && (
        <Box sx={{ display: 'grid', gap: 0.5 }}>
          <LinearProgress variant="determinate" value={100 * under.share} aria-label={readingMatte} />
          <Button variant="outlined" onClick={stopCarrying}>
            Stop (Esc)
          </Button>
        </Box>
      )}
      <Button onClick={() => setShots(null)}>Done</Button>
    </Box>
  );
}
