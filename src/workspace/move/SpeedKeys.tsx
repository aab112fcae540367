'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { LayerRow } from '@/core/document/tables';
import { rampPercentAt } from '@/core/time/ramp';
import { rampBounds } from '@/core/model/time';
import { Betweens } from '../line-up/Betweens';
import { NumberField } from '../fields/NumberField';
import { KeyedRow } from './KeyedRow';
import { changeRamp, changeSpeedHere, noRamp, rampKeys, toggleSpeedKey } from './ramp-commands';

/**
 * A layer's speed by keys, or that of the whole crossing.
 *
 * @param all the layers that it is given to, where it is the whole crossing's; `layer` stands for them.
 */
export function SpeedKeys({ layer, all, frame }: { layer: LayerRow; all: LayerRow[] | null; frame: number }) {
  const apart = all?.some(({ ramp }) => ramp.join() !== layer.ramp.join());
  const keyed = rampKeys(layer).some((key) => key.frame === frame);
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      <KeyedRow name="speed" keyed={keyed} onToggle={toggleSpeedKey}>
        <NumberField
          label={
            all ? 'Speed of all shots' : layer.speed === 100 ? 'Speed' : `Speed, of its ${layer.speed} %`
          }
          value={Math.round(rampPercentAt(layer.ramp, frame) * 10) / 10}
          low={rampBounds[0]}
          high={rampBounds[1]}
          unit="%"
          always
          onChange={changeSpeedHere}
        />
      </KeyedRow>
      {apart && (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          The shots run by ramps of their own: a key here gives all of them the same.
        </Box>
      )}
      {layer.ramp.length > 0 && (
        <>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
            <NumberField
              label="Ramp rounding, frames"
              value={layer.rampRound}
              low={0}
              high={200}
              whole
              onChange={(rampRound) => changeRamp('Round the ramp of', { rampRound })}
            />
            <NumberField
              label="Pinned frame"
              value={layer.rampAt}
              low={0}
              high={100_000}
              whole
              onChange={(rampAt) => changeRamp('Hold a frame of the ramp of', { rampAt })}
            />
          </Box>
          {!all && <Betweens layer={layer} />}
          <Button
            variant="outlined"
            title={all ? 'All run at their own speeds again' : 'The layer runs at its own speed again'}
            onClick={noRamp}
          >
            Remove ramp
          </Button>
        </>
      )}
    </Box>
  );
}
