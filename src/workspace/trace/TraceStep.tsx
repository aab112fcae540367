'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { memo, useDeferredValue } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { StepProgress } from '@/core/checks/trace-progress';
import { poseAtFrame } from '@/core/document/document';
import { shapeAt } from '@/core/outline';
import { useSnackbar } from '@/interface/messages';
import { showView } from '../view/show';
import { goTo } from '../session/go-to';
import { sourceFrameOf, useOutline, useTraced } from '../session/traced';
import { setView, useView } from '../view/view-store';
import { KeyedColour } from '../chroma/KeyedColour';
import { carriedTogether } from './carry-all';
import { CarryControls } from './CarryControls';
import { BeginForMe } from './BeginForMe';
import { BringInMatte } from './BringInMatte';
import { BringInPaths } from './BringInPaths';
import { OutlineList } from './OutlineList';
import { PoseControls } from './PoseControls';
import { PeoplePanel } from './PeoplePanel';
import { findPeople } from './people';
import { takeBrush } from './painting';
import { ReadyMatte } from './ReadyMatte';
import { ShapeControls } from './ShapeControls';
import { SubjectPanel } from './SubjectPanel';
import { layoutOf } from '@/core/document/plans';
import { useNow } from '../session/use-now';

/** Controls that do not depend on the frame: stepping does not render them again. */
const Outlines = memo(OutlineList);
const OtherCuts = memo(function OtherCuts() {
  return (
    <>
      <KeyedColour />
      <ReadyMatte />
      <BringInPaths />
      <BringInMatte />
    </>
  );
});

/** The outlines of the traced shot, and the pose on this frame. */
export function TraceStep({ progress }: { progress: StepProgress }) {
  // While the crossing plays there is nothing to place, and the panel stays still. Stepping comes first: the panel
  // follows when there is time.
  const frame = useDeferredValue(useView((state) => (state.playing ? null : state.frame)));
  return <TracePanel frame={frame} progress={progress} />;
}

const TracePanel = memo(function TracePanel({
  frame,
  progress,
}: {
  frame: number | null;
  progress: StepProgress;
}) {
  const traced = useTraced();
  const inHand = useOutline();
  const { enqueueSnackbar } = useSnackbar();
  const { points, scope, tool } = useView(useShallow(({ points, scope, tool }) => ({ points, scope, tool })));
  const together = useNow(() => carriedTogether().length);
  if (!traced) return <Box>Choose an outgoing shot first.</Box>;
  const source = sourceFrameOf(traced, frame ?? 0);
  const shape = inHand && shapeAt(inHand.poses, source, inHand.outline);
  const pose = inHand && poseAtFrame(traced.document, inHand.outline.id, source);
  const keyed = layoutOf(traced.document.crossing.plan).cutsBy === 'colour';
  const first = inHand?.poses[0]?.frame ?? Infinity;

  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 }}>
      {tool === 'people' && frame !== null && <PeoplePanel frame={frame} />}
      {traced.outlines.length === 0 && keyed && (
        <Box sx={{ color: 'text.secondary' }}>
          {traced.document.chromas[traced.layer.id]
            ? 'Cut by its colour. Where that takes too much, draw a rough loop about the board; where a hand is taken too, a loop about the hand.'
            : 'Go to a frame where the board is in the picture and pick its colour, below.'}
        </Box>
      )}
      {traced.outlines.length === 0 && !keyed && traced.layer.matteId !== null && (
        <Box sx={{ color: 'text.secondary' }}>
          Cut by its matte, below. A loop or seam that is drawn takes more away, holds something in, or keeps
          only what it encloses.
        </Box>
      )}
      {traced.outlines.length === 0 && !keyed && traced.layer.matteId === null && (
        <Box sx={{ color: 'text.secondary' }}>
          Go to a frame where the edge is in the picture. Then draw a <b>seam</b> down it, or a <b>loop</b>{' '}
          around an opening: press for corners, press and pull for curves, with Shift held follow the
          picture’s edge; Enter finishes. Then <b>carry</b> it on: Kiv says where it is not sure.
          {tool !== 'people' && <BeginForMe />}
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, mt: 1 }}>
            <Button
              variant={tool === 'seam' ? 'contained' : 'outlined'}
              onClick={() => setView({ tool: 'seam', view: 'plain' })}
            >
              Draw a seam (L)
            </Button>
            <Button
              variant={tool === 'loop' ? 'contained' : 'outlined'}
              onClick={() => setView({ tool: 'loop', view: 'plain' })}
            >
              Draw a loop (O)
            </Button>
            <Button
              variant={tool === 'people' ? 'contained' : 'outlined'}
              onClick={() => void findPeople().then((refusal) => refusal && enqueueSnackbar(refusal))}
              sx={{ gridColumn: '1 / -1' }}
            >
              Find people (Ctrl I)
            </Button>
            <Button
              variant={tool === 'brush' ? 'contained' : 'outlined'}
              onClick={takeBrush}
              sx={{ gridColumn: '1 / -1' }}
            >
              Paint what crosses (Ctrl B)
            </Button>
          </Box>
        </Box>
      )}
      {tool === 'brush' && frame !== null && <SubjectPanel frame={frame} />}
      <Outlines />
      {inHand && shape && frame !== null && (
        <>
          <Box sx={{ fontSize: 13 }}>
            Frame <b>{frame}</b>:{' '}
            {shape.state === 'posed'
              ? `pose, ${shape.origin}${pose?.unsure ? ', not sure' : ''}`
              : shape.state === 'in-between'
                ? 'in-between'
                : `${source < first ? 'before the first' : 'after the last'} pose, ${shape.state === 'full' ? 'all' : 'nothing'} is cut`}
            {points.size > 0 && `; ${points.size} of ${inHand.outline.points.length} points selected`}
            {scope === 'all' && '; changes apply to all poses'}
            {inHand.outline.locked && '; locked'}
          </Box>
          <CarryControls
            poses={inHand.poses}
            unsureHere={pose?.unsure ?? null}
            together={together}
            outline={inHand.outline}
          />
          <PoseControls
            outline={inHand.outline}
            poses={inHand.poses}
            posed={pose !== null}
            onward={inHand.poses.findLast(({ frame }) => frame <= source)?.onward ?? 'linear'}
          />
          <ShapeControls />
        </>
      )}
      <OtherCuts />
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
});
