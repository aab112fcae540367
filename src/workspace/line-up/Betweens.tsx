'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { LayerRow } from '@/core/document/tables';
import type { Betweens as Way } from '@/core/model/choices';
import { changeLayer } from './lining-up';
import { layerName } from '../session/layer-name';

/** What a layer shows where the crossing's frames lie between two of its own. */
export function Betweens({ layer }: { layer: LayerRow }) {
  return (
    <TextField
      select
      fullWidth
      label="Between two frames"
      value={layer.betweens}
      onChange={({ target }) =>
        changeLayer(
          target.value === 'mixed'
            ? `Mix the frames of the ${layerName(layer)}`
            : `Nearest frames of the ${layerName(layer)}`,
          layer,
          { betweens: target.value as Way },
        )
      }
    >
      <MenuItem value="nearest">Nearest frame</MenuItem>
      <MenuItem value="mixed">A mix of both</MenuItem>
    </TextField>
  );
}
