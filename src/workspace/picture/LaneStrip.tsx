'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { memo, useMemo } from 'react';
import { useDocument } from '../document/document-store';
import { channelWords } from '../move/channel-words';
import { lanesFor } from '../move/move-commands';
import { useMover } from '../move/mover';
import { MoveLane } from '../move/MoveLane';
import { MovesLane } from '../move/MovesLane';
import { SoundLane, trackHeight, tracksShown } from '../sound/SoundLane';
import { CoverageLane } from './CoverageLane';
import { type Lane, setView, useView } from '../view/view-store';

/** Where the plot lies within the strip, in px. */
const plot = { left: 128, right: 12, top: 6, bottom: 18 };

function nameOf(lane: Lane): string {
  if (lane === 'covered') return 'Covered';
  if (lane === 'sound') return 'Sound';
  if (lane === 'moves') return 'Moves';
  return lane === 'speed' ? 'Speed' : channelWords[lane].name;
}

/** What runs along the crossing: how much the matte covers, speed, or a move; press to go there. */
export const LaneStrip = memo(function LaneStrip() {
  const lane = useView((state) => state.lane);
  const document = useDocument((state) => state.document)!;
  const { length } = document.crossing;
  const moverId = useMover();
  const selected = useView((state) => state.moveKeys.size);
  const lanes = useMemo(() => lanesFor(document, moverId), [document, moverId]);
  return (
    <Box
      sx={{
        position: 'relative',
        height: lane === 'sound' ? plot.top + plot.bottom + trackHeight * tracksShown(document) + 4 : 88,
        flex: 'none',
        bgcolor: 'background.paper',
        borderTop: 1,
        borderColor: 'divider',
      }}
      aria-label="Coverage over the crossing"
      role="group"
    >
      <Select
        variant="standard"
        value={lane}
        onChange={(event) => setView({ lane: event.target.value })}
        disableUnderline
        inputProps={{ 'aria-label': 'What the strip shows' }}
        sx={{ position: 'absolute', left: 10, top: 30, fontSize: 12, zIndex: 1 }}
      >
        {[...new Set([...lanes, lane])].map((each) => (
          <MenuItem key={each} value={each}>
            {nameOf(each)}
          </MenuItem>
        ))}
      </Select>
      {selected > 1 && (
        <Box sx={{ position: 'absolute', left: 10, top: 60, fontSize: 11, color: 'text.secondary' }}>
          {selected} keys selected
        </Box>
      )}
      <Box
        sx={{
          position: 'absolute',
          left: plot.left,
          right: plot.right,
          top: plot.top,
          bottom: plot.bottom,
        }}
      >
        {lane === 'covered' && <CoverageLane length={length} />}
        {lane === 'sound' && <SoundLane />}
        {lane === 'moves' && <MovesLane />}
        {lane !== 'covered' && lane !== 'sound' && lane !== 'moves' && <MoveLane lane={lane} />}
        <Playhead last={Math.max(1, length - 1)} />
      </Box>
    </Box>
  );
});

function Playhead({ last }: { last: number }) {
  const frame = useView((state) => state.frame);
  return (
    <Box
      sx={{
        position: 'absolute',
        top: -4,
        bottom: 0,
        width: 2,
        ml: '-1px',
        bgcolor: 'primary.main',
        pointerEvents: 'none',
      }}
      style={{ left: `${(frame / last) * 100}%` }}
    />
  );
}
