'use client';

import { memo } from 'react';
import { useShallow } from 'zustand/react/shallow';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import { bothViews, views, type View } from '@/core/compose/scene';
import {
  AlongEdgeIcon,
  BoxIcon,
  BrushIcon,
  EditIcon,
  EllipseIcon,
  FlipIcon,
  FoldLeftIcon,
  FoldRightIcon,
  FreehandIcon,
  LoopIcon,
  LoupeIcon,
  OnionIcon,
  PeopleIcon,
  RectangleIcon,
  SeamIcon,
} from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { mono } from '@/interface/theme';
import { flipSide } from '../trace/commands';
import { showBoth, showFullSize, showView } from '../view/show';
import { findPeople } from '../trace/people';
import { takeBrush } from '../trace/painting';
import { useOutline } from '../session/traced';
import { setView, type Tool, useView } from '../view/view-store';

const tools: { tool: Tool; label: string; keys: string; Icon: typeof EditIcon }[] = [
  { tool: 'edit', label: 'Edit points', keys: 'E', Icon: EditIcon },
  { tool: 'box', label: 'Shape with a box: scale, turn, pull corners', keys: 'Shift E', Icon: BoxIcon },
  { tool: 'seam', label: 'Draw a seam', keys: 'L', Icon: SeamIcon },
  { tool: 'loop', label: 'Draw a loop', keys: 'O', Icon: LoopIcon },
  { tool: 'rectangle', label: 'Draw a rectangle', keys: 'Shift R', Icon: RectangleIcon },
  { tool: 'ellipse', label: 'Draw an ellipse', keys: 'Shift O', Icon: EllipseIcon },
  { tool: 'people', label: 'Find people', keys: 'Ctrl I', Icon: PeopleIcon },
  { tool: 'brush', label: 'Paint over a subject', keys: 'Ctrl B', Icon: BrushIcon },
];

const trails = [
  {
    way: 'freehand',
    label: 'Freehand',
    tip: 'Seams and loops along the trail of the pointer (C)',
    Icon: FreehandIcon,
  },
  {
    way: 'edge',
    label: 'Along the edge',
    tip: 'Seams and loops along the picture’s edge, from press to press (C; or hold Shift while drawing)',
    Icon: AlongEdgeIcon,
  },
] as const;

const viewLabels: Record<(typeof views)[number], { label: string; keys: string }> = {
  plain: { label: 'Plain', keys: 'P' },
  cut: { label: 'Cut', keys: 'K' },
  matte: { label: 'Matte', keys: 'M' },
  result: { label: 'Result', keys: 'R' },
  checkerboard: { label: 'Checker', keys: 'B' },
};

/** Tools for drawing on the left, what the picture shows on the right. */
export const ToolRow = memo(function ToolRow() {
  const stepsFolded = useView((state) => state.stepsFolded);
  return (
    <Box
      role="toolbar"
      aria-label="Tools and views"
      sx={{
        display: 'flex',
        alignItems: 'center',
        flexWrap: 'wrap',
        gap: 0.35,
        px: 0.75,
        py: 0.5,
        minHeight: 42,
        flex: 'none',
        borderBottom: 1,
        borderColor: 'divider',
        bgcolor: 'background.paper',
      }}
    >
      <Tooltip title={stepsFolded ? 'Show the steps' : 'Fold the steps away'}>
        <IconButton
          size="small"
          aria-label={stepsFolded ? 'Show the steps' : 'Fold the steps away'}
          onClick={() => setView({ stepsFolded: !stepsFolded })}
        >
          <FoldLeftIcon size={18} />
        </IconButton>
      </Tooltip>
      <DrawingTools />
      <ViewTools />
    </Box>
  );
});

