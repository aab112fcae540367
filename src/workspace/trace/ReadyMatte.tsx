'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Fold } from '@/interface/Fold';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { SwitchField } from '../fields/SwitchField';
import { changeMatte, dropMatte, otherShape } from './ready-matte';
import { useTraced } from '../session/traced';

/** The shot that is the traced layer's matte, as it is; nothing where there is none. */
export function ReadyMatte() {
  const traced = useTraced();
  const shots = useDocument((state) => state.shots);
  const matte = shots.find(({ shot }) => shot.id === traced?.layer.matteId)?.shot;
  if (!traced || !matte) return null;
  const { matteFrom, matteTurned } = traced.layer;
  const shape = otherShape(traced.shot, matte);
  return (
    <Fold heading={`Matte: ${matte.name}`} meant>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1, pt: 0.75 }}>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {matteTurned ? 'Its black' : 'Its white'} is cut; outlines go on from there. Its {matte.frameCount}{' '}
          {matte.frameCount === 1 ? 'frame lies' : 'frames lie'} on {matteFrom} to{' '}
          {matteFrom + matte.frameCount - 1} of the shot; before and after, its first and last stay.
        </Box>
        {shape && <Box sx={{ fontSize: 12, color: 'warning.main' }}>{shape}</Box>}
        <NumberField
          label="Matte starts on shot frame"
          value={matteFrom}
          low={-100_000}
          high={100_000}
          whole
          onChange={(from) => changeMatte('Move the matte in time', { matteFrom: from })}
        />
        <SwitchField
          label="Black instead of white"
          title="Cuts what is black in the matte"
          on={matteTurned}
          onChange={(turned) => changeMatte('Invert the matte', { matteTurned: turned })}
        />
        <Button variant="outlined" color="error" onClick={dropMatte}>
          Remove the matte
        </Button>
      </Box>
    </Fold>
  );
}
