'use client';

import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useSnackbar } from 'notistack';
import { useEffect, useState } from 'react';
import { formatRate } from '@/core/time/rate';
import { formatBytes } from '@/footage/refusal';
import { call, sentenceOf } from '@/interface/api';
import { DeleteIcon } from '@/interface/icons';
import { withPosters } from '@/interface/posters';
import { RawPicture } from '@/interface/RawPicture';
import type { ShotMedia } from '@/wire/answers';
import type { ShotListing } from '@/wire/answers';

/** Shots as cards with a picture and their facts; they are named and deleted here. */
export function ShotCards({ shots, onChanged }: { shots: ShotListing[]; onChanged(): void }) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(260px, 1fr))', gap: 2 }}>
      {shots.map((shot) => (
        <ShotCard key={shot.id} shot={shot} onChanged={onChanged} />
      ))}
    </Box>
  );
}

const pictureHeight = 146;

function ShotCard({ shot, onChanged }: { shot: ShotListing; onChanged(): void }) {
  const { enqueueSnackbar } = useSnackbar();
  const [picture, setPicture] = useState<{
    width: number;
    rgba: Uint8ClampedArray<ArrayBuffer> | null;
  } | null>(null);
  const middle = Math.floor(shot.frameCount / 2);
  const refused = (error: unknown) =>
    enqueueSnackbar(sentenceOf(error), { variant: 'error', autoHideDuration: 8000 });
  useEffect(() => {
    let here = true;
    const draw = async () => {
      const media = await call<ShotMedia>(`/api/shots/${shot.id}`);
      return withPosters((service) => service.frame(media, middle, pictureHeight));
    };
    draw().then(
      ({ width, pictures }) => here && setPicture({ width, rgba: pictures[0] }),
      () => here && setPicture(null),
    );
    return () => {
      here = false;
    };
  }, [shot.id, middle]);

  const rename = async (name: string) => {
    try {
      await call(`/api/shots/${shot.id}`, 'PATCH', { name });
      onChanged();
    } catch (error) {
      refused(error);
    }
  };
  const remove = async () => {
    try {
      await call(`/api/shots/${shot.id}`, 'DELETE');
      onChanged();
    } catch (error) {
      refused(error);
    }
  };

  return (
    <Box
      component="article"
      aria-label={shot.name}
      sx={{
        border: 1,
        borderColor: 'divider',
        borderRadius: 1,
        bgcolor: 'background.paper',
        overflow: 'hidden',
      }}
    >
      <RawPicture
        width={picture?.width ?? Math.round((pictureHeight * shot.width) / shot.height)}
        height={pictureHeight}
        rgba={picture?.rgba ?? null}
        label={`Frame ${middle} of ${shot.name}`}
        style={{ width: '100%', aspectRatio: '16 / 9', objectFit: 'contain', backgroundColor: '#222' }}
      />
      <Box sx={{ px: 1.5, py: 1 }}>
        <Box sx={{ display: 'flex', alignItems: 'center' }}>
          <Box
            component="input"
            key={shot.name}
            defaultValue={shot.name}
            aria-label="Name of the shot"
            maxLength={120}
            onBlur={(event: React.FocusEvent<HTMLInputElement>) => {
              const name = event.target.value.trim();
              if (name !== '' && name !== shot.name) void rename(name);
              else event.target.value = shot.name;
            }}
            onKeyDown={(event: React.KeyboardEvent<HTMLInputElement>) =>
              event.key === 'Enter' && event.currentTarget.blur()
            }
            sx={{
              flex: 1,
              minWidth: 0,
              font: 'inherit',
              fontWeight: 700,
              border: 0,
              bgcolor: 'transparent',
              color: 'text.primary',
              p: 0,
            }}
          />
          <Tooltip title="Delete this shot">
            <IconButton size="small" aria-label={`Delete ${shot.name}`} onClick={() => void remove()}>
              <DeleteIcon size={16} />
            </IconButton>
          </Tooltip>
        </Box>
        <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
          {shot.width} × {shot.height}, {formatRate(shot.rate)} fps
          {shot.constantRate ? '' : ' on average, varying'}, {shot.frameCount} frames (
          {shot.duration.toFixed(2)} s)
        </Box>
        <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
          {shot.codec} in {shot.container}, {formatBytes(shot.byteSize)}
          {shot.hasSound ? ', with sound' : ''}
          {shot.rotation ? `, turned ${shot.rotation}°` : ''}
        </Box>
        <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
          {shot.usedIn.length > 0 ? `In ${shot.usedIn.join(', ')}` : 'Not used yet'}
        </Box>
      </Box>
    </Box>
  );
}
