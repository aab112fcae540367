'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import Slider from '@mui/material/Slider';
import { type KeyboardEvent, useEffect, useState } from 'react';
import { edgeRange } from '@/core/checks/belonging';
import type { LayerRow } from '@/core/document/tables';
import { useSnackbar } from '@/interface/messages';
import { mono } from '@/interface/theme';
import { useDocument } from '../document/document-store';
import { layerName } from '../session/layer-name';
import { setView, useView } from '../view/view-store';
import { replaceShot } from './lining-up';
import { OtherShotList } from './OtherShotList';
import { TriedPicture } from './TriedPicture';
import { useFootage } from './useFootage';
import { type SideBySidePictures, useSideBySide } from './useSideBySide';
import { rangeAbout, withTimes } from './times-of-trace';
import { mostTried, type Tried, useTriedShots } from './useTriedShots';

/** Other footage in a layer's place behind the same trace: up to four pictures that play in step, one of which is used. */
export function OtherShotsDialog({
  layer,
  beside,
  onClose,
}: {
  layer: LayerRow;
  /** The layer that stays. */
  beside: LayerRow;
  onClose(): void;
}) {
  const document = useDocument((state) => state.document)!;
  const addShot = useDocument((state) => state.addShot);
  const { enqueueSnackbar } = useSnackbar();
  const { footage, failure, setShot } = useFootage();
  const coverage = useView((state) => state.coverage);
  const [timed] = useState(() => withTimes(document, coverage));
  const [first, last] = rangeAbout(timed);
  const [opens] = edgeRange(timed);
  const pictures = useSideBySide([first, last]);
  const { tries, tick, slip, ...ranked } = useTriedShots(timed, layer, beside, footage);
  const ready = tries.length > 0;
  const { client, play, show } = pictures;
  useEffect(() => {
    if (!ready) return;
    client.show(Math.min(last, Math.max(first, useView.getState().frame)));
    if (!window.matchMedia('(prefers-reduced-motion: reduce)').matches) play(true);
    // Once there is something to be seen.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ready]);

  const use = ({ media, settings }: Tried) => {
    addShot(media);
    const warning = replaceShot(layer, media.shot, settings);
    if (warning) enqueueSnackbar(warning, { variant: 'warning', autoHideDuration: 12_000 });
    if (pictures.frame !== null) setView({ frame: pictures.frame });
    onClose();
  };
  const step = (by: number) => show(Math.min(last, Math.max(first, (pictures.frame ?? first) + by)));
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    const within = (event.target as HTMLElement).closest('input, button, [role="slider"]');
    if (within || event.ctrlKey || event.metaKey || event.altKey) return;
    const keys = {
      ' ': () => play(!pictures.playing),
      ArrowLeft: () => step(-1),
      ArrowRight: () => step(1),
    };
    const act = keys[event.key as keyof typeof keys];
    if (!act) return;
    event.preventDefault();
    act();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      onKeyDown={onKey}
      maxWidth={false}
      aria-labelledby="other-shots"
      slotProps={{ paper: { sx: { m: 1.5, width: 'min(1260px, 100%)', maxHeight: 'calc(100% - 24px)' } } }}
    >
      <DialogTitle id="other-shots" sx={{ pb: 1 }}>
        Try other shots as the {layerName(layer)}
      </DialogTitle>
      <DialogContent
        sx={{ display: 'grid', gridTemplateColumns: '280px minmax(0, 1fr)', gap: 2, alignItems: 'start' }}
      >
        <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 }}>
          <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
            Outlines, edge and moves stay as they are. Tick up to {mostTried} shots to compare.
          </Box>
          {failure && <Alert severity="error">{failure}</Alert>}
          {!footage && !failure && <LinearProgress aria-label="Looking through the footage" />}
          {footage && <OtherShotList {...ranked} footage={footage} onMeasured={setShot} onTick={tick} />}
        </Box>
        <Box
          component="ul"
          aria-label="Side by side"
          data-shown-frame={pictures.shown ?? undefined}
          sx={{
            ...{ m: 0, p: 0, listStyle: 'none', display: 'grid', gap: 1.5 },
            gridTemplateColumns: 'repeat(2, minmax(0, 1fr))',
          }}
        >
          {tries.map((tried, k) => (
            <TriedPicture
              key={tried.media.shot.id}
              {...{ tried, layer, opens, client }}
              own={footage ?? []}
              isNow={k === 0}
              onSlip={(source) => slip(tried.media.shot.id, source)}
              onUse={() => use(tried)}
            />
          ))}
        </Box>
      </DialogContent>
      <PlayBar {...{ pictures, ready, first, last, onClose }} />
    </Dialog>
  );
}

/** Playing, the frame that is shown, and closing. */
function PlayBar({
  pictures: { frame: asked, leftOut, waited, failure, playing, play, show },
  ready,
  first,
  last,
  onClose,
}: {
  pictures: SideBySidePictures;
  ready: boolean;
  first: number;
  last: number;
  onClose(): void;
}) {
  const frame = asked ?? first;
  return (
    <DialogActions sx={{ gap: 1.5, px: 3 }}>
      <Button
        variant="outlined"
        disabled={!ready}
        onClick={() => play(!playing)}
        sx={{ minWidth: 128, flex: 'none' }}
      >
        {playing ? 'Pause (Space)' : 'Play (Space)'}
      </Button>
      <Slider
        aria-label="Crossing frame"
        size="small"
        min={first}
        max={last}
        value={frame}
        onChange={(_, value) => show(value as number)}
        sx={{ flex: 1 }}
      />
      <Box sx={{ font: `14px ${mono}`, minWidth: 76, textAlign: 'right' }}>
        {frame} / {last}
      </Box>
      {playing && (waited || leftOut > 0) && (
        <Box sx={{ fontSize: 13, color: 'text.secondary', whiteSpace: 'nowrap' }}>
          {waited ? 'Reading; slower until then' : `${leftOut} left out`}
        </Box>
      )}
      {failure && (
        <Box role="alert" sx={{ fontSize: 13, color: 'error.main' }}>
          {failure}
        </Box>
      )}
      <Button onClick={onClose} sx={{ flex: 'none' }}>
        Keep the shot as it is
      </Button>
    </DialogActions>
  );
}
