'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { type PieceRow } from '@/core/document/tables';
import { mostMade, mixRate } from '@/core/model/limits';
import { makerNames } from '@/core/model/maker-names';
import { NumberField } from '../fields/NumberField';
import { SecondsField } from './SecondsField';
import { changeMaking, nameOf } from './sound-commands';

/** What a made sound is made from. */
export function Making({ piece }: { piece: PieceRow }) {
  return (
    <Box sx={{ display: 'grid', gap: 1.25 }}>
      <TextField
        select
        label="Made"
        value={piece.maker}
        onChange={({ target }) => {
          const maker = target.value as PieceRow['maker'];
          changeMaking('Sound', { maker, name: nameOf(maker) });
        }}
      >
        {makerNames.map((maker) => (
          <MenuItem key={maker} value={maker}>
            {nameOf(maker)}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', columnGap: 0.75, rowGap: 1.5 }}>
        <SecondsField
          label="Length"
          samples={piece.madeLength}
          most={mostMade}
          onChange={(madeLength) =>
            changeMaking('Length', { madeLength: Math.max(mixRate / 100, madeLength) })
          }
        />
        <NumberField
          label="Pitch"
          unit="oct"
          value={piece.height}
          low={-2}
          high={2}
          onChange={(height) => changeMaking('Pitch', { height })}
        />
        <NumberField
          label="Brightness"
          unit="%"
          value={piece.brightness}
          low={0}
          high={100}
          onChange={(brightness) => changeMaking('Brightness', { brightness })}
        />
        {piece.maker === 'air sweep' ? (
          <NumberField
            label="Loudest at"
            unit="%"
            value={piece.loudestAt}
            low={0}
            high={100}
            onChange={(loudestAt) => changeMaking('Loudest moment', { loudestAt })}
          />
        ) : (
          <Box />
        )}
      </Box>
      <Button
        variant="outlined"
        title="The same settings with another random pattern"
        onClick={() => changeMaking('Another sound', { seed: (piece.seed * 7 + 13) % 1_000_000 })}
      >
        New variation
      </Button>
    </Box>
  );
}
