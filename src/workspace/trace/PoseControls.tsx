'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { memo, useState } from 'react';
import type { OutlineRow, PoseRow } from '@/core/document/tables';
import type { Beyond } from '@/core/model/choices';
import type { Onward } from '@/core/model/time';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { changeOutline, flipSide } from './commands';
import { goToPose } from '../session/go-to';
import {
  copyPoseHere,
  halve,
  pastePoseHere,
  poseHere,
  removePoseHere,
  smoothTracks,
  thinOutPoses,
} from './pose-commands';
import { removeSelectedPoses, runOnward, shiftSelectedPoses, spreadSelectedPoses } from './outline-commands';
import { setView, useView } from '../view/view-store';
import { NumberField } from '../fields/NumberField';
import { OnwardChoice } from '../fields/OnwardChoice';

const pair = {
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
  gap: 0.75,
  alignItems: 'center',
  '& .MuiButton-root': { px: 0.5, whiteSpace: 'nowrap' },
};
const beyondSays: Record<Beyond, string> = {
  empty: 'nothing',
  full: 'all',
  hold: 'as posed',
};

/** The pose on this frame, and what can be done to those on other frames. */
export const PoseControls = memo(function PoseControls({
  outline,
  poses,
  posed,
  onward,
}: {
  outline: OutlineRow;
  poses: readonly PoseRow[];
  /** Whether there is a pose on this frame. */
  posed: boolean;
  /** The in-betweens from here on. */
  onward: Onward;
}) {
  const range = useView((state) => state.range);
  const { enqueueSnackbar } = useSnackbar();
  const [tolerance, setTolerance] = useState(0.5);
  const say = (refusal: string | null) => refusal && enqueueSnackbar(refusal);
  return (
    <>
      <Box sx={pair}>
        {posed ? (
          <Button variant="outlined" title="Remove the pose here (X)" onClick={() => say(removePoseHere())}>
            Remove pose
          </Button>
        ) : (
          <Button variant="outlined" title="Make a pose here (I)" onClick={() => say(poseHere())}>
            Pose here
          </Button>
        )}
        <Button
          variant="outlined"
          title="Make a pose in the middle of the longest gap between poses (J)"
          onClick={() => say(halve())}
        >
          Fill a gap
        </Button>
        <Button onClick={() => goToPose(-1)}>‹ Previous pose</Button>
        <Button onClick={() => goToPose(1)}>Next pose ›</Button>
      </Box>
      {range && (
        <Box sx={{ display: 'grid', gap: 0.75, borderLeft: 3, borderColor: 'primary.main', pl: 1 }}>
          <Box sx={{ fontSize: 13 }}>
            Frames {range[0]} to {range[1]} are selected
          </Box>
          <Box sx={pair}>
            <Button variant="outlined" onClick={() => say(removeSelectedPoses())}>
              Remove poses
            </Button>
            <Button variant="outlined" onClick={() => say(spreadSelectedPoses())}>
              Spread evenly
            </Button>
            <Button variant="outlined" onClick={() => say(shiftSelectedPoses(-1))}>
              Poses 1 earlier
            </Button>
            <Button variant="outlined" onClick={() => say(shiftSelectedPoses(1))}>
              Poses 1 later
            </Button>
          </Box>
          <Button onClick={() => setView({ range: null, scope: 'this' })}>Clear selection</Button>
        </Box>
      )}
      {poses.length > 1 && (
        <Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>In-betweens after this pose</Box>
          <OnwardChoice label="In-betweens" value={onward} onChange={runOnward} />
        </Box>
      )}
      <Ends outline={outline} />
      <Fold heading="More for its poses">
        <Box sx={{ ...pair, pb: 0.5 }}>
          <Button variant="outlined" disabled={outline.kind !== 'seam'} onClick={flipSide}>
            Flip side (F)
          </Button>
          <Button variant="outlined" onClick={() => say(smoothTracks())} disabled={poses.length < 5}>
            Smooth
          </Button>
          <Button variant="outlined" onClick={() => say(copyPoseHere())}>
            Copy pose
          </Button>
          <Button variant="outlined" onClick={() => say(pastePoseHere())}>
            Paste pose
          </Button>
          <NumberField
            label="Thin out within"
            value={tolerance}
            low={0.05}
            high={50}
            unit="px"
            onChange={setTolerance}
          />
          <Button
            variant="outlined"
            title="Removes poses that the in-betweens of the others reproduce"
            disabled={poses.length < 3}
            onClick={() => say(thinOutPoses(tolerance))}
          >
            Thin out
          </Button>
        </Box>
      </Fold>
    </>
  );
});

/** What the outline cuts before its first pose and after its last. */
function Ends({ outline }: { outline: OutlineRow }) {
  return (
    <Box sx={pair}>
      {(['beforeFirst', 'afterLast'] as const).map((end) => (
        <TextField
          key={end}
          select
          label={end === 'beforeFirst' ? 'Cut before' : 'Cut after'}
          value={outline[end]}
          sx={{ '& .MuiSelect-select.MuiSelect-select': { pl: 1, pr: '22px', fontSize: 14 } }}
          onChange={(event) =>
            changeOutline(end === 'beforeFirst' ? 'Before the first pose' : 'After the last pose', {
              [end]: event.target.value as Beyond,
            })
          }
        >
          {Object.entries(beyondSays).map(([value, says]) => (
            <MenuItem key={value} value={value}>
              {says}
            </MenuItem>
          ))}
        </TextField>
      ))}
    </Box>
  );
}
