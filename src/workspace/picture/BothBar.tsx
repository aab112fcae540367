'use client';

import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useShallow } from 'zustand/react/shallow';
import { type BothView, bothViews, pairOf, type View } from '@/core/compose/scene';
import { RoleMark } from '@/interface/RoleMark';
import { showBoth } from '../view/show';
import { useDocument } from '../document/document-store';
import { useTraced } from '../session/traced';
import { setView, useView } from '../view/view-store';

const labels: Record<BothView, { label: string; says: string }> = {
  overlay: { label: 'Overlay', says: 'One over the other' },
  difference: { label: 'Difference', says: 'Even grey where both are the same' },
  beside: { label: 'Beside', says: 'Side by side' },
  split: { label: 'Split', says: 'Split by a line' },
};

/** How both shots are seen at once; shown while they are. */
export function BothBar() {
  const { view, share, layerId } = useView(
    useShallow(({ view, share, layerId }) => ({ view, share, layerId })),
  );
  const document = useDocument((state) => state.document)!;
  const traced = useTraced();
  if (!(bothViews as readonly View[]).includes(view)) return null;
  const pair = pairOf(document, traced?.layer.id ?? null, layerId);
  return (
    <Box
      role="toolbar"
      aria-label="Both shots"
      sx={{
        position: 'absolute',
        left: 12,
        top: 12,
        display: 'flex',
        alignItems: 'center',
        gap: 1.25,
        px: 1,
        py: 0.5,
        bgcolor: 'background.paper',
        border: 1,
        borderColor: 'divider',
        borderRadius: 1,
      }}
    >
      <ToggleButtonGroup
        exclusive
        size="small"
        value={view}
        aria-label="Both shots as"
        onChange={(_event, next: BothView | null) => next && showBoth(next)}
      >
        {bothViews.map((each) => (
          <ToggleButton key={each} value={each} title={labels[each].says} sx={{ py: 0.2, px: 1 }}>
            {labels[each].label}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {pair && (view === 'overlay' || view === 'split') && (
        <>
          <RoleMark role={view === 'split' ? pair[0].role : pair[1].role} />
          <Slider
            size="small"
            value={share}
            min={0}
            max={1}
            step={0.01}
            onChange={(_event, value) => setView({ share: value as number })}
            aria-label={view === 'split' ? 'Place of the split line' : 'Strength of the upper shot'}
            sx={{ width: 120 }}
          />
          <RoleMark role={view === 'split' ? pair[1].role : pair[0].role} />
        </>
      )}
    </Box>
  );
}
