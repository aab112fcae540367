'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { LayerRow } from '@/core/document/rows';
import { rampBounds, rampPercentAt } from '@/core/time/ramp';
import { Betweens } from '../line-up/Betweens';
import { NumberField } from '../fields/NumberField';
import { KeyedRow } from './KeyedRow';
import { changeRamp, changeSpeedHere, noRamp, rampKeys, toggleSpeedKey } from './ramp-commands';

/** A layer's speed by keys. */
export function SpeedKeys({ layer, frame }: { layer: LayerRow; frame: number }) {
  const keyed = rampKeys(layer).some((key) => key.frame === frame);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <KeyedRow name="speed" keyed={keyed} onToggle={toggleSpeedKey}>
        <NumberField
          label={layer.speed === 100 ? 'Speed' : `Speed, of its ${layer.speed} %`}
          value={Math.round(rampPercentAt(layer.ramp, frame) * 10) / 10}
          low={rampBounds[0]}
          high={rampBounds[1]}
          unit="%"
          onChange={changeSpeedHere}
        />
      </KeyedRow>
      {layer.ramp.length > 0 && (
        <>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
            <NumberField
              label="Corners, frames"
              value={layer.rampRound}
              low={0}
              high={200}
              whole
              onChange={(rampRound) => changeRamp('Round the ramp of', { rampRound })}
            />
            <NumberField
              label="Stays on frame"
              value={layer.rampAt}
              low={0}
              high={100_000}
              whole
              onChange={(rampAt) => changeRamp('Hold a frame of the ramp of', { rampAt })}
            />
          </Box>
          <Betweens layer={layer} />
          <Button variant="outlined" title="The layer runs at its own speed again" onClick={noRamp}>
            Take the ramp off
          </Button>
        </>
      )}
    </Box>
  );
}
