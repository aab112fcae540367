'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Collapse from '@mui/material/Collapse';
import { memo, type ReactNode } from 'react';
import { layoutOf } from '@/core/document/plans';
import { type StepProgress, traceProgress } from '@/core/checks/trace-progress';
import { verdictOf } from '@/core/checks/verdict';
import type { CrossingDocument, PieceRow } from '@/core/document/tables';
import { edgeAt } from '@/core/outline';
import { useShallow } from 'zustand/react/shallow';
import { OpenMarkIcon, TickIcon } from '@/interface/icons';
import { useChecks } from './check/checks-store';
import { useDocument } from './document/document-store';
import { useExport } from './export/export-store';
import { CheckStep } from './check/CheckStep';
import { EdgeStep } from './edge/EdgeStep';
import { ExportStep } from './export/ExportStep';
import { MoveStep } from './move/MoveStep';
import { SoundStep } from './sound/SoundStep';
import { LineUpStep } from './line-up/LineUpStep';
import { ShotsStep } from './line-up/ShotsStep';
import { TraceStep } from './trace/TraceStep';
import { crossingFrameIn, useOutline, useTraced } from './session/traced';
import { setView, type StepName, useView } from './view/view-store';

/** ms that a step takes to open. */
const openingTime = 120;

/** The steps in the order people work; each opens in place and shows whether it holds. */
export const Steps = memo(function Steps() {
  const open = useView((state) => state.step);
  const progress = useProgress();
  const panels: Record<StepName, ReactNode> = {
    Shots: <ShotsStep />,
    'Line up': <LineUpStep />,
    Trace: <TraceStep progress={progress.Trace} />,
    Edge: <EdgeStep />,
    Move: <MoveStep />,
    Sound: <SoundStep />,
    Check: <CheckStep />,
    Export: <ExportStep />,
  };
  return (
    <Box
      component="nav"
      aria-label="Steps"
      sx={{ height: '100%', overflowY: 'auto', scrollbarWidth: 'thin' }}
    >
      {(Object.keys(panels) as StepName[]).map((name, number) => {
        const { holds, note } = progress[name];
        return (
          <Box key={name} component="section" sx={{ borderBottom: 1, borderColor: 'divider' }}>
            <ButtonBase
              aria-expanded={open === name}
              onClick={({ currentTarget }) => {
                setView({ step: name });
                // Once it has opened, its head is where the eye is.
                setTimeout(() => currentTarget.scrollIntoView({ block: 'nearest' }), openingTime + 40);
              }}
              sx={{
                width: '100%',
                justifyContent: 'flex-start',
                gap: 1.25,
                px: 1.5,
                minHeight: 40,
                py: 0.5,
                textAlign: 'left',
                fontFamily: 'inherit',
                '&:hover': { bgcolor: 'action.hover' },
              }}
            >
              <Box
                sx={{ width: 20, color: holds ? 'primary.main' : 'text.secondary', display: 'flex' }}
                role="img"
                aria-label={holds ? 'Holds' : 'Open'}
              >
                {holds ? <TickIcon size={18} /> : <OpenMarkIcon size={18} />}
              </Box>
              <Box
                sx={{
                  minWidth: 0,
                  flex: 1,
                  display: open === name ? 'block' : 'flex',
                  alignItems: 'baseline',
                  columnGap: 1,
                }}
              >
                <Box sx={{ fontWeight: 700, fontSize: 15, whiteSpace: 'nowrap' }}>
                  {number + 1} {name}
                </Box>
                <Box
                  title={note}
                  sx={{
                    fontSize: 12,
                    color: 'text.secondary',
                    ...(open === name
                      ? {}
                      : { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }),
                  }}
                >
                  {note}
                </Box>
              </Box>
            </ButtonBase>
            <Collapse in={open === name} unmountOnExit timeout={openingTime}>
              <Box sx={{ px: 1.5, pb: 2, pt: 0.5 }}>{panels[name]}</Box>
            </Collapse>
          </Box>
        );
      })}
    </Box>
  );
});