/** What the pointer draws and moves with, and what helps it. */
function DrawingTools() {
  const { tool, drawnBy, onion, loupe } = useView(
    useShallow(({ tool, drawnBy, onion, loupe }) => ({ tool, drawnBy, onion, loupe })),
  );
  const inHand = useOutline();
  const { enqueueSnackbar } = useSnackbar();
  return (
    <>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={tool}
        aria-label="Tool"
        onChange={(_event, next: Tool | null) => {
          if (next === 'brush') takeBrush();
          else if (next === 'people')
            void findPeople().then((refusal) => refusal && enqueueSnackbar(refusal));
          else if (next) setView({ tool: next });
        }}
      >
        {tools.map(({ tool: value, label, keys, Icon }) => (
          <ToggleButton key={value} value={value} aria-label={label} sx={{ py: 0.4, px: 0.45 }}>
            <Tooltip title={`${label} (${keys})`}>
              <span style={{ display: 'flex' }}>
                <Icon size={18} />
              </span>
            </Tooltip>
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {trails.map(({ way, label, tip, Icon }) => (
        <Tooltip key={way} title={tip}>
          <IconButton
            size="small"
            aria-label={label}
            aria-pressed={drawnBy === way}
            color={drawnBy === way ? 'primary' : 'default'}
            onClick={() => setView({ drawnBy: drawnBy === way ? 'points' : way })}
          >
            <Icon size={18} />
          </IconButton>
        </Tooltip>
      ))}
      <Tooltip title="Flip the swept side (F)">
        <span>
          <IconButton
            size="small"
            aria-label="Flip the swept side"
            disabled={inHand?.outline.kind !== 'seam'}
            onClick={flipSide}
          >
            <FlipIcon size={18} />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title="Neighbouring poses show through (G)">
        <IconButton
          size="small"
          aria-label="Onion skin"
          aria-pressed={onion}
          color={onion ? 'primary' : 'default'}
          onClick={() => setView({ onion: !onion })}
        >
          <OnionIcon size={18} />
        </IconButton>
      </Tooltip>
      <Tooltip title="Loupe at the pointer (Shift P)">
        <IconButton
          size="small"
          aria-label="Loupe"
          aria-pressed={loupe}
          color={loupe ? 'primary' : 'default'}
          onClick={() => setView({ loupe: !loupe })}
        >
          <LoupeIcon size={18} />
        </IconButton>
      </Tooltip>
    </>
  );
}

/** How large the picture is, and what it shows. */
function ViewTools() {
  const { view, camera, sheetFolded } = useView(
    useShallow(({ view, camera, sheetFolded }) => ({ view, camera, sheetFolded })),
  );
  const both = (bothViews as readonly View[]).includes(view);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, ml: 'auto' }}>
      <Tooltip title="The whole frame (Z)">
        <Button onClick={() => setView({ camera: null })} sx={{ minWidth: 0, px: 0.5, flex: 'none' }}>
          Fit
        </Button>
      </Tooltip>
      <Tooltip title="One pixel of the crossing to one of the screen (Shift Z)">
        <Button
          onClick={showFullSize}
          aria-label="One pixel to one"
          sx={{ minWidth: 0, px: 0.5, flex: 'none', whiteSpace: 'nowrap', font: `700 12px ${mono}` }}
        >
          {camera ? `${Math.round(camera.scale * 100)} %` : '1:1'}
        </Button>
      </Tooltip>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={both ? 'both' : view}
        aria-label="View"
        onChange={(_event, next: View | 'both' | null) => {
          if (next === 'both') showBoth();
          else if (next) showView(next);
        }}
      >
        {views.map((value) => (
          <ToggleButton key={value} value={value} sx={{ py: 0.3, px: 0.55 }}>
            <Tooltip title={`${viewLabels[value].label} (${viewLabels[value].keys})`}>
              <span>{viewLabels[value].label}</span>
            </Tooltip>
          </ToggleButton>
        ))}
        <ToggleButton value="both" sx={{ py: 0.3, px: 0.55 }}>
          <Tooltip title="Both shots at once (V)">
            <span>Both</span>
          </Tooltip>
        </ToggleButton>
      </ToggleButtonGroup>
      <Tooltip title={sheetFolded ? 'Show the sheet' : 'Fold the sheet away'}>
        <IconButton
          size="small"
          aria-label={sheetFolded ? 'Show the sheet' : 'Fold the sheet away'}
          onClick={() => setView({ sheetFolded: !sheetFolded })}
        >
          <FoldRightIcon size={18} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
