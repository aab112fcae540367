'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useRef } from 'react';
import { sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import { crossingFrameIn, useTraced } from '../session/traced';
import { leaveOffered, takeOffered, useOffered } from './offered';
import { showPaths } from './paths-in';

/** Lines that were drawn elsewhere, shown on the picture before they become outlines. */
export function BringInPaths() {
  const input = useRef<HTMLInputElement>(null);
  const { enqueueSnackbar } = useSnackbar();
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".svg,.json,.csv,image/svg+xml,application/json,text/csv"
        aria-label="Paths to bring in"
        hidden
        multiple
        onChange={({ target }) => {
          const files = [...(target.files ?? [])];
          if (files.length > 0)
            void showPaths(files)
              .catch(sentenceOf)
              .then((said) => said && enqueueSnackbar(said, { autoHideDuration: 8000 }));
          target.value = '';
        }}
      />
      <OfferedOutlines />
      <Button
        title="SVG, an outline’s JSON, or a list of points (CSV): onto this frame, or onto the frames that its groups, or several files’ names, are numbered by"
        onClick={() => input.current?.click()}
      >
        Bring in paths
      </Button>
    </>
  );
}

/** What is shown and can be taken. */
function OfferedOutlines() {
  const offered = useOffered((state) => state.offered);
  const traced = useTraced();
  const { enqueueSnackbar } = useSnackbar();
  if (!offered || !traced || traced.layer.id !== offered.layerId) return null;
  const frames = offered.outlines
    .flatMap(({ poses }) => poses.map(({ frame }) => crossingFrameIn(traced, frame)))
    .sort((a, b) => a - b);
  const [first, last] = [frames[0], frames[frames.length - 1]];
  const count = offered.outlines.length;
  const points = offered.outlines.map(({ poses }) => poses[0].coordinates.length / 6);
  return (
    <Box
      component="section"
      aria-label="Outlines to take"
      sx={{
        display: 'grid',
        gap: 0.75,
        border: 1,
        borderColor: 'primary.main',
        borderRadius: 1,
        p: 1,
        fontSize: 13,
      }}
    >
      <Box role="status">
        {count === 1 ? `“${offered.outlines[0].name}”` : `${count} outlines`} from {offered.from}, dashed on
        the picture: {points.join(' + ')} points,{' '}
        {first === last ? `frame ${first}` : `frames ${first} to ${last}`}.
      </Box>
      {offered.leftOut && <Box sx={{ color: 'text.secondary' }}>{offered.leftOut}</Box>}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Button
          variant="contained"
          autoFocus
          onClick={() => {
            const said = takeOffered();
            if (said) enqueueSnackbar(said, { autoHideDuration: 8000 });
          }}
        >
          Take (Enter)
        </Button>
        <Button variant="outlined" onClick={leaveOffered}>
          Leave (Esc)
        </Button>
      </Box>
    </Box>
  );
}
