'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useRef, useState } from 'react';
import { mixRate } from '@/core/model/limits';
import { send, sentenceOf } from '@/interface/api';
import { useSnackbar } from '@/interface/messages';
import type { SoundListing } from '@/wire/answers';
import { addSound } from './sound-commands';
import { readSounds, useSound } from '../session/sound-store';

/** Files that hold sound. */
const soundFiles = 'audio/*,video/*,.wav,.aif,.aiff,.flac,.mp3,.m4a,.aac,.opus,.ogg,.oga,.wma,.mka';

/** Brings in a sound file, or one that was brought in before, and puts it at the frame on screen. */
export function BringInSound() {
  const input = useRef<HTMLInputElement>(null);
  const abort = useRef<AbortController | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const sounds = useSound((state) => state.sounds);
  const { enqueueSnackbar } = useSnackbar();
  useEffect(() => () => abort.current?.abort(), []);
  const take = async (files: readonly File[]) => {
    abort.current = new AbortController();
    try {
      for (const file of files) {
        setShare(0);
        const path = `/api/sounds?name=${encodeURIComponent(file.name)}`;
        const onProgress = (bytes: number) => setShare(bytes / Math.max(1, file.size));
        addSound(await send<SoundListing>('POST', path, file, onProgress, abort.current.signal));
      }
    } catch (error) {
      const cancelled = error instanceof DOMException && error.name === 'AbortError';
      if (!cancelled) enqueueSnackbar(sentenceOf(error), { variant: 'error', autoHideDuration: 12_000 });
    } finally {
      setShare(null);
      // The same file may be chosen again.
      if (input.current) input.current.value = '';
      await readSounds().catch(() => {
        // The list is read again with the next sound.
      });
    }
  };
  return (
    <Box sx={{ display: 'flex', gap: 0.75 }}>
      <input
        ref={input}
        type="file"
        accept={soundFiles}
        multiple
        hidden
        aria-label="Sound files"
        onChange={({ target }) => target.files?.[0] && void take([...target.files])}
      />
      {share !== null ? (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, fontSize: 13 }} role="status">
          {share < 1 ? `${Math.floor(share * 100)} %` : 'Reading the file…'}
          <Button variant="outlined" onClick={() => abort.current?.abort()}>
            Cancel
          </Button>
        </Box>
      ) : (
        <>
          <Button
            variant="outlined"
            sx={{ flex: 1 }}
            title="WAV, AIFF, FLAC, MP3, AAC, Opus, Vorbis, or a video’s sound; it is put at the frame on screen"
            onClick={() => input.current?.click()}
          >
            Bring in a sound
          </Button>
          {sounds && sounds.length > 0 && (
            <Button variant="outlined" onClick={({ currentTarget }) => setAnchor(currentTarget)}>
              Already brought in
            </Button>
          )}
        </>
      )}
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <ListSubheader sx={{ lineHeight: 2 }}>Add at this frame</ListSubheader>
        {(sounds ?? []).map((sound) => (
          <MenuItem
            key={sound.id}
            onClick={() => {
              setAnchor(null);
              addSound(sound);
            }}
          >
            {sound.name}
            <Box component="span" sx={{ color: 'text.secondary', pl: 1.5, fontSize: 12 }}>
              {(sound.length / mixRate).toFixed(1)} s
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}
