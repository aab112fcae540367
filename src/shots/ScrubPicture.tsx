'use client';

import Box from '@mui/material/Box';
import { type PointerEvent, useState } from 'react';
import { useSeen } from '@/interface/useSeen';
import { RawPicture } from '@/interface/RawPicture';
import { mono } from '@/interface/theme';
import type { ShotListing } from '@/wire/answers';
import { useShotPicture } from './useShotPicture';

const pictureHeight = 146;
/** Places along the picture that the pointer can stop at. */
const stops = 48;

/**
 * A shot's picture; moving the pointer along it shows the shot from its beginning to its end.
 *
 * @param look a frame to show instead. @param rest the frame that is shown while nobody points; left out: the middle one.
 */
export function ScrubPicture({
  shot,
  look = null,
  rest = null,
}: {
  shot: ShotListing;
  look?: number | null;
  rest?: number | null;
}) {
  const middle = rest ?? Math.floor(shot.frameCount / 2);
  const [pointed, setPointed] = useState<number | null>(null);
  const wanted = look ?? pointed ?? middle;
  const [field, seen] = useSeen<HTMLElement>();
  const shown = useShotPicture(shot.id, wanted, pictureHeight, seen);
  const onMove = (event: PointerEvent<HTMLElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const share = Math.min(1, Math.max(0, (event.clientX - left) / width));
    const last = shot.frameCount - 1;
    setPointed(Math.round((Math.round(share * stops) / stops) * last));
  };
  return (
    <Box
      ref={field}
      onPointerMove={onMove}
      onPointerLeave={() => setPointed(null)}
      sx={{ position: 'relative', cursor: shot.frameCount > 1 ? 'ew-resize' : 'default' }}
    >
      <RawPicture
        width={shown?.width ?? Math.round((pictureHeight * shot.width) / shot.height)}
        height={pictureHeight}
        rgba={shown?.rgba ?? null}
        label={`Frame ${shown?.frame ?? middle} of ${shot.name}`}
        style={{
          width: '100%',
          aspectRatio: '16 / 9',
          objectFit: 'contain',
          backgroundColor: shown ? '#222' : undefined,
        }}
      />
      {wanted !== middle && (
        <>
          <Box
            sx={{ position: 'absolute', bottom: 0, height: 3, left: 0, bgcolor: 'primary.main' }}
            style={{ width: `${(wanted / Math.max(1, shot.frameCount - 1)) * 100}%` }}
          />
          <Box
            sx={{
              position: 'absolute',
              right: 6,
              bottom: 6,
              px: 0.75,
              bgcolor: 'rgba(0,0,0,.7)',
              color: '#fff',
              font: `12px ${mono}`,
            }}
          >
            {shown?.frame ?? wanted}
          </Box>
        </>
      )}
    </Box>
  );
}
