'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import type { TakenAlong } from '@/core/actions/duplicate-layer';
import type { LayerRow } from '@/core/document/tables';
import { Fold } from '@/interface/Fold';
import { duplicate } from './lining-up';

const parts: readonly [part: keyof TakenAlong, name: string, says: string][] = [
  ['time', 'Time', 'Slip, speed, ramp, freeze and trim'],
  ['place', 'Place', 'Fit, place, scale and turn'],
  ['keys', 'Keys', 'Keys of its moves, blur, opacity and colour'],
  ['outlines', 'Outlines', 'Outlines with their poses, the keyed colour and the matte'],
];

/** One more layer of the same shot, with as much of this one as is wanted. */
export function DuplicateLayer({ layer }: { layer: LayerRow }) {
  const [along, setAlong] = useState<TakenAlong>({ time: true, place: true, keys: true, outlines: true });
  return (
    <Fold heading="Duplicate layer">
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr' }}>
        {parts.map(([part, name, says]) => (
          <FormControlLabel
            key={part}
            title={says}
            label={name}
            control={
              <Checkbox
                size="small"
                checked={along[part]}
                onChange={(event) => setAlong({ ...along, [part]: event.target.checked })}
              />
            }
          />
        ))}
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, pb: 0.5 }}>
        <Button variant="outlined" onClick={() => duplicate(layer, true, along)}>
          Duplicate above
        </Button>
        <Button variant="outlined" onClick={() => duplicate(layer, false, along)}>
          Duplicate beneath
        </Button>
      </Box>
    </Fold>
  );
}
