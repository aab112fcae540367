'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useCallback, useEffect, useState } from 'react';
import type { CrossingListing, ShotListing } from '@/wire/answers';
import { demoCrossingId } from '@/wire/demo-crossing';
import { ShotCards } from '@/footage-view/ShotCards';
import { Measuring } from '@/footage-view/Measuring';
import { Page } from '@/interface/Page';
import { type Searched, useSearch } from '@/interface/Search';
import { useAnswer } from '@/interface/useAnswer';
import { BringIn } from './BringIn';
import { Greeting } from './Greeting';
import { CrossingCard } from './CrossingCard';
import { NewCrossing } from '@/new-crossing/NewCrossing';

/** ms after which the workspace's code is read ahead. */
const warmAfter = 1200;

const searched: Searched<CrossingListing> = {
  textOf: ({ name, plan, layers }) => [name, plan, ...layers.map(({ shotName }) => shotName)].join(' '),
  asTheyCome: 'last changed',
  nameOf: ({ name }) => name,
};

/** The first page: crossings as cards, footage below. */
export function Shelf() {
  const crossings = useAnswer<CrossingListing[]>('/api/crossings', 'the shelf');
  const footage = useAnswer<ShotListing[]>('/api/shots', 'the footage');
  const [creating, setCreating] = useState(false);
  const shots = footage.answer ?? [];
  const { found, fields } = useSearch(crossings.answer, searched);
  // Deleting a crossing changes where its shots are used, renaming a shot what its crossings show.
  const [loadCrossings, loadFootage] = [crossings.load, footage.load];
  const load = useCallback(() => {
    loadCrossings();
    loadFootage();
  }, [loadCrossings, loadFootage]);

  useEffect(() => {
    // What opening a crossing needs is read while nobody waits for it.
    let here = true;
    const idle = setTimeout(
      () => void import('@/workspace/read-ahead').then(({ readAhead }) => readAhead(() => here)),
      warmAfter,
    );
    return () => {
      here = false;
      clearTimeout(idle);
    };
  }, []);

  return (
    <Page>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 2 }}>
        <Box component="h1" sx={{ m: 0, fontSize: 24 }}>
          Crossings
        </Box>
        <Box sx={{ color: 'text.secondary', flex: 1 }}>One shot wipes to another behind a moving edge.</Box>
        <BringIn onArrived={load} />
        <Button variant="contained" onClick={() => setCreating(true)}>
          New crossing
        </Button>
      </Box>
      {/* Below what can be pressed already, so that nothing moves under a hand. */}
      <Greeting
        demoId={crossings.answer?.find(({ id }) => id === demoCrossingId)?.id ?? null}
        onOwn={() => setCreating(true)}
      />
      {crossings.pending}
      {crossings.answer?.length === 0 && (
        <Box
          sx={{
            border: '1px dashed',
            borderColor: 'divider',
            p: 5,
            textAlign: 'center',
            color: 'text.secondary',
          }}
        >
          No crossings yet. Press <b>New crossing</b> and drop the two shots there.
          <Box sx={{ mt: 2 }}>
            <Button variant="contained" onClick={() => setCreating(true)}>
              New crossing
            </Button>
          </Box>
        </Box>
      )}
      {fields}
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(340px, 1fr))', gap: 2.5 }}>
        {found.map((listed) => (
          <CrossingCard key={listed.id} listed={listed} onDeleted={load} />
        ))}
      </Box>
      <Box component="h2" sx={{ mt: 4, mb: 1.5, fontSize: 19 }}>
        Footage
      </Box>
      <Measuring shots={shots} onMeasured={loadFootage} />
      {footage.pending}
      <ShotCards shots={shots} onChanged={load} />
      {/* What is chosen at first hangs on what there is: it opens once that is known. */}
      {creating && footage.answer && (
        <NewCrossing shots={footage.answer} onArrived={load} onClose={() => setCreating(false)} />
      )}
    </Page>
  );
}
