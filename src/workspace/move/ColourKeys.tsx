'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useMemo, useState } from 'react';
import { type Grade, partOf } from '@/core/colour/grade';
import { gradeChannels } from '@/core/model/channels';
import type { LayerRow } from '@/core/document/tables';
import type { keysOf } from '@/core/document/keys';
import { sentenceOf } from '@/interface/api';
import { Fold } from '@/interface/Fold';
import { useSnackbar } from '@/interface/messages';
import { NumberField } from '../fields/NumberField';
import { setView } from '../view/view-store';
import { hasKeys, Rows } from './ChannelRow';
import { matchColours, noColours, showColours, takeColours } from './colour-commands';

/** A layer's colours, and what would make them fit those of the other shot. */
export function ColourKeys({
  layer,
  keys,
  frame,
}: {
  layer: LayerRow;
  keys: ReturnType<typeof keysOf>;
  frame: number;
}) {
  const { enqueueSnackbar } = useSnackbar();
  const [found, setFound] = useState<Grade | null>(null);
  const [share, setShare] = useState(100);
  const [busy, setBusy] = useState(false);
  const offered = useMemo(() => found && partOf(found, share / 100), [found, share]);
  // Shown on every frame that is gone to; what is only offered goes with the panel.
  useEffect(() => {
    if (!offered) return;
    showColours(layer, offered);
    return () => setView({ draft: null });
  }, [layer, offered, frame]);
  const match = async () => {
    setBusy(true);
    try {
      const grade = await matchColours(layer);
      if (typeof grade === 'string') enqueueSnackbar(grade, { variant: 'warning' });
      else setFound(grade);
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error' });
    } finally {
      setBusy(false);
    }
  };
  const keyed = hasKeys(keys, gradeChannels);
  return (
    <Fold heading="Colour, in light" meant={keyed}>
      <Rows channels={gradeChannels} frame={frame} />
      <Box sx={{ display: 'grid', gap: 0.75, pt: 1.5 }}>
        {offered ? (
          <Alert severity="info" icon={false} sx={{ py: 0.5, fontSize: 12 }} role="status">
            <Box sx={{ pb: 1.25 }}>Shown in the picture: {inWords(offered)}.</Box>
            <NumberField label="How far" value={share} low={0} high={100} unit="%" onChange={setShare} />
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75, pt: 1 }}>
              <Button
                variant="contained"
                onClick={() => {
                  takeColours(layer, offered);
                  setFound(null);
                }}
              >
                Take it
              </Button>
              <Button variant="outlined" onClick={() => setFound(null)}>
                Leave it
              </Button>
            </Box>
          </Alert>
        ) : (
          <Button
            variant="outlined"
            loading={busy}
            title="From the statistics of both pictures over the frames that are seen together; shown before it is taken"
            onClick={() => void match()}
          >
            Match to the other shot
          </Button>
        )}
        {keyed && !offered && (
          <Button variant="outlined" onClick={() => noColours(layer)}>
            Back to its own colours
          </Button>
        )}
      </Box>
    </Fold>
  );
}

function inWords({ exposure, contrast, saturation, warmth, tint }: Grade): string {
  const signed = (value: number) => (value > 0 ? `+${value}` : String(value)).replace('-', '−');
  return `exposure ${signed(exposure)} stops, contrast ${contrast} %, saturation ${saturation} %, warmth ${signed(warmth)}, tint ${signed(tint)}`;
}
