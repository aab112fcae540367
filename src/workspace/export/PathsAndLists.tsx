'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import type { PictureOf } from '@/core/formats/export-formats';
import { sentenceOf } from '@/interface/api';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { useDocument } from '../document/document-store';
import { NumberField } from '../fields/NumberField';
import { notSaid, writeOut, writeStill, writings } from './writing-out';

/** This frame as a picture; paths, lists and timelines of the crossing. */
export function PathsAndLists() {
  const { enqueueSnackbar } = useSnackbar();
  const [busy, setBusy] = useState(false);
  const [history, setHistory] = useState(false);
  const [handles, setHandles] = useState(12);
  const document = useDocument((state) => state.document)!;
  const shots = useDocument((state) => state.shots);
  const { id } = document.crossing;
  const still = async (of: PictureOf, to: 'file' | 'clipboard') => {
    setBusy(true);
    try {
      await writeStill(of, to);
      if (to === 'clipboard') enqueueSnackbar('The frame is on the clipboard.', { variant: 'success' });
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box sx={{ borderTop: 1, borderColor: 'divider', pt: 1 }}>
      <Fold heading="This frame as a PNG">
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 0.75, pt: 0.75 }}>
          {(['result', 'cut-out', 'matte'] as const).map((of) => (
            <Button key={of} variant="outlined" disabled={busy} onClick={() => void still(of, 'file')}>
              {of[0].toUpperCase() + of.slice(1)}
            </Button>
          ))}
        </Box>
        <Button disabled={busy} onClick={() => void still('result', 'clipboard')} sx={{ mt: 0.5 }}>
          Copy result to clipboard
        </Button>
      </Fold>
      <Fold heading="Paths, lists and timelines">
        <Box sx={{ display: 'grid', gap: 0.5, pt: 0.75 }}>
          {writings.map(({ name, label, says }) => (
            <Button
              key={name}
              onClick={() => {
                writeOut(name).then(
                  (refusal) => refusal && enqueueSnackbar(refusal, { variant: 'warning' }),
                  (error: unknown) => enqueueSnackbar(sentenceOf(error), { variant: 'error' }),
                );
              }}
              sx={{ justifyContent: 'start', textAlign: 'left', display: 'block', lineHeight: 1.3, py: 0.5 }}
            >
              {label}
              <Box
                component="span"
                sx={{ display: 'block', fontSize: 12, fontWeight: 400, color: 'text.secondary' }}
              >
                {says}
              </Box>
            </Button>
          ))}
          <Box sx={{ fontSize: 12, color: 'text.secondary', px: 1 }}>
            Left out of timelines:
            <Box component="ul" sx={{ m: 0, pl: 2 }}>
              {notSaid(document, shots).map((each) => (
                <li key={each}>{each}</li>
              ))}
            </Box>
          </Box>
        </Box>
      </Fold>
      <Fold heading="Whole crossing as ZIP">
        <Box sx={{ display: 'grid', gap: 0.75, pt: 0.75 }}>
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={history}
                onChange={({ target }) => setHistory(target.checked)}
              />
            }
            label="Include undo history"
            slotProps={{ typography: { sx: { fontSize: 13 } } }}
          />
          <Button variant="outlined" href={`/api/crossings/${id}/parcel${history ? '?history=all' : ''}`}>
            With its footage, ZIP
          </Button>
          <Button
            variant="outlined"
            disabled={history}
            title={
              history
                ? 'The undo history needs all frames'
                : 'Of each shot only what is shown, traced or heard, from a key frame on; nothing is encoded again'
            }
            href={`/api/crossings/${id}/parcel?footage=used&handles=${handles}`}
          >
            Only what is used, ZIP
          </Button>
          <NumberField
            label="Handles"
            value={handles}
            low={0}
            high={100_000}
            unit="frames"
            whole
            onChange={setHandles}
          />
          <Button
            variant="outlined"
            href={`/api/crossings/${id}/parcel?footage=none${history ? '&history=all' : ''}`}
          >
            Without footage, ZIP
          </Button>
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
            Bring it in on the shelf of another Kiv. Footage that is left out is recognised there by its
            content, whatever its name. A shot that is steadied or has uneven frames is packed whole.
          </Box>
        </Box>
      </Fold>
    </Box>
  );
}
