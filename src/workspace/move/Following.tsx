'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { followedBy } from '@/core/compose/following';
import { layersInOrder, layerTitle } from '@/core/document/document';
import type { LayerRow } from '@/core/document/tables';
import { Fold } from '@/interface/Fold';
import { roleName } from '@/interface/theme';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { changeLayer } from '../line-up/lining-up';
import { layerName } from '../session/layer-name';

/** The layer whose movement this one goes along with, and how far. */
export function Following({ layer }: { layer: LayerRow }) {
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const others = layersInOrder(document)
    .reverse()
    .filter((other) => other.id !== layer.id && !followedBy(document, other).includes(layer));
  const leader = document.layers[layer.followsId ?? ''];
  const name = layerName(layer);
  if (others.length === 0 && !leader) return null;
  return (
    <Fold heading="Follow another layer" meant={layer.followsId !== null}>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25, pt: 1 }}>
        <TextField
          select
          label="Moves with"
          value={layer.followsId ?? ''}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          onChange={({ target }) => {
            const next = document.layers[target.value];
            changeLayer(
              next ? `The ${name} follows the ${layerName(next)}` : `The ${name} follows nothing`,
              layer,
              { followsId: next?.id ?? null },
            );
          }}
        >
          <MenuItem value="">nothing</MenuItem>
          {others.map((other) => (
            <MenuItem key={other.id} value={other.id}>
              {roleName[other.role]}:{' '}
              {layerTitle(other, shots.find(({ shot }) => shot.id === other.shotId)?.shot)}
            </MenuItem>
          ))}
        </TextField>
        {leader && (
          <NumberField
            label="Share of its movement"
            value={layer.followShare}
            low={0}
            high={100}
            unit="%"
            onChange={(followShare) =>
              changeLayer(`The ${name} follows by ${followShare} %`, layer, { followShare })
            }
          />
        )}
      </Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', pt: 0.5 }}>
        It moves with that layer’s keys of place, size and turn; its own keys are added to them.
      </Box>
    </Fold>
  );
}
