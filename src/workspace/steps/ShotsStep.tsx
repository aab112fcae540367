'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useSnackbar } from 'notistack';
import { useEffect, useState } from 'react';
import { layersInOrder } from '@/core/document/document';
import { changeRow } from '@/core/document/edit';
import type { LayerRow, Shot } from '@/core/document/rows';
import { call, sentenceOf } from '@/interface/api';
import { RoleMark } from '@/interface/RoleMark';
import { roleName } from '@/interface/theme';
import type { ShotMedia } from '@/wire/answers';
import { useDocument } from '../document-store';
import { NumberField } from './NumberField';

/** Which shots cross, where each begins, and how long the crossing is. */
export function ShotsStep() {
  const { document, shots, edit, addShot } = useDocument();
  const [all, setAll] = useState<Shot[]>([]);
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => {
    call<Shot[]>('/api/shots').then(setAll, (error: unknown) =>
      enqueueSnackbar(sentenceOf(error), { variant: 'error' }),
    );
  }, [enqueueSnackbar]);
  const { crossing } = document!;

  const replace = async (layer: LayerRow, shotId: string) => {
    try {
      addShot(await call<ShotMedia>(`/api/shots/${shotId}`));
      edit(`Take another ${roleName[layer.role].toLowerCase()} shot`, [
        changeRow('layer', layer, { ...layer, shotId }),
      ]);
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    }
  };

  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      {layersInOrder(document!)
        .reverse()
        .map((layer) => {
          const shot = shots.find((media) => media.shot.id === layer.shotId)?.shot;
          const choices = all.length > 0 ? all : shot ? [shot] : [];
          return (
            <Box key={layer.id} sx={{ display: 'grid', gap: 1.25 }}>
              <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontWeight: 600 }}>
                <RoleMark role={layer.role} /> {roleName[layer.role]}
              </Box>
              <TextField
                select
                label="Shot"
                value={layer.shotId}
                onChange={(event) => void replace(layer, event.target.value)}
                fullWidth
              >
                {choices.map((choice) => (
                  <MenuItem key={choice.id} value={choice.id}>
                    {choice.name}
                  </MenuItem>
                ))}
              </TextField>
              <NumberField
                label="Its frame at crossing frame 0"
                value={layer.offset}
                low={-100000}
                high={100000}
                whole
                onChange={(offset) =>
                  edit(`Slip the ${roleName[layer.role].toLowerCase()} shot`, [
                    changeRow('layer', layer, { ...layer, offset }),
                  ])
                }
              />
            </Box>
          );
        })}
      <NumberField
        label="Length of the crossing"
        value={crossing.length}
        low={1}
        high={100000}
        unit="frames"
        whole
        onChange={(length) =>
          edit('Change the length', [changeRow('crossing', crossing, { ...crossing, length })])
        }
      />
    </Box>
  );
}
