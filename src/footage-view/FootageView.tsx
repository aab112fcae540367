'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { type DragEvent, useCallback, useRef, useState } from 'react';
import { formatBytes } from '@/footage/refusal';
import { Page } from '@/interface/Page';
import { type Searched, useSearch } from '@/interface/Search';
import { useAnswer } from '@/interface/useAnswer';
import type { ShotListing, SoundListing } from '@/wire/answers';
import { Jobs } from './Jobs';
import { stillRates } from '@/shots/rates';
import { Measuring } from './Measuring';
import { ShotCards } from './ShotCards';
import { SoundList } from './SoundList';
import { bringIn } from '@/shots/uploads';
import { Uploads } from '@/shots/Uploads';

const searched: Searched<ShotListing> = {
  textOf: ({ name, originalName, notes, codec }) => [name, originalName, notes, codec].join(' '),
  asTheyCome: 'newest first',
  nameOf: ({ name }) => name,
};

/** Bringing in files and looking after them. */
export function FootageView({ limit }: { limit: number }) {
  const { answer: shots, load, pending } = useAnswer<ShotListing[]>('/api/shots', 'the footage');
  const { answer: sounds, load: loadSounds } = useAnswer<SoundListing[]>('/api/sounds', 'the sounds');
  const { found, fields } = useSearch(shots, searched);
  const [over, setOver] = useState(false);
  const [rate, setRate] = useState(2);
  const [arrivals, setArrivals] = useState(0);
  const picker = useRef<HTMLInputElement>(null);
  const onArrived = useCallback(() => {
    load();
    setArrivals((n) => n + 1);
  }, [load]);
  const take = (files: FileList | null) => {
    if (files && files.length > 0) void bringIn([...files], stillRates[rate].rate, limit, onArrived);
  };
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files);
  };

  return (
    <Page
      onDragOver={(event: DragEvent) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      <Box sx={{ display: 'grid', gap: 2.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
          <Box component="h1" sx={{ m: 0, fontSize: 24 }}>
            Footage
          </Box>
          {/* A press ends it: nothing below may move when it goes. */}
          {shots && <Measuring shots={shots} onMeasured={load} />}
        </Box>
        <Box
          sx={{
            border: '2px dashed',
            borderColor: over ? 'primary.main' : 'divider',
            bgcolor: over ? 'action.hover' : 'background.paper',
            borderRadius: 1,
            p: 2.5,
            display: 'flex',
            alignItems: 'center',
            gap: 2,
          }}
        >
          <Button variant="contained" onClick={() => picker.current?.click()} sx={{ whiteSpace: 'nowrap' }}>
            Choose files
          </Button>
          <Box sx={{ flex: 1 }}>
            or drop them here: videos, stills (PNG, JPEG, WebP), numbered pictures or a ZIP of them, up to{' '}
            {formatBytes(limit)} each.
            <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
              They are copied into Kiv’s data folder on this machine and go nowhere else. What the browser
              cannot show is converted here by ffmpeg.
            </Box>
          </Box>
          <TextField
            select
            label="Rate of stills"
            value={rate}
            onChange={(event) => setRate(Number(event.target.value))}
            sx={{ width: 130 }}
          >
            {stillRates.map(({ label }, k) => (
              <MenuItem key={label} value={k}>
                {label}
              </MenuItem>
            ))}
          </TextField>
          <input
            ref={picker}
            type="file"
            multiple
            hidden
            aria-label="Files to bring in"
            onChange={(event) => {
              take(event.target.files);
              event.target.value = '';
            }}
          />
        </Box>
        <Uploads without={['converting', 'not converted']} />
        <Jobs arrivals={arrivals} onDone={load} />
        {pending}
        {shots?.length === 0 && (
          <Box sx={{ color: 'text.secondary' }}>
            Nothing here yet. Choose files, or drop them anywhere on this page.
          </Box>
        )}
        {fields}
        {shots && <ShotCards shots={shots} shown={found} onChanged={load} />}
        {sounds && <SoundList sounds={sounds} onChanged={loadSounds} />}
      </Box>
    </Page>
  );
}
