'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useShallow } from 'zustand/react/shallow';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { align, convertPoints, measuresNow, putAt, scaleAndTurn } from './outline-commands';
import { type Scope, setView, useView } from '../view/view-store';
import { NumberField } from '../fields/NumberField';
import { useNow } from '../session/use-now';

const rounded = (value: number) => Math.round(value * 100) / 100;

/** How points are lined up, with their buttons' words. */
const alignments = { level: 'Align level', upright: 'Align upright', 'in line': 'Align on a line' } as const;

/** Moving, scaling, turning and converting what is selected, by number; and what a change of shape goes for. */
export function ShapeControls() {
  const { scope, range, soft, points } = useView(
    useShallow(({ scope, range, soft, points }) => ({ scope, range, soft, points })),
  );
  const { enqueueSnackbar } = useSnackbar();
  const measures = useNow(measuresNow);
  const say = (refusal: string | null) => refusal && enqueueSnackbar(refusal);
  if (!measures) return null;
  const what = points.size === 0 ? 'outline' : points.size === 1 ? 'point' : `${points.size} points`;
  return (
    <Fold heading={`Shape in numbers: ${what}`}>
      <Box sx={{ display: 'grid', gap: 1, pt: 0.75 }}>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
          <NumberField
            label="Middle, x"
            value={rounded(measures.x)}
            low={-100_000}
            high={100_000}
            unit="px"
            onChange={(x) => putAt(x, measures.y)}
          />
          <NumberField
            label="Middle, y"
            value={rounded(measures.y)}
            low={-100_000}
            high={100_000}
            unit="px"
            onChange={(y) => putAt(measures.x, y)}
          />
          <NumberField
            label="Scale by"
            value={100}
            low={1}
            high={1000}
            unit="%"
            onChange={(scale) => scaleAndTurn(scale, 0)}
          />
          <NumberField
            label="Turn by"
            value={0}
            low={-360}
            high={360}
            unit="°"
            onChange={(turn) => scaleAndTurn(100, turn)}
          />
          <Button variant="outlined" onClick={() => convertPoints('corner')}>
            To corners
          </Button>
          <Button variant="outlined" onClick={() => convertPoints('smooth')}>
            To curves
          </Button>
        </Box>
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 0.75 }}>
          {(Object.keys(alignments) as (keyof typeof alignments)[]).map((how) => (
            <Button key={how} variant="outlined" disabled={points.size < 2} onClick={() => say(align(how))}>
              {alignments[how]}
            </Button>
          ))}
        </Box>
        <NumberField
          label="Pull neighbours within"
          value={soft}
          low={0}
          high={2000}
          unit="px"
          onChange={(reach) => setView({ soft: reach })}
        />
        <Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>Shape changes apply to</Box>
          <ToggleButtonGroup
            exclusive
            fullWidth
            size="small"
            value={scope}
            aria-label="Shape changes apply to"
            onChange={(_event, next: Scope | null) => next && setView({ scope: next })}
          >
            <ToggleButton value="this">This frame</ToggleButton>
            <ToggleButton value="selected" disabled={!range}>
              Selected
            </ToggleButton>
            <ToggleButton value="all">All poses</ToggleButton>
          </ToggleButtonGroup>
        </Box>
      </Box>
    </Fold>
  );
}
