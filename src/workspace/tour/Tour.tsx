'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Paper from '@mui/material/Paper';
import Popper, { type PopperPlacementType } from '@mui/material/Popper';
import { useEffect, useState } from 'react';
import { isToTour } from './tour-at-once';

/** Something of the workspace that is pointed out. */
interface Stop {
  /** Selector of what it stands beside. */
  at: string;
  placement: PopperPlacementType;
  title: string;
  says: string;
}

const stops: readonly Stop[] = [
  {
    at: '[data-testid="picture"]',
    placement: 'right-start',
    title: 'The line is the moving edge',
    says: 'Behind it the second shot shows. Drag a point of the line: the picture follows at once, and the pose is saved.',
  },
  {
    at: '#step-panel',
    placement: 'right-start',
    title: 'Kiv carries it on',
    says: 'Carry takes the line to the next frames by following the picture. Frames that are not sure are flagged, and only those need you.',
  },
  {
    at: 'section[aria-label="Sheet"]',
    placement: 'left-start',
    title: 'A row for each frame',
    says: 'Numbers are the frames of both shots, beads are poses, bars say how much is covered. Press a row to go there.',
  },
  {
    at: '[aria-label="Play"], [aria-label="Pause"]',
    placement: 'top-start',
    title: 'Play it at speed',
    says: 'Space plays the crossing in a loop; the arrow keys step through it frame by frame.',
  },
  {
    at: 'nav[aria-label="Steps"] button[aria-label^="8 Export"]',
    placement: 'right-end',
    title: 'Check and export',
    says: 'Check says what is left to do; Export writes the finished wipe, its matte, or a timeline. Everything is saved as you go.',
  },
];

/** ms between two looks for what a stop stands beside. */
const lookEvery = 200;

/** Shows somebody around the workspace, one thing after the other; can be left at any moment. */
export function Tour() {
  const [at, setAt] = useState<number | null>(null);
  const [anchor, setAnchor] = useState<Element | null>(null);
  useEffect(() => {
    if (isToTour()) setAt(0);
  }, []);
  const stop = at === null ? null : (stops[at] ?? null);
  useEffect(() => {
    if (!stop) return;
    const look = () => setAnchor(document.querySelector(stop.at));
    look();
    // What it stands beside may be built, or built anew, in the meantime.
    const timer = setInterval(look, lookEvery);
    const onKey = (event: KeyboardEvent) => event.key === 'Escape' && setAt(null);
    window.addEventListener('keydown', onKey);
    return () => {
      clearInterval(timer);
      window.removeEventListener('keydown', onKey);
    };
  }, [stop]);
  if (!stop || !anchor) return null;
  const last = at === stops.length - 1;
  return (
    <Popper
      key={at}
      open
      anchorEl={anchor}
      placement={stop.placement}
      modifiers={[
        { name: 'offset', options: { offset: [8, 10] } },
        { name: 'preventOverflow', options: { padding: 10, altAxis: true } },
      ]}
      sx={{ zIndex: 1250 }}
    >
      <Paper
        role="region"
        aria-label={`Tour, ${at! + 1} of ${stops.length}`}
        elevation={8}
        sx={{ width: 300, p: 2, borderLeft: 4, borderColor: 'primary.main' }}
      >
        <Box sx={{ fontWeight: 700, mb: 0.5 }}>{stop.title}</Box>
        <Box sx={{ fontSize: 14 }}>{stop.says}</Box>
        <Box sx={{ display: 'flex', alignItems: 'center', mt: 1.5 }}>
          <Box sx={{ flex: 1, fontSize: 12, color: 'text.secondary' }}>
            {at! + 1} of {stops.length}
          </Box>
          {!last && <Button onClick={() => setAt(null)}>Skip</Button>}
          <Button variant="contained" onClick={() => setAt(last ? null : at! + 1)}>
            {last ? 'Done' : 'Next'}
          </Button>
        </Box>
      </Paper>
    </Popper>
  );
}