function useProgress(): Record<StepName, StepProgress> {
  const traced = useTraced();
  const inHand = useOutline();
  const document = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  const coverage = useView((state) => state.coverage);
  const job = useExport();
  const checked = useChecks(
    useShallow(({ findings, share, unjudged }) => ({
      found: findings.length,
      looked: share === 1,
      tooBroken: unjudged,
    })),
  );
  const layers = Object.values(document!.layers);
  const crossing = document!.crossing;
  const layout = layoutOf(crossing.plan);
  // Coverage is that of the outline that cuts the traced shot itself; in a bridge another cuts the outgoing one.
  const cutting = traced?.outlines.find(
    ({ cutsLayerId }) => (cutsLayerId ?? traced.layer.id) === traced.layer.id,
  );
  const poses = cutting ? (document!.poses[cutting.id] ?? []) : [];
  const last = poses[poses.length - 1];
  const lastPosed = traced && last ? crossingFrameIn(traced, last.frame) : null;
  const outline = inHand?.outline;
  const edge = outline && edgeAt(outline, document!.edges[outline.id] ?? [], inHand.poses[0]?.frame ?? 0);
  const softness = edge ? edge.featherInside + edge.featherOutside : 0;
  return {
    Shots: shotsProgress(layers.length, shots.length, crossing.length),
    'Line up': lineUpProgress(document!),
    Trace:
      layout.cutsBy === 'colour'
        ? keyProgress(traced !== null && document!.chromas[traced.layer.id] !== undefined)
        : traced?.layer.matteId && poses.length === 0
          ? { holds: true, note: 'Cut by a matte' }
          : traceProgress(poses, coverage, lastPosed, layout.until),
    Edge: outline
      ? {
          holds: softness > 0,
          note:
            softness > 0
              ? `Feather ${Math.round(softness * 10) / 10} px${outline.shutter > 0 ? `, blur ${outline.shutter}°` : ''}`
              : 'Hard edge: soften it a little',
        }
      : { holds: false, note: 'No outline yet' },
    Move: moveProgress(
      Object.keys(document!.moves).length + layers.reduce((sum, { ramp }) => sum + ramp.length / 2, 0),
    ),
    Sound: soundProgress(Object.values(document!.pieces)),
    Check: verdictOf(document!, checked),
    Export:
      job.state === 'done'
        ? { holds: true, note: 'Exported' }
        : {
            holds: false,
            note:
              job.state === 'writing' ? `Frame ${job.written} of ${job.of}` : 'Not exported in this visit',
          },
  };
}

function keyProgress(holds: boolean): StepProgress {
  return { holds, note: holds ? 'The board’s colour is keyed' : 'Pick the colour of the board' };
}

function moveProgress(keys: number): StepProgress {
  // Nothing has to move: what is wrong with a move is a finding.
  return { holds: true, note: keys === 0 ? 'Nothing moves' : `${keys} ${keys === 1 ? 'key' : 'keys'}` };
}

function soundProgress(pieces: readonly PieceRow[]): StepProgress {
  // A crossing may be silent: what is wrong with sound is a finding.
  const heard = pieces.filter(({ muted }) => !muted).length;
  const note = pieces.length === 0 ? 'Silent' : `${heard} ${heard === 1 ? 'piece' : 'pieces'}`;
  return { holds: true, note };
}

function shotsProgress(layers: number, shots: number, length: number): StepProgress {
  const holds = layers > 1 && shots > 0;
  return { holds, note: `${layers} shots, ${length} frames` };
}

function lineUpProgress(document: CrossingDocument): StepProgress {
  const kinds = new Set(Object.values(document.marks).map(({ kind }) => kind));
  const holds = kinds.has('opens') && kinds.has('closes');
  if (holds) return { holds, note: 'Opening and closing marked' };
  return { holds, note: kinds.has('opens') ? 'Mark the closing frame' : 'Find the opening frame' };
}
