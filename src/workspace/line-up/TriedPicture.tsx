'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { layerSourceFrame } from '@/core/compose/source-frames';
import type { LayerRow } from '@/core/document/tables';
import type { ShotMedia } from '@/wire/answers';
import { NumberField } from '../fields/NumberField';
import { pictureHeight, type SideBySidePictures } from './useSideBySide';
import type { Tried } from './useTriedShots';

/** One of the pictures that play in step, with how its shot lies and what to do with it. */
export function TriedPicture({
  tried: { media, document, says, restsOn },
  layer,
  opens,
  own,
  isNow,
  client,
  onSlip,
  onUse,
}: {
  tried: Tried;
  layer: LayerRow;
  /** Crossing frame at which its slip is said. */
  opens: number;
  /** The shots that the crossing is made of. */
  own: readonly ShotMedia[];
  isNow: boolean;
  client: SideBySidePictures['client'];
  onSlip(source: number): void;
  onUse(): void;
}) {
  const [holder, setHolder] = useState<HTMLElement | null>(null);
  const { shot } = media;
  const row = document.layers[layer.id];
  const source = layerSourceFrame(document, row, shot, opens);
  const used = new Set(Object.values(document.layers).flatMap((each) => [each.shotId, each.matteId]));
  const shots = own.filter((each) => used.has(each.shot.id));
  useEffect(() => {
    if (!holder) return;
    // A canvas can be handed to a worker once.
    const canvas = window.document.createElement('canvas');
    canvas.setAttribute('role', 'img');
    canvas.setAttribute('aria-label', `The crossing with “${shot.name}”`);
    canvas.style.cssText = 'display:block;width:100%;height:100%;object-fit:contain';
    holder.replaceChildren(canvas);
    client.put(shot.id, document, shots, canvas);
    return () => client.drop(shot.id);
    // What it shows may change; its canvas stays.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [holder, client, shot.id]);
  useEffect(() => {
    client.put(shot.id, document, shots);
    // The list of shots is another at each rendering.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [client, shot.id, document]);
  return (
    <Box component="li" sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 0.75 }}>
      <Box ref={setHolder} sx={{ height: pictureHeight, bgcolor: '#808080', display: 'grid' }} />
      <Box sx={{ display: 'flex', alignItems: 'flex-start', gap: 1, minHeight: 48, pt: 0.75 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Box sx={{ fontSize: 13.5, fontWeight: 700, overflowWrap: 'anywhere' }}>{shot.name}</Box>
          <Box sx={{ fontSize: 12.5, color: 'text.secondary' }} title={restsOn ?? undefined}>
            {says}
          </Box>
        </Box>
        {!isNow && shot.frameCount > 1 && (
          <Box sx={{ width: 150, flex: 'none' }}>
            <NumberField
              label={`Shot frame on frame ${opens}`}
              value={source}
              low={0}
              high={shot.frameCount - 1}
              whole
              onChange={onSlip}
            />
          </Box>
        )}
        {!isNow && (
          <Button variant="contained" sx={{ flex: 'none' }} aria-label={`Use ${shot.name}`} onClick={onUse}>
            Use this shot
          </Button>
        )}
      </Box>
    </Box>
  );
}
