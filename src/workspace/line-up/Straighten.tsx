'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect } from 'react';
import type { LayerRow } from '@/core/document/tables';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { useView } from '../view/view-store';
import {
  beginPlumb,
  endLine,
  endPlumb,
  plumbBack,
  plumbOffer,
  setLens,
  takeLevel,
  takeStraight,
  usePlumb,
} from './plumb';

/** A number with its sign, which tells the way. */
const signed = (value: number, digits: number) =>
  `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(digits)}`;

/** Turns a layer, and undoes its lens, by lines drawn along what should be level, upright or straight. */
export function Straighten({ layer }: { layer: LayerRow }) {
  const plumb = usePlumb();
  const document = useDocument((state) => state.document);
  const shots = useDocument((state) => state.shots);
  const frame = useView((state) => state.frame);
  useEffect(() => endPlumb, []);
  const begun = plumb.layerId === layer.id;
  const offer = begun ? plumbOffer(plumb, document, shots, frame) : null;
  const { lines, open } = plumb;
  const places = lines.reduce((sum, line) => sum + (line.length > 4 ? line.length / 2 : 0), 0);
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: '2fr 3fr', gap: 1, alignItems: 'start' }}>
        <NumberField
          label="Lens"
          value={Math.round(layer.lens * 1e4) / 100}
          low={-70}
          high={50}
          unit="%"
          onChange={(lens) => setLens(layer, lens / 100)}
        />
        <Button
          variant={begun ? 'contained' : 'outlined'}
          title="Draw lines along what should be level, upright or straight"
          onClick={() => (begun ? endPlumb() : beginPlumb(layer))}
          sx={{ height: 37 }}
        >
          {begun ? 'Done' : 'Level, straighten…'}
        </Button>
      </Box>
      {begun && (
        <Box role="group" aria-label="Level and straighten" sx={{ display: 'grid', gap: 1, fontSize: 13 }}>
          <Box>
            {lines.length === 0 && open.length === 0 ? (
              <>
                Press along what should be straight: <b>two places</b> for what should be level or upright,{' '}
                <b>three or more</b> for what the lens bends. Enter, or a press twice, ends a line.
              </>
            ) : (
              <>
                {lines.length} {lines.length === 1 ? 'line' : 'lines'}
                {open.length > 0 && ', one being drawn'}
              </>
            )}
          </Box>
          <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
            <Button variant="outlined" disabled={open.length < 4} onClick={endLine} title="Enter">
              End the line
            </Button>
            <Button
              variant="outlined"
              disabled={lines.length === 0 && open.length === 0}
              onClick={plumbBack}
              title="Backspace"
            >
              Remove last point
            </Button>
          </Box>
          {offer && offer.turn !== null && (
            <Button variant="contained" disabled={Math.abs(offer.turn) < 0.005} onClick={takeLevel}>
              {Math.abs(offer.turn) < 0.005 ? 'Level and upright' : `Turn by ${signed(offer.turn, 2)}°`}
            </Button>
          )}
          {offer?.lens && (
            <>
              <Box>
                Lines bow by {offer.lens.offBefore.toFixed(1)} px; with a lens of{' '}
                {signed(100 * offer.lens.lambda, 1)} % by {offer.lens.off.toFixed(1)} px.
                {places < 5 && ' So few points only give a guess: draw along another edge.'}
              </Box>
              <Button
                variant="contained"
                disabled={Math.abs(offer.lens.lambda - layer.lens) < 5e-5}
                onClick={takeStraight}
              >
                {Math.abs(offer.lens.lambda - layer.lens) < 5e-5 ? 'Straightened' : 'Straighten'}
              </Button>
            </>
          )}
          {offer && !offer.lens && lines.some((line) => line.length >= 6) && (
            <Box>These lines are straight: the lens bends nothing here.</Box>
          )}
        </Box>
      )}
    </Box>
  );
}
