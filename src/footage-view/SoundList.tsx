'use client';

import Box from '@mui/material/Box';
import { mixRate } from '@/core/model/limits';
import { formatBytes } from '@/footage/refusal';
import { call, sentenceOf } from '@/interface/api';
import { DeleteIcon } from '@/interface/icons';
import { useSnackbar } from '@/interface/messages';
import { NameInput } from '@/interface/NameInput';
import { SmallButton } from '@/interface/SmallButton';
import type { SoundListing } from '@/wire/answers';
import { UsedIn } from './UsedIn';

const channelsOf = (count: number) =>
  count === 1 ? 'mono' : count === 2 ? 'stereo' : count === 6 ? '5.1' : `${count} channels`;

/** Seconds since midnight as a time of day, to the hundredth. */
function clockTime(seconds: number): string {
  const two = (value: number) => String(Math.floor(value)).padStart(2, '0');
  return `${two((seconds / 3600) % 24)}:${two((seconds / 60) % 60)}:${(seconds % 60).toFixed(2).padStart(5, '0')}`;
}

/** Sounds that were brought in: heard, named, deleted where no crossing uses them. */
export function SoundList({ sounds, onChanged }: { sounds: readonly SoundListing[]; onChanged(): void }) {
  const { enqueueSnackbar } = useSnackbar();
  const ask = async (id: string, method: 'PATCH' | 'DELETE', body?: unknown) => {
    try {
      await call(`/api/sounds/${id}`, method, body);
    } catch (error) {
      enqueueSnackbar(sentenceOf(error), { variant: 'error', autoHideDuration: 10_000 });
    }
    onChanged();
  };
  if (sounds.length === 0) return null;
  return (
    <Box component="section" aria-label="Sounds" sx={{ display: 'grid', gap: 1 }}>
      <Box component="h2" sx={{ m: 0, fontSize: 18 }}>
        Sounds
      </Box>
      {sounds.map((sound) => (
        <Box
          key={sound.id}
          component="article"
          sx={{
            ...{ display: 'flex', alignItems: 'center', gap: 2, px: 1.5, py: 0.5, border: 1 },
            ...{ borderColor: 'divider', borderRadius: 1, bgcolor: 'background.paper' },
          }}
        >
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <NameInput
              value={sound.name}
              label="Name of the sound"
              onName={(name) => void ask(sound.id, 'PATCH', { name })}
              sx={{ fontWeight: 700 }}
            />
            <Box sx={{ fontSize: 12.5, color: 'text.secondary' }}>
              {(sound.length / mixRate).toFixed(2)} s, {channelsOf(sound.channels)}, {sound.sampleRate / 1000}{' '}
              kHz, {sound.codec} in {sound.container}, {formatBytes(sound.byteSize)}
              {sound.startsAt !== null && `, recorded from ${clockTime(sound.startsAt)}`}.{' '}
              <UsedIn crossings={sound.usedIn} />
            </Box>
          </Box>
          <audio controls preload="none" src={sound.url} aria-label={`Hear ${sound.name}`} />
          <SmallButton label={`Delete ${sound.name}`} onClick={() => void ask(sound.id, 'DELETE')}>
            <DeleteIcon size={16} />
          </SmallButton>
        </Box>
      ))}
    </Box>
  );
}
