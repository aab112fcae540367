'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import Switch from '@mui/material/Switch';
import { unsurePoses } from '@/core/document/carry-actions';
import type { PoseRow } from '@/core/document/rows';
import { useSnackbar } from '@/interface/messages';
import { cutAnew } from './painting';
import { carryOn, carryOne, doubtSays, nextUnsure, settle, stopCarrying, useCarry } from './carry-store';

const pair = {
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
  gap: 0.75,
  '& .MuiButton-root': { px: 0.5, whiteSpace: 'nowrap' },
};

/** Carrying the pose from frame to frame, and what is unsure of it. */
export function CarryControls({
  poses,
  source,
  loop,
  painted,
}: {
  poses: readonly PoseRow[];
  source: number;
  /** Whether what is carried has an inside. */
  loop: boolean;
  /** Whether it is a subject that strokes began. */
  painted: boolean;
}) {
  const { under, again, says } = useCarry();
  const { enqueueSnackbar } = useSnackbar();
  const say = (said: string | null) => said && enqueueSnackbar(said);
  const unsure = unsurePoses(poses);
  const carried = poses.filter(({ origin }) => origin === 'carried').length;
  const here = poses.find(({ frame }) => frame === source);
  return (
    <Box component="section" aria-label="Carry" sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
        {painted ? 'Carry: Kiv cuts the subject out again' : 'Carry: Kiv follows the picture’s edge'}
      </Box>
      {under ? (
        <Box sx={{ display: 'grid', gap: 0.5 }}>
          <Box sx={{ fontSize: 13 }}>{under.what} …</Box>
          <LinearProgress variant="determinate" value={100 * under.share} aria-label={under.what} />
          <Button variant="outlined" onClick={stopCarrying}>
            Stop (Esc); what is done stays
          </Button>
        </Box>
      ) : (
        <>
          <Box sx={pair}>
            <Button
              variant="outlined"
              title="Takes the line to the frame before, along the picture’s edge (Ctrl ←)"
              onClick={() => void carryOne(-1).then(say)}
            >
              ‹ One frame
            </Button>
            <Button
              variant="outlined"
              title="Takes the line to the next frame, along the picture’s edge (Ctrl →)"
              onClick={() => void carryOne(1).then(say)}
            >
              One frame ›
            </Button>
            <Button
              variant="outlined"
              title="Back to the pose by hand before, or until it is not sure (Ctrl Shift ←)"
              onClick={() => void carryOn(-1).then(say)}
            >
              ‹‹ Carry back
            </Button>
            <Button
              variant="contained"
              title="Up to the next pose by hand, or until it is not sure or the edge has left (Ctrl Shift →)"
              onClick={() => void carryOn(1).then(say)}
            >
              Carry on ››
            </Button>
            <Button
              variant="outlined"
              title="Pulls the line here, or on the selected frames, onto the moving edge (Shift I)"
              onClick={() => void settle().then(say)}
            >
              Settle (Shift I)
            </Button>
            <Button
              variant="outlined"
              disabled={unsure.length === 0}
              title="To the frame that is likeliest off, then the next one down (Shift J)"
              onClick={() => say(nextUnsure())}
            >
              Unsure: {unsure.length} ›
            </Button>
            {loop && (
              <Button
                variant="outlined"
                disabled={carried === 0}
                title="Cuts the loop out again by the colours inside and outside it, where it is not sure or on the selected frames (Ctrl J)"
                onClick={() => void cutAnew().then(say)}
              >
                Cut anew
              </Button>
            )}
          </Box>
          {here?.unsure && (
            <Box role="status" sx={{ fontSize: 13, borderLeft: 3, borderColor: 'warning.main', pl: 1 }}>
              Not sure here: {doubtSays[here.unsure]}. Move the line where it is off; the frames around
              follow.
            </Box>
          )}
          {says && <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{says}</Box>}
          {carried > 0 && (
            <FormControlLabel
              control={
                <Switch size="small" checked={again} onChange={(_, on) => useCarry.setState({ again: on })} />
              }
              label={<Box sx={{ fontSize: 13 }}>Carry again after a correction</Box>}
            />
          )}
        </>
      )}
    </Box>
  );
}
