'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { type HingeSide, hingeSides } from '@/core/compose/leaves';
import { outlinesOfLayer } from '@/core/document/document';
import type { LayerRow, OutlineRow } from '@/core/document/tables';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { ColourField } from '../fields/ColourField';
import { NumberField } from '../fields/NumberField';
import { setView } from '../view/view-store';
import { ChannelRow } from './ChannelRow';
import { hang, hingeOf, setLeaf, swingOpen } from './leaf-commands';
import { layoutOf } from '@/core/document/plans';

const sideNames: Record<HingeSide, string> = {
  left: 'by its left side',
  right: 'by its right side',
  upper: 'by its upper side',
  lower: 'by its lower side',
};

/** Which of a layer's loops are leaves, and by which side they hang. */
export function Leaves({ layer, frame }: { layer: LayerRow; frame: number }) {
  const document = useDocument((state) => state.document)!;
  const { enqueueSnackbar } = useSnackbar();
  const loops = outlinesOfLayer(document, layer.id).filter(({ kind }) => kind === 'loop');
  const hung = loops.filter(({ hinge }) => hinge !== null);
  return (
    <Fold heading="Leaves that swing" meant={hung.length > 0 || layoutOf(document.crossing.plan).swings}>
      <Box sx={{ display: 'grid', gap: 1, pt: 1 }}>
        {loops.length === 0 && (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
            Trace each leaf with a loop; here it gets its hinge.
          </Box>
        )}
        {loops.map((loop) => (
          <Box key={loop.id} sx={{ display: 'grid', gap: 0.75 }}>
            <TextField
              select
              label={`${loop.name} hangs`}
              value={hingeOf(document, loop) ?? 'none'}
              onChange={({ target }) => {
                const refusal = hang(loop, target.value === 'none' ? null : (target.value as HingeSide));
                if (refusal) enqueueSnackbar(refusal, { variant: 'warning' });
              }}
            >
              <MenuItem value="none">not at all: it is cut</MenuItem>
              {hingeSides.map((side) => (
                <MenuItem key={side} value={side}>
                  {sideNames[side]}
                </MenuItem>
              ))}
            </TextField>
            {loop.hinge !== null && (
              <Button onClick={() => setView({ moverId: loop.id, lane: 'swing', moveKeys: new Set() })}>
                Edit swing keys
              </Button>
            )}
          </Box>
        ))}
        <Button
          variant="outlined"
          disabled={hung.length === 0}
          title="All leaves: shut on this frame, and swung away within 12"
          onClick={() => {
            const refusal = swingOpen(hung, frame);
            if (refusal) enqueueSnackbar(refusal, { variant: 'warning' });
          }}
        >
          Swing open from this frame
        </Button>
      </Box>
    </Fold>
  );
}

/** One leaf's swing, and how it is seen. */
export function LeafSettings({ leaf, frame }: { leaf: OutlineRow; frame: number }) {
  return (
    <>
      <ChannelRow channel="swing" frame={frame} />
      <TextField
        select
        label="Swings"
        value={leaf.inwards ? 'in' : 'out'}
        onChange={({ target }) => setLeaf('Swing of', leaf, { inwards: target.value === 'in' })}
      >
        <MenuItem value="in">away from the camera, behind the wall</MenuItem>
        <MenuItem value="out">towards the camera, before the wall</MenuItem>
      </TextField>
      <NumberField
        label="Camera’s distance, in widths of the picture"
        value={leaf.camera}
        low={0.2}
        high={20}
        onChange={(camera) => setLeaf('Camera of', leaf, { camera })}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 1, alignItems: 'center' }}>
        <NumberField
          label="Thickness"
          value={leaf.thickness}
          low={0}
          high={500}
          unit="px"
          onChange={(thickness) => setLeaf('Thickness of', leaf, { thickness })}
        />
        <ColourField
          label="Colour of its sides"
          value={leaf.thicknessColour}
          disabled={leaf.thickness === 0}
          onChange={(thicknessColour) => setLeaf('Colour of the sides of', leaf, { thicknessColour })}
        />
      </Box>
    </>
  );
}
