'use client';

import Button from '@mui/material/Button';
import { useRef } from 'react';
import { sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import { bringInPaths } from './paths-in';

/** Lines that were drawn elsewhere, as outlines. */
export function BringInPaths() {
  const input = useRef<HTMLInputElement>(null);
  const { enqueueSnackbar } = useSnackbar();
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".svg,.json,image/svg+xml,application/json"
        aria-label="Paths to bring in"
        hidden
        onChange={({ target }) => {
          const file = target.files?.[0];
          if (file)
            void bringInPaths(file)
              .catch(sentenceOf)
              .then((said) => enqueueSnackbar(said, { autoHideDuration: 8000 }));
          target.value = '';
        }}
      />
      <Button
        title="SVG, or an outline’s JSON: onto this frame, or onto the frames that its groups name"
        onClick={() => input.current?.click()}
      >
        Bring in paths
      </Button>
    </>
  );
}
