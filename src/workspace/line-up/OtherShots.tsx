'use client';

import Button from '@mui/material/Button';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { pairOf } from '@/core/compose/scene';
import type { LayerRow } from '@/core/document/tables';
import { useDocument } from '../document/document-store';
import { setView } from '../view/view-store';

const OtherShotsDialog = dynamic(() => import('./OtherShotsDialog').then((all) => all.OtherShotsDialog), {
  ssr: false,
});

/** Opens other footage in a layer's place, side by side; nothing where no other shot is beside it. */
export function OtherShots({ layer }: { layer: LayerRow }) {
  const document = useDocument((state) => state.document)!;
  const [open, setOpen] = useState(false);
  const beside = pairOf(document, null, layer.id)?.find(({ id }) => id !== layer.id);
  if (!beside) return null;
  return (
    <>
      <Button
        variant="outlined"
        fullWidth
        onClick={() => {
          setView({ playing: false });
          setOpen(true);
        }}
      >
        Try other shots…
      </Button>
      {open && <OtherShotsDialog layer={layer} beside={beside} onClose={() => setOpen(false)} />}
    </>
  );
}
