'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import { send, sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';

/** Takes in a crossing that was made with another Kiv, from its ZIP. */
export function BringIn({ onArrived }: { onArrived(): void }) {
  const input = useRef<HTMLInputElement>(null);
  const abort = useRef<AbortController | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const { enqueueSnackbar } = useSnackbar();
  const take = async (file: File) => {
    abort.current = new AbortController();
    setShare(0);
    try {
      const onProgress = (bytes: number) => setShare(bytes / file.size);
      await send<{ id: string }>('POST', '/api/parcels', file, onProgress, abort.current.signal);
      onArrived();
      enqueueSnackbar('The crossing is on the shelf.', { variant: 'success' });
    } catch (error) {
      const cancelled = error instanceof DOMException && error.name === 'AbortError';
      if (!cancelled) enqueueSnackbar(sentenceOf(error), { variant: 'error', autoHideDuration: 15_000 });
    } finally {
      setShare(null);
      // The same file may be chosen again.
      if (input.current) input.current.value = '';
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        aria-label="ZIP of a crossing"
        hidden
        onChange={({ target }) => target.files?.[0] && void take(target.files[0])}
      />
      {share === null ? (
        <Button
          variant="outlined"
          title="A crossing saved as a ZIP by this Kiv or another one"
          onClick={() => input.current?.click()}
        >
          Bring in a crossing
        </Button>
      ) : (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }} role="status">
          {share < 1 ? `${Math.floor(share * 100)} %` : 'Reading the ZIP…'}
          <Button variant="outlined" onClick={() => abort.current?.abort()}>
            Cancel
          </Button>
        </Box>
      )}
    </>
  );
}
