'use client';

import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useSnackbar } from '@/interface/messages';
import type { StepProgress } from '@/core/checks/trace-progress';
import { poseAtFrame } from '@/core/document/document';
import { startingCoordinates } from '@/core/outline';
import { numbersPerPoint } from '@/core/document/rows';
import { NameInput } from '@/interface/NameInput';
import { DeleteIcon, LoopIcon, SeamIcon } from '@/interface/icons';
import {
  changeOutline,
  copyPoseHere,
  deleteOutlineInHand,
  flipSide,
  goTo,
  goToPose,
  halve,
  pastePoseHere,
  poseHere,
  removePoseHere,
  showView,
  smoothTracks,
  thinOutPoses,
} from '../commands';
import { NumberField } from './NumberField';
import { sourceFrameOf, useOutline, useTraced } from '../traced';
import { setView, useView } from '../view-store';

/** The outlines of the traced shot, and the pose on this frame. */
export function TraceStep({ progress }: { progress: StepProgress }) {
  const traced = useTraced();
  const inHand = useOutline();
  // While the crossing plays there is nothing to place, and the panel stays still.
  const { frame, copied, points } = useView(
    useShallow(({ frame, playing, copied, points }) => ({ frame: playing ? null : frame, copied, points })),
  );
  const { enqueueSnackbar } = useSnackbar();
  const [tolerance, setTolerance] = useState(0.5);
  if (!traced) return <Box>Choose an outgoing shot first.</Box>;
  const source = sourceFrameOf(traced, frame ?? 0);
  const pose = inHand && poseAtFrame(traced.document, inHand.outline.id, source);
  const say = (refusal: string | null) => refusal && enqueueSnackbar(refusal);
  const pointCount = inHand ? (startingCoordinates(inHand.poses, source)?.length ?? 0) / numbersPerPoint : 0;

  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      {traced.outlines.length === 0 && (
        <Box sx={{ color: 'text.secondary' }}>
          Go to a frame where the edge is in the picture. Then draw a <b>seam</b> down it, or a <b>loop</b>{' '}
          around an opening: press for corners, press and pull for curves, Enter to finish. Step on and move
          the points: every frame you change becomes a pose by itself.
        </Box>
      )}
      {traced.outlines.map((outline) => (
        <Box
          key={outline.id}
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 0.75,
            border: 1,
            borderColor: outline.id === inHand?.outline.id ? 'primary.main' : 'divider',
            borderRadius: 1,
            pl: 1,
          }}
        >
          {outline.kind === 'seam' ? <SeamIcon size={18} /> : <LoopIcon size={18} />}
          <NameInput
            value={outline.name}
            label={`Name of ${outline.name}`}
            onFocus={() => setView({ outlineId: outline.id, points: new Set() })}
            onName={(name) => changeOutline('Rename', { name })}
            sx={{ flex: 1, outline: 0, py: 0.75 }}
          />
          <Tooltip title={`Delete ${outline.name} with its poses`}>
            <IconButton
              size="small"
              aria-label={`Delete ${outline.name}`}
              onClick={() => {
                setView({ outlineId: outline.id });
                deleteOutlineInHand();
                enqueueSnackbar(`${outline.name} is deleted. Ctrl Z brings it back.`);
              }}
            >
              <DeleteIcon size={16} />
            </IconButton>
          </Tooltip>
        </Box>
      ))}
      {inHand && frame !== null && (
        <>
          <Box sx={{ fontSize: 13 }}>
            Frame <b>{frame}</b>:{' '}
            {pose
              ? `pose, ${pose.origin}`
              : source < (inHand.poses[0]?.frame ?? Infinity)
                ? 'before the first pose, nothing is cut'
                : source > (inHand.poses[inHand.poses.length - 1]?.frame ?? 0)
                  ? 'after the last pose, all is cut'
                  : 'in-between'}
            {points.size > 0 && `; ${points.size} of ${pointCount} points selected`}
          </Box>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
            {pose ? (
              <Button variant="outlined" onClick={() => say(removePoseHere())}>
                Remove pose (X)
              </Button>
            ) : (
              <Button variant="outlined" onClick={poseHere}>
                Pose here (I)
              </Button>
            )}
            <Button variant="outlined" disabled={inHand.outline.kind !== 'seam'} onClick={flipSide}>
              Flip side (F)
            </Button>
            <Button variant="outlined" onClick={copyPoseHere}>
              Copy pose
            </Button>
            <Button variant="outlined" disabled={!copied} onClick={() => say(pastePoseHere())}>
              Put it here
            </Button>
            <Button variant="outlined" onClick={() => say(halve())}>
              Halve a gap (J)
            </Button>
            <Button variant="outlined" onClick={() => say(smoothTracks())} disabled={inHand.poses.length < 5}>
              Smooth
            </Button>
            <Button onClick={() => goToPose(-1)}>‹ Earlier pose</Button>
            <Button onClick={() => goToPose(1)}>Later pose ›</Button>
          </Box>
          {inHand.poses.length > 2 && (
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, alignItems: 'center' }}>
              <NumberField
                label="Within"
                value={tolerance}
                low={0.05}
                high={50}
                unit="px"
                onChange={setTolerance}
              />
              <Button
                variant="outlined"
                title="Takes away poses that the in-betweens of the others reproduce"
                onClick={() => say(thinOutPoses(tolerance))}
              >
                Thin out
              </Button>
            </Box>
          )}
        </>
      )}
      {!progress.holds && progress.frame !== undefined && (
        <Button
          variant="contained"
          onClick={() => {
            goTo(progress.frame!);
            showView('plain');
          }}
        >
          Go on at frame {progress.frame}
        </Button>
      )}
    </Box>
  );
}
