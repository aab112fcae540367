'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { PieceRow } from '@/core/document/tables';
import { NumberField } from '../fields/NumberField';
import { BendField } from './BendField';
import { changePiece } from './sound-commands';

/** How a piece sounds while the way is closed, and how it opens. */
export function Behind({ piece }: { piece: PieceRow }) {
  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1 }}>
        <NumberField
          label="Level while closed"
          unit="dB"
          value={piece.closedLevel}
          low={-60}
          high={0}
          onChange={(closedLevel) => changePiece('Level while closed', { closedLevel })}
        />
        <NumberField
          label="Closed, up to"
          unit="Hz"
          value={Math.round(piece.closedLowPass)}
          low={20}
          high={20_000}
          onChange={(closedLowPass) => changePiece('Low-pass while closed', { closedLowPass })}
        />
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1 }}>
        <NumberField
          label="Wall resonance"
          unit="%"
          value={piece.ring}
          low={0}
          high={100}
          onChange={(ring) => changePiece('Wall resonance', { ring })}
        />
        <Button
          variant="outlined"
          disabled={piece.bend.length === 0}
          title="Opens evenly again"
          onClick={() => changePiece('Course', { bend: [] })}
        >
          Straighten the course
        </Button>
      </Box>
      <BendField bend={piece.bend} />
    </Box>
  );
}
