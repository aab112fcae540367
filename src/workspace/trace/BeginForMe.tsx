'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect } from 'react';
import { useSnackbar } from '@/interface/messages';
import { stopMeasuring } from '../line-up/motion-store';
import { isToBegin } from './begin-at-once';
import { beginForMe, notBegun } from './begin-for-me';
import { stopCarrying, useCarry } from './carry-store';
import { useNow } from '../session/use-now';

/** Offers a first outline where there is none yet, made from the movement. */
export function BeginForMe() {
  const cannot = useNow(notBegun);
  const { under } = useCarry();
  const { enqueueSnackbar } = useSnackbar();
  const begin = () =>
    void beginForMe().then((said) => said && enqueueSnackbar(said, { autoHideDuration: 12_000 }));
  useEffect(() => {
    if (isToBegin()) begin();
    // Once, as the step opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  if (cannot) return null;
  if (under)
    return (
      <Box sx={{ display: 'grid', gap: 0.75, mt: 1 }} role="status">
        <Box sx={{ fontSize: 13 }}>{under.what} …</Box>
        <LinearProgress variant="determinate" value={100 * under.share} aria-label={under.what} />
        <Button
          variant="outlined"
          onClick={() => {
            stopMeasuring();
            stopCarrying();
          }}
        >
          Cancel
        </Button>
      </Box>
    );
  return (
    <Button
      variant="contained"
      fullWidth
      sx={{ mt: 1 }}
      title="An outline from what moves in the shot: on the trailing edge, on the leading one, or around what opens (Shift Y)"
      onClick={begin}
    >
      Begin for me
    </Button>
  );
}
