'use client';

import { markedFrame } from '@/core/document/document';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useSnackbar } from '@/interface/messages';
import { proposeEdge } from '@/core/checks/proposal';
import { useDocument } from '../document/document-store';
import { acceptProposal, measureShots, stopMeasuring, useMotion } from './motion-store';
import { goTo } from '../session/go-to';
import { useTraced } from '../session/traced';

/** Opening and closing frames as the picture's movement proposes them. */
export function Proposal() {
  const traced = useTraced();
  const { measuring, failure } = useMotion();
  const shots = useDocument((state) => state.shots);
  const { enqueueSnackbar } = useSnackbar();
  if (!traced) return null;
  const say = (refusal: string | null) => refusal && enqueueSnackbar(refusal);
  const { layers } = traced.document;
  const missing = [traced.layer, ...Object.values(layers)]
    .map((layer) => shots.find(({ shot }) => shot.id === layer.shotId)!.shot)
    .filter((shot) => shot.motion === null && shot.frameCount > 1)
    .map((shot) => shot.id);
  if (measuring) {
    const name = shots.find(({ shot }) => shot.id === measuring.shotId)?.shot.name;
    return (
      <Box sx={{ display: 'grid', gap: 0.5, fontSize: 13 }}>
        Measuring how “{name}” moves…
        <LinearProgress variant="determinate" value={measuring.share * 100} aria-label="Measuring" />
        <Button onClick={stopMeasuring} sx={{ justifySelf: 'start' }}>
          Stop
        </Button>
      </Box>
    );
  }
  const proposal = proposeEdge(traced.document, traced.layer, traced.shot);
  const [opens, closes] = [markedFrame(traced.document, 'opens'), markedFrame(traced.document, 'closes')];
  const taken = proposal && opens === proposal.opens && closes === proposal.closes;
  // What is marked already was decided by somebody, or told by a traced line: nothing is pressed on them.
  const marked = opens !== undefined && closes !== undefined;
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.75 }}>
      {failure && <Alert severity="error">{failure}</Alert>}
      {missing.length > 0 && (
        <>
          {!proposal && (
            <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
              Kiv can look for the frames between which the edge moves, and see whether the shots move alike.
            </Box>
          )}
          <Button variant="contained" onClick={() => void measureShots([...new Set(missing)])}>
            Measure the movement
          </Button>
        </>
      )}
      {proposal && !taken && (
        <Box
          sx={{
            ...{ border: marked ? 0 : 1, borderColor: 'primary.main', borderRadius: 1, p: marked ? 0 : 1 },
            ...{ display: 'grid', gap: 0.5 },
          }}
        >
          <Box sx={{ fontSize: 13 }}>
            {marked ? 'From movement alone' : 'Proposed'}: opens at <Frame frame={proposal.opens} />, closes
            at <Frame frame={proposal.closes} />
          </Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{proposal.basis}</Box>
          <Button
            variant={marked ? 'text' : 'contained'}
            onClick={() => say(acceptProposal())}
            sx={{ justifySelf: marked ? 'start' : 'stretch', px: 1 }}
          >
            {marked ? 'Use these instead (Y)' : 'Accept (Y)'}
          </Button>
        </Box>
      )}
      {traced.shot.motion && !proposal && (
        <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
          Nothing that crosses the traced shot was found; mark the frames by hand.
        </Box>
      )}
    </Box>
  );
}

function Frame({ frame }: { frame: number }) {
  return (
    <Button sx={{ minWidth: 0, p: '0 4px', fontSize: 13 }} onClick={() => goTo(frame)}>
      {frame}
    </Button>
  );
}
