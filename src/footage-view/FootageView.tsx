'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { type DragEvent, useRef, useState } from 'react';
import { formatBytes } from '@/footage/refusal';
import { Page } from '@/interface/Page';
import { useAnswer } from '@/interface/useAnswer';
import type { ShotListing } from '@/wire/answers';
import { ShotCards } from './ShotCards';
import { bringIn, cancelUpload, dismissUpload, type Upload, useUploads } from './uploads';

/** Bringing in video files and looking after them. */
export function FootageView({ limit }: { limit: number }) {
  const { answer: shots, load, pending } = useAnswer<ShotListing[]>('/api/shots', 'the footage');
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const uploads = useUploads((state) => state.uploads);
  const take = (files: FileList | null) => {
    if (files && files.length > 0) void bringIn([...files], limit, load);
  };
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files);
  };

  return (
    <Page
      onDragOver={(event: DragEvent) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      <Box sx={{ display: 'grid', gap: 2.5 }}>
        <Box component="h1" sx={{ m: 0, fontSize: 24 }}>
          Footage
        </Box>
        <Box
          sx={{
            border: '2px dashed',
            borderColor: over ? 'primary.main' : 'divider',
            bgcolor: over ? 'action.hover' : 'background.paper',
            borderRadius: 1,
            p: 3,
            display: 'flex',
            alignItems: 'center',
            gap: 2,
          }}
        >
          <Button variant="contained" onClick={() => picker.current?.click()}>
            Choose files
          </Button>
          <Box>
            or drop them here. MP4, MOV, WebM or MKV with H.264, VP8, VP9 or AV1, up to {formatBytes(limit)}{' '}
            each.
            <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
              They are copied into Kiv’s data folder on this machine and go nowhere else.
            </Box>
          </Box>
          <input
            ref={picker}
            type="file"
            accept="video/*,.mkv,.mov,.mp4,.m4v,.webm"
            multiple
            hidden
            aria-label="Video files to bring in"
            onChange={(event) => {
              take(event.target.files);
              event.target.value = '';
            }}
          />
        </Box>
        {uploads.length > 0 && (
          <Box sx={{ display: 'grid', gap: 1 }} aria-label="Files on their way" role="group">
            {uploads.map((each) => (
              <UploadRow key={each.id} upload={each} />
            ))}
          </Box>
        )}
        {pending}
        {shots?.length === 0 && <Box sx={{ color: 'text.secondary' }}>Nothing here yet.</Box>}
        {shots && <ShotCards shots={shots} onChanged={load} />}
      </Box>
    </Page>
  );
}

function UploadRow({ upload: { id, name, share, state, message } }: { upload: Upload }) {
  const moving = state === 'checking' || state === 'sending' || state === 'indexing';
  const words = {
    checking: 'Looking at the file…',
    sending: `${Math.round(share * 100)} %`,
    indexing: 'Finding its frames…',
    done: 'In the footage',
    cancelled: message,
    refused: message,
  }[state];
  return (
    <Alert
      severity={state === 'refused' ? 'error' : state === 'done' ? 'success' : 'info'}
      action={
        moving ? (
          <Button onClick={() => cancelUpload(id)}>Cancel</Button>
        ) : (
          <Button onClick={() => dismissUpload(id)}>Dismiss</Button>
        )
      }
      sx={{ '& .MuiAlert-message': { flex: 1 } }}
    >
      <b>{name}</b>: {words}
      {moving && (
        <LinearProgress
          variant={state === 'sending' ? 'determinate' : 'indeterminate'}
          value={share * 100}
          sx={{ mt: 0.75 }}
          aria-label={`Progress of ${name}`}
        />
      )}
    </Alert>
  );
}
