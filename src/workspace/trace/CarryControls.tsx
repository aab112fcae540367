'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Switch from '@mui/material/Switch';
import { memo } from 'react';
import { unsurePoses } from '@/core/actions/carry-actions';
import { type OutlineRow, type PoseRow } from '@/core/document/tables';
import { type CarriedBy, carriedByWays, type Doubt } from '@/core/model/choices';
import { useSnackbar } from '@/interface/messages';
import { carryBy } from './outline-commands';
import { cutAnew } from './painting';
import { carryAllOn } from './carry-all';
import { carryOn, carryOne, doubtSays, nextUnsure, settle, stopCarrying, useCarry } from './carry-store';

const pair = {
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
  gap: 0.75,
  '& .MuiButton-root': { px: 0.5, whiteSpace: 'nowrap' },
};

const ways: Record<CarriedBy, { label: string; says: string }> = {
  edge: { label: 'Edge', says: 'Carry: Kiv follows the picture’s edge' },
  cutting: {
    label: 'Cut-out',
    says: 'Carry: Kiv cuts the subject out of every frame, by colour, movement and people',
  },
};

/** Carrying the pose from frame to frame, and what is unsure of it. */
export const CarryControls = memo(function CarryControls({
  poses,
  unsureHere,
  together,
  outline,
}: {
  poses: readonly PoseRow[];
  /** Why the pose on this frame is not sure; null where it is, or there is none. */
  unsureHere: Doubt | null;
  /** Outlines that have a line here and are carried at one key. */
  together: number;
  outline: OutlineRow;
}) {
  const carriedBy = outline.subjectId === null ? outline.carriedBy : 'cutting';
  const { under, again, says } = useCarry();
  const unsure = unsurePoses(poses);
  const carried = poses.filter(({ origin }) => origin === 'carried').length;
  return (
    <Box component="section" aria-label="Carry" sx={{ display: 'grid', gap: 0.75 }}>
      <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
        {outline.subjectId !== null ? ways[carriedBy].says : 'Carry by'}
      </Box>
      {outline.subjectId === null && <CarryByChoice carriedBy={carriedBy} />}
      {under ? (
        <Box sx={{ display: 'grid', gap: 0.5 }}>
          <Box sx={{ fontSize: 13 }}>{under.what} …</Box>
          <LinearProgress variant="determinate" value={100 * under.share} aria-label={under.what} />
          <Button variant="outlined" onClick={stopCarrying}>
            Stop (Esc)
          </Button>
        </Box>
      ) : (
        <>
          <CarryButtons {...{ together, outline }} unsure={unsure.length} carried={carried} />
          {unsureHere && (
            <Box role="status" sx={{ fontSize: 13, borderLeft: 3, borderColor: 'warning.main', pl: 1 }}>
              Not sure here: {doubtSays[unsureHere]}. Move the line where it is off; the frames around follow.
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
});

function CarryByChoice({ carriedBy }: { carriedBy: CarriedBy }) {
  return (
    <ToggleButtonGroup
      exclusive
      fullWidth
      size="small"
      aria-label="Carry by"
      value={carriedBy}
      onChange={(_, way: CarriedBy | null) => way && carryBy(way)}
      sx={{ '& .MuiToggleButton-root': { py: 0.25, fontSize: 13 } }}
    >
      {carriedByWays.map((way) => (
        <ToggleButton key={way} value={way} title={`${ways[way].says} (Ctrl Shift J changes it)`}>
          {ways[way].label}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

function CarryButtons({
  together,
  outline,
  unsure,
  carried,
}: {
  together: number;
  outline: OutlineRow;
  /** How many poses are unsure, and how many are carried. */
  unsure: number;
  carried: number;
}) {
  const { enqueueSnackbar } = useSnackbar();
  const say = (said: string | null) => said && enqueueSnackbar(said);
  return (
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
      {together > 1 && (
        <>
          <Button
            variant="outlined"
            title="All outlines of this layer that have a line here, one after the other (Alt Shift ←)"
            onClick={() => void carryAllOn(-1).then(say)}
          >
            ‹‹ All {together}
          </Button>
          <Button
            variant="outlined"
            title="All outlines of this layer that have a line here, one after the other (Alt Shift →)"
            onClick={() => void carryAllOn(1).then(say)}
          >
            All {together} ››
          </Button>
        </>
      )}
      <Box sx={{ gridColumn: '1 / -1', display: 'grid', gridTemplateColumns: '2fr 3fr', gap: pair.gap }}>
        <Button
          variant="outlined"
          title="Pulls the line here, or on the selected frames, onto the moving edge (Shift I)"
          onClick={() => void settle().then(say)}
        >
          Settle
        </Button>
        <Button
          variant="outlined"
          disabled={unsure === 0}
          title="To the frame that is likeliest off, then the next one down (Shift J)"
          onClick={() => say(nextUnsure())}
        >
          Next unsure ({unsure})
        </Button>
      </Box>
      {outline.kind === 'loop' && (
        <Button
          variant="outlined"
          disabled={carried === 0}
          title="Cuts the loop out again by the colours inside and outside it, where it is not sure or on the selected frames (Ctrl J)"
          onClick={() => void cutAnew().then(say)}
          sx={{ gridColumn: '1 / -1' }}
        >
          Cut again where unsure
        </Button>
      )}
    </Box>
  );
}
