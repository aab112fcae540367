'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import { useCallback, useEffect, useState } from 'react';
import type { CrossingListing, ShotListing } from '@/wire/answers';
import { ShotCards } from '@/footage-view/ShotCards';
import { call, sentenceOf } from '@/interface/api';
import { Page } from '@/interface/Page';
import { CrossingCard } from './CrossingCard';
import { NewCrossing } from './NewCrossing';

/** The first page: crossings as cards, footage below. */
export function Shelf() {
  const [crossings, setCrossings] = useState<CrossingListing[] | null>(null);
  const [shots, setShots] = useState<ShotListing[]>([]);
  const [failure, setFailure] = useState<string | null>(null);
  const [creating, setCreating] = useState(false);

  const load = useCallback(async () => {
    try {
      const [listed, footage] = await Promise.all([
        call<CrossingListing[]>('/api/crossings'),
        call<ShotListing[]>('/api/shots'),
      ]);
      setCrossings(listed);
      setShots(footage);
      setFailure(null);
    } catch (error) {
      setFailure(sentenceOf(error));
    }
  }, []);
  useEffect(() => void load(), [load]);

  return (
    <Page>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 2 }}>
        <Box component="h1" sx={{ m: 0, fontSize: 24 }}>
          Crossings
        </Box>
        <Box sx={{ color: 'text.secondary', flex: 1 }}>One shot wipes to another behind a moving edge.</Box>
        <Button variant="contained" onClick={() => setCreating(true)}>
          New crossing
        </Button>
      </Box>
      {failure && (
        <Alert
          severity="error"
          action={<Button onClick={() => void load()}>Try again</Button>}
          sx={{ mb: 2 }}
        >
          {failure}
        </Alert>
      )}
      {crossings === null && !failure && <CircularProgress aria-label="Loading the shelf" />}
      {crossings?.length === 0 && (
        <Box
          sx={{
            border: '1px dashed',
            borderColor: 'divider',
            p: 5,
            textAlign: 'center',
            color: 'text.secondary',
          }}
        >
          No crossings yet. Bring in two shots under Footage, then make a crossing of them.
        </Box>
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(540px, 1fr))', gap: 2.5 }}>
        {crossings?.map((listed) => (
          <CrossingCard key={listed.document.crossing.id} listed={listed} onDeleted={() => void load()} />
        ))}
      </Box>
      <Box component="h2" sx={{ mt: 4, mb: 1.5, fontSize: 19 }}>
        Footage
      </Box>
      <ShotCards shots={shots} onChanged={() => void load()} />
      {creating && <NewCrossing shots={shots} onClose={() => setCreating(false)} />}
    </Page>
  );
}
