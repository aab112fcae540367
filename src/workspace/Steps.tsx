'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { memo, type ReactNode } from 'react';
import { crossingProgress, type StepProgress } from '@/core/checks/trace-progress';
import { verdictOf } from '@/core/checks/verdict';
import type { CrossingDocument, PieceRow } from '@/core/document/tables';
import { edgeAt } from '@/core/outline';
import { useShallow } from 'zustand/react/shallow';
import { DraftIcon, OpenMarkIcon, TickIcon } from '@/interface/icons';
import { useChecks } from './check/checks-store';
import { useDocument } from './document/document-store';
import { useExport } from './export/export-store';
import { CheckStep } from './check/CheckStep';
import { DraftStep } from './draft/DraftStep';
import { EdgeStep } from './edge/EdgeStep';
import { ExportStep } from './export/ExportStep';
import { MoveStep } from './move/MoveStep';
import { SoundStep } from './sound/SoundStep';
import { LineUpStep } from './line-up/LineUpStep';
import { ShotsStep } from './line-up/ShotsStep';
import { TraceStep } from './trace/TraceStep';
import { useOutline, useTraced } from './session/traced';
import { setView, type StepName, useView } from './view/view-store';

/** Width of the rail, px. */
const railWidth = 58;

/** The steps in the order people work, as a rail that is always whole, and the open one's panel beside it. */
export const Steps = memo(function Steps() {
  const open = useView((state) => state.step);
  const progress = useProgress();
  const panels: Record<StepName, ReactNode> = {
    Draft: <DraftStep />,
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
    <Box component="nav" aria-label="Steps" sx={{ height: '100%', display: 'flex' }}>
      <Box
        sx={{
          ...{ width: railWidth, flex: 'none', overflowY: 'auto', scrollbarWidth: 'none' },
          ...{ borderRight: 1, borderColor: 'divider' },
        }}
      >
        {(Object.keys(panels) as StepName[]).map((name, number) => (
          <RailButton key={name} {...{ name, number, isOpen: open === name }} of={progress[name]} />
        ))}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
        {open && (
          <>
            <PanelHead name={open} note={progress[open].note} />
            <Box
              key={open}
              id="step-panel"
              sx={{
                flex: 1,
                minHeight: 0,
                overflowX: 'hidden',
                overflowY: 'auto',
                scrollbarWidth: 'thin',
                px: 1.25,
                pb: 2,
                pt: 1.5,
                // Two side by side have to find room.
                '& .MuiButton-root': { minWidth: 0, px: 0.75 },
              }}
            >
              {panels[open]}
            </Box>
          </>
        )}
      </Box>
    </Box>
  );
});

/** One step in the rail: its number, its name, and whether it holds; the draft goes before them all, without a number. */
function RailButton({
  name,
  number,
  isOpen,
  of: { holds, note, count = 0 },
}: {
  name: StepName;
  number: number;
  isOpen: boolean;
  of: RailProgress;
}) {
  return (
    <ButtonBase
      aria-expanded={isOpen}
      aria-controls="step-panel"
      aria-label={`${number > 0 ? `${number} ` : ''}${name}: ${note}`}
      title={note}
      onClick={() => setView({ step: name })}
      sx={{
        ...{
          width: '100%',
          minHeight: 54,
          py: 0.5,
          px: 0,
          display: 'grid',
          justifyItems: 'center',
          gap: 0.25,
        },
        ...{ fontFamily: 'inherit', borderBottom: 1, borderColor: 'divider' },
        bgcolor: isOpen ? 'action.selected' : undefined,
        boxShadow: (theme) => (isOpen ? `inset 3px 0 0 ${theme.palette.primary.main}` : 'none'),
        '&:hover': { bgcolor: isOpen ? 'action.selected' : 'action.hover' },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.25, height: 20 }}>
        {number > 0 ? <Box sx={{ fontWeight: 700, fontSize: 15 }}>{number}</Box> : <DraftIcon size={18} />}
        <Box
          sx={{
            color: holds ? 'primary.main' : count > 0 ? 'text.primary' : 'text.secondary',
            display: 'flex',
            fontSize: 12,
          }}
          role="img"
          aria-label={holds ? 'Holds' : count > 0 ? `${count} findings` : 'Open'}
        >
          {holds ? <TickIcon size={15} /> : count > 0 ? `(${count})` : <OpenMarkIcon size={15} />}
        </Box>
      </Box>
      <Box sx={{ fontSize: 12, lineHeight: 1.1, fontWeight: isOpen ? 700 : 400 }}>{name}</Box>
    </ButtonBase>
  );
}

/** What the panel is about; it stays while the rest scrolls. */
function PanelHead({ name, note }: { name: StepName; note: string }) {
  const traced = useTraced();
  const outline = useOutline()?.outline;
  const about = name === 'Trace' || name === 'Edge' ? [traced?.shot.name, outline?.name] : [];
  return (
    <Box sx={{ px: 1.25, py: 0.75, minHeight: 44, borderBottom: 1, borderColor: 'divider' }}>
      <Box component="h2" sx={{ m: 0, fontWeight: 700, fontSize: 15, lineHeight: 1.25 }}>
        {name}
      </Box>
      {about.length > 0 && (
        <Box
          sx={{
            fontSize: 12,
            lineHeight: 1.3,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
        >
          {about.filter((part) => part).join(' · ')}
        </Box>
      )}
      <Box sx={{ fontSize: 12, lineHeight: 1.3, color: 'text.secondary' }}>{note}</Box>
    </Box>
  );
}

/** How a step stands, and how many things are left to look at in it. */
interface RailProgress extends StepProgress {
  count?: number;
}

function useProgress(): Record<StepName, RailProgress> {
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
  const outline = inHand?.outline;
  const edge = outline && edgeAt(outline, document!.edges[outline.id] ?? [], inHand.poses[0]?.frame ?? 0);
  const softness = edge ? edge.featherInside + edge.featherOutside : 0;
  return {
    Draft: draftProgress(document!),
    Shots: shotsProgress(layers.length, shots.length, crossing.length),
    'Line up': lineUpProgress(document!),
    Trace: crossingProgress(document!, (id) => shots.find(({ shot }) => shot.id === id)?.shot, coverage),
    Edge: outline
      ? {
          holds: softness > 0 || outline.shutter > 0,
          note:
            softness > 0 || outline.shutter > 0
              ? [
                  ...(softness > 0 ? [`Feather ${Math.round(softness * 10) / 10} px`] : []),
                  ...(outline.shutter > 0 ? [`blur ${outline.shutter}°`] : []),
                ].join(', ')
              : 'Hard edge: soften it a little',
        }
      : { holds: false, note: 'No outline yet' },
    Move: moveProgress(
      Object.keys(document!.moves).length + layers.reduce((sum, { ramp }) => sum + ramp.length / 2, 0),
    ),
    Sound: soundProgress(Object.values(document!.pieces)),
    Check: { ...verdictOf(document!, checked), count: checked.found },
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

function draftProgress({ decisions }: CrossingDocument): StepProgress {
  const all = Object.values(decisions);
  if (all.length === 0) return { holds: false, note: 'Let Kiv make a first version' };
  const open = all.filter(({ sure }) => sure === 'open').length;
  const made = all.length - open;
  return {
    holds: open === 0,
    note: `${made} decided${open > 0 ? `, ${open} open` : ''}`,
  };
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
